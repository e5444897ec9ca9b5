"""How assessments of one source went on: what the page shows of those that are kept."""

import shutil
from pathlib import Path

import msgspec

from hullsound import steps
from hullsound.catalog.judgements import read_assessments
from hullsound.report.document import Document
from hullsound.report.files import write_reports
from hullsound.report.history import history_of
from hullsound.survey.files import ScriptFile


def document_of(text: str) -> Document:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle")
    return steps.assess_catalog(catalog, "postgresql:18").document


def kept(document: Document, time: str) -> tuple[str, str]:
    return time, msgspec.json.encode(document).decode()


ONE = document_of("CREATE TABLE a (id NUMBER(5), doc BFILE);")
TWO = document_of("CREATE TABLE a (id NUMBER(5), doc BLOB);")


def test_only_what_changed_is_told() -> None:
    again = [kept(ONE, "2026-11-01T08:00:00Z"), kept(ONE, "2026-11-02T08:00:00Z"), kept(TWO, "2026-11-03T08:00:00Z")]
    found = history_of(again, TWO)
    assert [each.day for each in found] == ["2026-11-01", "2026-11-03"]
    assert [each.by_outcome["blocked"] for each in found] == [1, 0]
    assert found[0].effort_hours.p50 > found[1].effort_hours.p50


def test_the_assessment_at_hand_counts() -> None:
    found = history_of([kept(ONE, "2026-11-01T08:00:00Z")], TWO)
    assert [each.day for each in found] == ["2026-11-01", "now"]


def test_nothing_is_told_of_one_state_and_of_what_cannot_be_read() -> None:
    assert history_of([], ONE) == []
    assert history_of([("2026-11-01", "{}"), ("2026-11-02", "no json"), kept(ONE, "2026-11-03")], ONE) == []


def test_the_page_shows_it(tmp_path: Path) -> None:
    scripts = tmp_path / "scripts"
    scripts.mkdir()
    (scripts / "a.sql").write_text("CREATE TABLE a (id NUMBER(5), doc BFILE);", encoding="utf-8")
    hull = tmp_path / "a.hull"
    steps.survey_into(hull, scripts, "oracle", "")
    write_reports(steps.assess_hull(hull, "postgresql:18", keep=True), tmp_path / "first", ["html"])
    assert "How it went on" not in (tmp_path / "first" / "index.html").read_text(encoding="utf-8")
    (scripts / "a.sql").write_text("CREATE TABLE a (id NUMBER(5), doc BLOB);", encoding="utf-8")
    steps.survey_into(hull, scripts, "oracle", "")
    assert len(list(read_assessments(hull))) == 1
    write_reports(steps.assess_hull(hull, "postgresql:18"), tmp_path / "second", ["html"])
    page = (tmp_path / "second" / "index.html").read_text(encoding="utf-8")
    assert "How it went on" in page
    assert "<td>now</td>" in page
    shutil.rmtree(tmp_path / "second")
