"""Reports: hostile names and text stay text, pages stand alone, spreadsheets run nothing."""

import base64
import csv
import io
import json
import re
import zlib
from pathlib import Path
from typing import Any

import msgspec
import pytest

from hullsound import steps
from hullsound.errors import UsageError
from hullsound.report.document import Document
from hullsound.report.files import write_reports
from hullsound.report.look import find_object, look_at_all
from hullsound.report.table import csv_text
from hullsound.survey.files import ScriptFile

HOSTILE = """
CREATE TABLE "<script>alert(1)</script>" ("=1+1" NUMBER(5), "a|b`c" BFILE);
CREATE VIEW "../../etc/x" AS SELECT NVL('</pre><img src=x onerror=alert(1)>', '=cmd()') AS "y" FROM dual;
CREATE PROCEDURE "p$hull$; DROP TABLE t; --" IS BEGIN NULL; /* $hull$ */ END;
/
"""


@pytest.fixture(scope="module")
def case() -> steps.Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("h.sql", HOSTILE, "")], "oracle"), "postgresql:18")


def packed_in(page: str, attribute: str) -> list[list[Any]]:
    """Return what the page carries packed in its data elements that have an attribute."""
    found = re.findall(rf"<script [^>]*{attribute}[^>]*>([A-Za-z0-9+/=]+)</script>", page)
    return [json.loads(zlib.decompress(base64.b64decode(each))) for each in found]


def test_the_page_escapes_everything_and_loads_nothing(case: steps.Case, tmp_path: Path) -> None:
    (page,) = write_reports(case, tmp_path, ["html"])
    text = page.read_text(encoding="utf-8")
    inside = "".join(markup for chunk in packed_in(text, "data-chunk") for markup in chunk)
    for written in (text, inside):
        assert "<script>alert" not in written
        assert "<img" not in written
    assert "&lt;/pre&gt;&lt;img src=x" in inside
    (rows,) = packed_in(text, 'id="data-rows"')
    assert len(rows) == len(case.document.objects)
    for outside in ("http://", "https://", "src=", "<link", "@import", "url("):
        assert outside not in text.replace("&lt;img src=x", ""), outside
    assert "default-src 'none'" in text


def test_csv_is_safe_to_open(case: steps.Case, tmp_path: Path) -> None:
    for path in write_reports(case, tmp_path, ["csv"]):
        for row in csv.reader(io.StringIO(path.read_text(encoding="utf-8"))):
            assert not any(cell.startswith(("=", "+", "@", "\t")) for cell in row)
    assert csv_text(["a"], [["=1"], ["-2"], [-2], ["x\ny"]]) == "a\r\n'=1\r\n'-2\r\n-2\r\nx y\r\n"


def test_markdown_draws_no_links_or_tags(case: steps.Case, tmp_path: Path) -> None:
    (path,) = write_reports(case, tmp_path, ["markdown"])
    text = path.read_text(encoding="utf-8")
    assert "<script>" not in text
    assert "<img" not in text.replace("&#60;img", "")


def test_json_follows_the_document(case: steps.Case, tmp_path: Path) -> None:
    (path,) = write_reports(case, tmp_path, ["json"])
    document = msgspec.json.decode(path.read_bytes(), type=Document)
    assert document.types
    assert msgspec.structs.replace(document, types=[], edits=[]) == case.document
    assert document.schema == "hullsound.assessment/1"


def test_an_unknown_format_is_named(case: steps.Case, tmp_path: Path) -> None:
    with pytest.raises(UsageError, match="unknown format 'pdf'"):
        write_reports(case, tmp_path, ["pdf"])


def test_the_pieces_of_a_look_add_up_to_the_texts() -> None:
    source = "CREATE VIEW v AS SELECT NVL(a, 0) x FROM (SELECT 1 a FROM dual) MINUS SELECT 2 FROM dual"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", source + ";", "")], "oracle"), "postgresql:18")
    look = next(iter(look_at_all(case.catalog, case.assessment, case.drafts.drafts)))
    assert "".join(piece.text for piece in look.source) == source
    assert [p.construct for p in look.source if p.is_changed and p.construct] == [
        "oracle.nvl",
        "oracle.dual",
        "oracle.minus",
        "oracle.dual",
    ]
    assert "COALESCE(a, 0)" in "".join(piece.text for piece in look.draft)


def test_looking_for_an_object_that_is_not_there_offers_others(case: steps.Case) -> None:
    with pytest.raises(UsageError, match="no object"):
        find_object({item.id: item.type.value for item in case.catalog.objects.values()}, "nothing")


def test_each_report_is_told_before_it_is_written(case: steps.Case, tmp_path: Path) -> None:
    told: list[tuple[str, int, int]] = []
    write_reports(case, tmp_path, ["csv", "json"], lambda *each: told.append(each))
    assert told == [("report csv", 0, 2), ("report json", 1, 2)]
