"""Formats that pipelines and people read, gates against a baseline, and the start of a project."""

import json
import re
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import openpyxl
import pytest
from sarif_pydantic import Sarif
from typer.testing import CliRunner

from hullsound import steps
from hullsound.cli.app import app
from hullsound.demo import copy_scripts
from hullsound.errors import SourceError, UsageError
from hullsound.project import read_project
from hullsound.report.document import Document
from hullsound.report.files import write_reports
from hullsound.report.fingerprints import FINGERPRINT, fingerprints
from hullsound.report.formats.junit import junit_xml
from hullsound.report.formats.model import format_names, writer_of
from hullsound.report.formats.sarif import sarif_log
from hullsound.steps.start import project_text
from hullsound.survey.files import ScriptFile

HOSTILE = """CREATE TABLE "=cmd|' /C calc'!A0" (n NUMBER, "<b>&amp;" BFILE);
CREATE VIEW "x\x1b[31m\u202e" AS SELECT NVL(n, 1) a FROM "=cmd|' /C calc'!A0" START WITH n = 1 CONNECT BY PRIOR n = n;
"""


@pytest.fixture(scope="module")
def harbour(tmp_path_factory: pytest.TempPathFactory) -> steps.Case:
    folder = tmp_path_factory.mktemp("formats")
    hull = folder / "harbour.hull"
    steps.survey_into(hull, copy_scripts("oracle", folder), "oracle", "19", name="harbour")
    return steps.assess_hull(hull, "postgresql:18", keep=True)


def case_of(text: str) -> steps.Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a b.sql", text, "")], "oracle"), "postgresql:18")


def test_a_format_is_a_module_of_its_folder() -> None:
    assert set(format_names()) == {"html", "markdown", "csv", "json", "xlsx", "sarif", "junit"}
    assert all(callable(writer_of(name)) for name in format_names())


@pytest.mark.parametrize("name", ["html", "markdown", "csv", "json", "xlsx", "sarif", "junit"])
def test_every_format_holds_the_demo_and_hostile_names(name: str, harbour: steps.Case, tmp_path: Path) -> None:
    for case in (harbour, case_of(HOSTILE)):
        paths = write_reports(case, tmp_path, [name])
        assert paths
        for path in paths:
            content = path.read_bytes()
            assert content
            if name not in ("xlsx", "csv", "json"):
                assert b"\x1b" not in content
            if name == "html":
                assert b"<b>&amp;" not in content


def test_sarif_is_valid_and_complete(harbour: steps.Case) -> None:
    log = sarif_log(harbour.document)
    read = Sarif.model_validate(log)
    (run,) = read.runs
    assert run.results is not None and run.tool.driver.rules is not None
    findings = harbour.document.findings
    assert len(run.results) == len(findings)
    rules = [rule.id for rule in run.tool.driver.rules]
    assert len(set(rules)) == len(rules)
    for result, finding in zip(log["runs"][0]["results"], findings, strict=True):
        assert rules[result["ruleIndex"]] == result["ruleId"] == finding.construct
        assert result["level"] == {"blocker": "error"}.get(finding.severity.value, finding.severity.value)
        for location in result["locations"]:
            region = location.get("physicalLocation", {}).get("region", {"startLine": 1, "startColumn": 1})
            assert region["startLine"] >= 1 and region["startColumn"] >= 1
            if region.get("endLine") == region["startLine"]:
                assert region["endColumn"] >= region["startColumn"]
    assert all(rule.help is not None and rule.help.text for rule in run.tool.driver.rules)


def test_fingerprints_survive_moved_lines_and_tell_equal_findings_apart() -> None:
    text = "CREATE VIEW v AS SELECT NVL(a, 1) x, NVL(a, 1) y FROM t;\n"
    before, after = case_of(text).document, case_of("\n\n-- moved\n" + text).document
    marks = fingerprints(before.findings)
    assert len(set(marks)) == len(marks)
    assert marks == fingerprints(after.findings)
    uris = [
        place["physicalLocation"]["artifactLocation"]["uri"]
        for result in sarif_log(before)["runs"][0]["results"]
        for place in result["locations"]
        if "physicalLocation" in place
    ]
    assert set(uris) == {"a%20b.sql"}


