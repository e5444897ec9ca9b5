"""Checks as files of queries, and what a run of them found as JUnit XML."""

from collections.abc import Sequence
from pathlib import Path
from xml.etree import ElementTree

import msgspec

from hullsound.plan.checks.model import CheckSet, Level
from hullsound.plan.checks.run import CheckResult, CheckRun, Verdict
from hullsound.report.table import csv_text
from hullsound.storage import make_folder, write_text
from hullsound.visible import visible

EXPECTED_COLUMNS = ("table", "column", "difference", "kind")


def write_checks(checks: CheckSet, folder: Path) -> list[Path]:
    """Write the queries of both sides by level, the document and what is expected to differ. Raises SourceError."""
    texts = {"checks.json": msgspec.json.format(msgspec.json.encode(checks), indent=1).decode() + "\n"}
    for level in Level:
        here = [check for check in checks.checks if check.level is level]
        texts[f"source-{level.value}.sql"] = _script(checks.source_setup, [(c.id, c.source) for c in here if c.source])
        texts[f"target-{level.value}.sql"] = _script(checks.target_setup, [(c.id, c.target) for c in here])
    texts["source-sample.sql"] = _script(checks.source_setup, [(s.id, s.source) for s in checks.samples])
    texts["target-sample.sql"] = _script(checks.target_setup, [(s.id, s.target) for s in checks.samples])
    rows = [(e.table, e.column, e.difference, "expected") for e in checks.expected]
    rows += [(e.table, e.column, e.difference, "not compared") for e in checks.left_out]
    texts["expected.csv"] = csv_text(EXPECTED_COLUMNS, rows)
    make_folder(folder)
    for name, text in texts.items():
        write_text(folder / name, text)
    return [folder / name for name in texts]


def _script(setup: str, queries: Sequence[tuple[str, str]]) -> str:
    lines = [f"{setup};\n"] if setup else []
    lines += [f"-- {' '.join(name.split())}\n{query};\n" for name, query in queries]
    return "".join(lines)


def junit_xml(run: CheckRun) -> str:
    """Return a run as JUnit XML, as build servers read it: one test case for each check."""
    counts = run.counts()
    suite = ElementTree.Element(
        "testsuite",
        name=visible(f"checks {run.source} {run.target}"),
        tests=str(len(run.results)),
        failures=str(counts[Verdict.DIFFERENT.value]),
        errors=str(counts[Verdict.FAILED.value]),
        time=f"{run.seconds:.3f}",
    )
    for result in run.results:
        case = ElementTree.SubElement(
            suite,
            "testcase",
            classname=visible(result.table),
            name=visible(result.id),
            time=f"{result.seconds:.3f}",
        )
        if result.verdict is Verdict.DIFFERENT:
            told = visible("; ".join(difference_texts(result)))
            ElementTree.SubElement(case, "failure", message=told).text = told
        elif result.verdict is Verdict.FAILED:
            ElementTree.SubElement(case, "error", message=visible(result.said))
    ElementTree.indent(suite)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(suite, encoding="unicode") + "\n"


def difference_texts(result: CheckResult) -> list[str]:
    """Return the differences of a check for people."""
    return [
        f"{each.measure}{f' of {each.column}' if each.column else ''}: source {_value(each.source)}, target {_value(each.target)}"
        for each in result.differences
    ]


def _value(value: str | None) -> str:
    return "NULL" if value is None else value
