"""Which findings are new since a baseline: a hull file, an assessment document, or a SARIF file of an earlier run."""

import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec

from hullsound.assess.model import Finding
from hullsound.catalog.judgements import read_assessments
from hullsound.errors import SourceError
from hullsound.report.document import Document
from hullsound.report.fingerprints import FINGERPRINT, fingerprints

_SQLITE_HEAD = b"SQLite format 3\0"


def read_baseline(path: Path, target: str) -> frozenset[str]:
    """Return the fingerprints of the findings of an earlier run; of a hull file those of its last assessment for the target.

    Raises SourceError for a file that is none of these, or holds no assessment for the target.
    """
    try:
        content = path.read_bytes()
    except OSError as error:
        raise SourceError(f"cannot read the baseline: {error.strerror}", where=str(path)) from error
    if content.startswith(_SQLITE_HEAD):
        return _of_hull(path, target)
    try:
        document = json.loads(content)
    except ValueError:
        document = None
    if isinstance(document, dict) and "runs" in document:
        return _of_sarif(document, path)
    try:
        return frozenset(fingerprints(msgspec.json.decode(content, type=Document).findings))
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise SourceError(
            f"not a baseline: {error}", where=str(path), hint="Give a hull file, an assessment (JSON) or a SARIF file."
        ) from error


def new_findings(findings: Sequence[Finding], baseline: frozenset[str]) -> list[Finding]:
    """Return the findings that the baseline does not hold."""
    return [each for each, mark in zip(findings, fingerprints(findings), strict=True) if mark not in baseline]


def _of_hull(path: Path, target: str) -> frozenset[str]:
    kept = [document for _, _, document in read_assessments(path, target)]
    if not kept:
        raise SourceError(
            f"holds no assessment against {target}",
            where=str(path),
            hint=f"Make one: hullsound assess {path} --to {target}",
        )
    return frozenset(fingerprints(msgspec.json.decode(kept[-1], type=Document).findings))


def _of_sarif(log: dict[str, Any], path: Path) -> frozenset[str]:
    found = set()
    try:
        for run in log["runs"]:
            for result in run.get("results", []):
                found.add(result["partialFingerprints"][FINGERPRINT])
    except (KeyError, TypeError, AttributeError) as error:
        raise SourceError(
            "a SARIF file without the fingerprints of Hull Sound", where=str(path), hint="Give one that report wrote."
        ) from error
    return frozenset(found)