def test_what_is_accepted_is_suppressed_and_fails_no_test(tmp_path: Path) -> None:
    file = tmp_path / "hullsound.toml"
    file.write_text('[[accept]]\nconstruct = "oracle.type-bfile"\nreason = "gone by then"\nowner = "Ada Lund"\n')
    catalog = steps.survey_texts([ScriptFile("a.sql", "CREATE TABLE t (n NUMBER(9), f BFILE);", "")], "oracle")
    plain = steps.assess_catalog(catalog, "postgresql:18").document
    accepted = steps.assess_catalog(catalog, "postgresql:18", project=read_project(file)).document
    assert failures(plain) == 1
    assert failures(accepted) == 0
    (suppressed,) = [r for r in sarif_log(accepted)["runs"][0]["results"] if r["ruleId"] == "oracle.type-bfile"]
    assert "Ada Lund" in suppressed["suppressions"][0]["justification"]


def failures(document: Document) -> int:
    suite = ElementTree.fromstring(junit_xml(document))
    assert int(suite.attrib["tests"]) == len(suite)
    assert int(suite.attrib["failures"]) == len(suite.findall("testcase/failure"))
    return int(suite.attrib["failures"])


def test_the_workbook_has_numbers_as_numbers_and_no_formula(harbour: steps.Case, tmp_path: Path) -> None:
    planning = steps.planning_of(harbour, harbour.assessment.project)
    write_reports(harbour, tmp_path, ["xlsx"], planning=planning)
    book = openpyxl.load_workbook(tmp_path / "assessment.xlsx")
    assert book.sheetnames == ["Summary", "Worklist", "Findings", "Types", "Plan"]
    work = book["Worklist"]
    assert work.freeze_panes == "A2"
    assert work.auto_filter.ref == f"A1:M{work.max_row}"
    heads = [cell.value for cell in work[1]]
    hours = [row[heads.index("hours")] for row in work.iter_rows(min_row=2, values_only=True)]
    assert all(isinstance(each, int | float) for each in hours)
    general = harbour.document.summary.general_hours
    assert sum(hours) + general == pytest.approx(harbour.document.summary.effort_hours.p50, abs=2)
    write_reports(case_of(HOSTILE), tmp_path, ["xlsx"])
    hostile = openpyxl.load_workbook(tmp_path / "assessment.xlsx")
    cells = [cell for sheet in hostile for row in sheet.iter_rows() for cell in row]
    assert not [cell for cell in cells if cell.data_type == "f"]
    assert any(str(cell.value).startswith("table.=cmd") for cell in cells)


def run(*arguments: object) -> Any:
    return CliRunner().invoke(app, [str(each) for each in arguments])


