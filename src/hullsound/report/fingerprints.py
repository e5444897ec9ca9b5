"""What a finding is known by when its lines move: construct, object and source text, and which of equal ones it is."""

import hashlib
from collections import Counter
from collections.abc import Sequence
from typing import Final

from hullsound.assess.model import Finding

FINGERPRINT: Final = "hullsoundFinding/v1"
"""Name of the fingerprint in SARIF."""


def fingerprints(findings: Sequence[Finding]) -> list[str]:
    """Return the fingerprint of each finding, in their order. Equal findings of one object are told apart by their order."""
    seen: Counter[tuple[str, str, str]] = Counter()
    found = []
    for finding in findings:
        key = (finding.construct, finding.object, " ".join(finding.excerpt.split()))
        seen[key] += 1
        found.append(hashlib.sha256("\0".join((*key, str(seen[key]))).encode()).hexdigest()[:32])
    return found
