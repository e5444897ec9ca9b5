"""What ASE means otherwise than every other engine: empty texts, joined NULL, tests for NULL, hours that passed, NOT NULL.

Source: ASE 16 Reference Manual, "Building Blocks" (Expressions; datediff) and "Commands" (CREATE TABLE, SET ANSINULL).
"""

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

TABLE = """CREATE TABLE bay (id INT, code CHAR(4), note VARCHAR(20) NULL, half CHAR(4) NULL, opened DATETIME NULL,
closed DATETIME NULL) LOCK DATAROWS"""
EVERYWHERE = ("postgresql:18", "mariadb:11.8", "sqlserver:2022", "oracle:19")


def judged(target: str, *statements: str) -> steps.Case:
    script = "\n".join(end_statement(each, "ase") for each in (TABLE, *statements))
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "ase"), target)


def drafted(target: str, *statements: str, kind: str = "view") -> Draft:
    return next(d for d in judged(target, *statements).drafts.drafts if d.object.type == kind)


def value(target: str, expression: str) -> str:
    """Return what an expression over the table becomes; '' where it is not promised."""
    draft = drafted(target, f"CREATE VIEW v AS SELECT {expression} AS r FROM bay")
    text = " ".join(draft.text.split()).upper()
    return text.partition("SELECT ")[2].rpartition(" AS R FROM")[0] if draft.is_promised and draft.is_finished else ""


@pytest.mark.parametrize(
    ("expression", "expected"),
    [
        ("note + 'x'", ("COALESCE(NOTE, '') || 'X'", "CONCAT(COALESCE(NOTE, ''), 'X')", "COALESCE(NOTE, '') + 'X'", "NOTE || 'X'")),
        ("'' + 'x'", ("' ' || 'X'", "CONCAT(' ', 'X')", "' ' + 'X'", "' ' || 'X'")),
        ("isnull(note, \"\")", ("COALESCE(NOTE, ' ')", "COALESCE(NOTE, ' ')", "ISNULL(NOTE, ' ')", "NVL(NOTE, ' ')")),
        ("char_length(half)", ("CHAR_LENGTH(HALF)", "CHAR_LENGTH(HALF)", "(LEN(HALF + 'X') - 1)", "LENGTH(HALF)")),
        ("str_replace(note, 'a', NULL)", ("REPLACE(NOTE, 'A', COALESCE(NULL, ''))", "REPLACE(NOTE, 'A', COALESCE(NULL, ''))",
                                        "REPLACE(NOTE, 'A', '')", "REPLACE(NOTE, 'A', NULL)")),
        ("datediff(hh, opened, closed)", (
            "CAST(TRUNC(EXTRACT(EPOCH FROM CLOSED::TIMESTAMP - OPENED::TIMESTAMP) / 3600) AS BIGINT)",
            "TIMESTAMPDIFF(HOUR, OPENED, CLOSED)", "CAST(DATEDIFF_BIG(MILLISECOND, OPENED, CLOSED) / 3600000 AS INT)", "")),
    ],
)  # fmt: skip
def test_values(expression: str, expected: tuple[str, ...]) -> None:
    assert tuple(value(target, expression) for target in EVERYWHERE) == expected


def test_joined_texts_that_are_all_null() -> None:
    assert value("postgresql:18", "note + half") == (
        "(CASE WHEN NOTE IS NULL AND HALF IS NULL THEN NULL ELSE CONCAT(NOTE, HALF) END)"
    )
    assert value("postgresql:18", "lower(note) + upper(note)") == ""


@pytest.mark.parametrize("target", EVERYWHERE)
def test_columns_that_say_nothing_take_no_null(target: str) -> None:
    lines = drafted(target, kind="table").text.replace("`", "").lower()
    assert "not null" in lines.partition("id ")[2].partition(",")[0]
    assert "not null" not in lines.partition("note ")[2].partition(",")[0]
    assert "datarows" not in lines


@pytest.mark.parametrize("target", EVERYWHERE)
@pytest.mark.parametrize(("test", "written"), [("note = NULL", "note IS NULL"), ("note <> NULL", "note IS NOT NULL")])
def test_equal_null_holds(target: str, test: str, written: str) -> None:
    assert written in drafted(target, f"CREATE VIEW v AS SELECT id FROM bay WHERE {test}").text


@pytest.mark.parametrize("target", EVERYWHERE)
def test_outer_joins_by_signs(target: str) -> None:
    draft = drafted(target, "CREATE VIEW v AS SELECT a.id FROM bay a, bay b WHERE a.id *= b.id")
    assert draft.is_promised
    assert " ".join(draft.text.split()).rstrip("; ").endswith("FROM bay a LEFT JOIN bay b ON a.id = b.id")


def test_a_variable_beside_a_column_that_may_be_null_is_told() -> None:
    case = judged(
        "postgresql:18",
        "CREATE PROCEDURE p @n VARCHAR(20), @k INT AS UPDATE bay SET code = 'x' WHERE note = @n AND id = @k",
    )
    assert [f.excerpt for f in case.document.findings if f.construct == "ase.null-variable"] == ["note = @n"]


@pytest.mark.parametrize("target", ["mariadb:11.8", "mysql:8.4", "oracle:19"])
def test_procedures_cross_to_every_target(target: str) -> None:
    code = "CREATE PROCEDURE p @n INT AS BEGIN IF @n = NULL SELECT @n = 0 UPDATE bay SET note = '' WHERE id = @n END"
    draft = drafted(target, code, kind="procedure")
    assert draft.is_promised
    assert draft.is_finished
    assert "note = ' '" in draft.text
    assert "IS NULL" in draft.text


def test_code_for_sql_server_reads_as_sql_server_reads_it() -> None:
    code = """CREATE PROCEDURE p @n INT AS BEGIN
DECLARE c CURSOR FOR SELECT id FROM bay
OPEN c FETCH c INTO @n
WHILE @@sqlstatus = 0 FETCH c INTO @n
IF @@sqlstatus = 2 PRINT "end of %1! rows", @n
SELECT "n" = @n END"""
    text = drafted("sqlserver:2022", code, kind="procedure").text
    assert "WHILE @@FETCH_STATUS = 0" in text
    assert "IF (CASE @@FETCH_STATUS WHEN 0 THEN 0 WHEN -1 THEN 2 ELSE 1 END) = 2" in text
    assert "PRINT CONCAT('end of ', @n, ' rows')" in text
    assert '"' not in text


@pytest.mark.parametrize(
    ("kind", "written"),
    [("UNSIGNED INT", "bigint"), ("UNSIGNED BIGINT", "decimal(20, 0)"), ("UNIVARCHAR(9)", "nvarchar(9)")],
)
def test_types_for_sql_server(kind: str, written: str) -> None:
    script = f"CREATE TABLE quay (n {kind} NULL)\ngo\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "ase"), "sqlserver:2022")
    (draft,) = case.drafts.drafts
    assert draft.is_promised
    assert f"n {written} NULL" in draft.text