def test_a_gate_fails_only_on_what_came_in(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    script = tmp_path / "s.sql"
    script.write_text("CREATE TABLE t (n NUMBER(9), f BFILE);\n")
    steps.survey_into(tmp_path / "a.hull", script, "oracle", name="s")
    assert run("report", "a.hull", "--to", "postgresql:18", "-o", "r", "--format", "sarif,json").exit_code == 0
    assert run("assess", "a.hull", "--to", "postgresql:18").exit_code == 0
    baselines = ("r/findings.sarif", "r/assessment.json", "a.hull")
    gate = ("--to", "postgresql:18", "--fail-on", "new-blocker", "--baseline")
    for baseline in baselines:
        assert run("assess", "a.hull", *gate, baseline).exit_code == 0, baseline
    script.write_text("-- moved\n\nCREATE TABLE t (n NUMBER(9), f BFILE);\nCREATE TABLE u (m NUMBER(9), g BFILE);\n")
    steps.survey_into(tmp_path / "b.hull", script, "oracle", name="s")
    for baseline in baselines:
        done = run("assess", "b.hull", *gate, baseline)
        assert done.exit_code == 1, baseline
        assert "1 findings are new" in done.stderr
    assert run("assess", "b.hull", "--fail-on", "new-blocker").exit_code != 0
    assert isinstance(run("assess", "b.hull", "--to", "postgresql", "--baseline", "a.hull").exception, UsageError)
    assert isinstance(run("assess", "b.hull", *gate, "s.sql").exception, SourceError)
    assert isinstance(run("assess", "b.hull", "--to", "mariadb", *gate[2:], "a.hull").exception, SourceError)
    (tmp_path / "other.sarif").write_text('{"runs": [{"results": [{}]}]}')
    assert isinstance(run("assess", "b.hull", *gate, "other.sarif").exception, SourceError)


def test_init_writes_every_key_and_its_target_is_taken(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    copy_scripts("sqlite", tmp_path)
    steps.survey_into(tmp_path / "tablet.hull", tmp_path / "sqlite-scripts", "sqlite", name="tablet")
    done = run("init", "--to", "mariadb:10.11", "--team", "5")
    assert done.exit_code == 0, done.output
    assert "tablet.hull" in done.stderr and "sqlite-scripts/" in done.stderr
    decided = read_project(tmp_path / "hullsound.toml")
    assert decided.target == "mariadb:10.11"
    assert decided.settings.plan.team == 5
    assert run("assess", "tablet.hull", "-o", "x.json").exit_code == 0
    assert json.loads((tmp_path / "x.json").read_text())["target"]["engine"] == "mariadb"
    assert run("init").exit_code != 0
    assert run("init", "--force").exit_code == 0
    assert read_project(tmp_path / "hullsound.toml").target.startswith("postgresql")


def test_every_key_that_init_shows_is_one_that_may_be_set(tmp_path: Path) -> None:
    text = project_text([], "postgresql:18")
    opened = re.sub(r"^# (\w+ = |\[\[)", r"\1", text, flags=re.MULTILINE)
    file = tmp_path / "hullsound.toml"
    file.write_text(opened)
    settings = read_project(file).settings
    assert settings.window.mbit == 1000.0
    assert len(settings.given) > 40


def test_fingerprint_name_is_constant() -> None:
    assert FINGERPRINT == "hullsoundFinding/v1", "baselines of earlier runs name it"


def test_document_says_which_types_were_chosen_and_what_drafts_change(harbour: steps.Case, tmp_path: Path) -> None:
    write_reports(harbour, tmp_path, ["json"])
    document = json.loads((tmp_path / "assessment.json").read_bytes())
    assert {"source": "DATE", "target": "timestamp(0)"}.items() <= next(
        use for use in document["types"] if use["source"] == "DATE"
    ).items()
    texts = {item.id: item for item in harbour.catalog.objects.values()}
    promised = {e["id"] for e in document["objects"] if e["outcome"] in ("as-is", "drafted", "confirm")}
    assert {edit["object"] for edit in document["edits"]} <= promised
    by_object: dict[str, list[dict[str, Any]]] = {}
    for edit in document["edits"]:
        by_object.setdefault(edit["object"], []).append(edit)
    rewritten = [d for d in harbour.drafts.drafts if d.edits and d.object.id in by_object]
    assert len(rewritten) > 50
    for draft in rewritten:
        text = texts[draft.object.id].text
        lines = text.split("\n")
        for edit, own in zip(by_object[draft.object.id], draft.edits, strict=True):
            line = lines[edit["line"] - draft.object.line]
            at = sum(len(each) + 1 for each in lines[: edit["line"] - draft.object.line]) + edit["column"] - 1
            assert text[at : own.end] == text[own.start : own.end], line
            assert edit["construct"] == own.construct
