"""Forms of PostgreSQL that no other engine has, as each target writes them."""

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile

TABLE = (
    "CREATE TABLE bay (id int NOT NULL, kind varchar(20), n int, seen timestamp, day date, f boolean, data bytea);\n"
)
TARGETS = ("mysql:8.4", "sqlserver:2022", "oracle:19")


def drafted(target: str, query: str) -> Draft:
    script = f"{TABLE}CREATE VIEW v AS {query};\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "postgresql"), target)
    return next(d for d in case.drafts.drafts if d.object.type == "view")


def written(target: str, query: str) -> str:
    draft = drafted(target, query)
    is_given = draft.is_promised and draft.is_finished
    return " ".join(draft.text.rstrip().rstrip(";").split()).partition(" AS ")[2] if is_given else ""


def value(target: str, expression: str) -> str:
    return written(target, f"SELECT {expression} AS r FROM bay").removeprefix("SELECT ").partition(" AS r FROM")[0]


@pytest.mark.parametrize(
    ("expression", "expected"),
    [
        ("f::text", ("(CASE f WHEN 1 THEN 'true' WHEN 0 THEN 'false' END)",
                     "CASE WHEN f <> 0 THEN 'true' WHEN NOT (f <> 0) THEN 'false' END",
                     "CASE WHEN f <> 0 THEN 'true' WHEN NOT (f <> 0) THEN 'false' END")),
        ("day::text", ("CAST(day AS CHAR)", "CAST(day AS nvarchar(max))", "TO_CHAR(day, 'YYYY-MM-DD')")),
        ("n::text", ("CAST(n AS CHAR)", "CAST(n AS nvarchar(max))", "TO_CHAR(n)")),
        ("encode(data, 'hex')", ("LOWER(HEX(data))", "LOWER(CONVERT(varchar(max), data, 2))", "LOWER(RAWTOHEX(data))")),
        ("encode(data, 'base64')", ("TO_BASE64(data)", "", "")),
        ("seen + make_interval(days => n)", ("TIMESTAMPADD(DAY, n, seen)", "DATEADD(day, n, seen)",
                                             "(seen + NUMTODSINTERVAL(n, 'DAY'))")),
        ("make_interval(days => n)", ("", "", "")),
        ("seen + make_interval(years => 1, months => n)", ("", "", "")),
        ("date_part('month', seen)", ("EXTRACT(MONTH FROM seen)", "DATEPART(month, seen)", "EXTRACT(MONTH FROM seen)")),
        ("extract(epoch from (seen - seen))", (
            "(CAST(TIMESTAMPDIFF(MICROSECOND, seen, seen) AS DECIMAL(30, 6)) / 1000000)",
            "(CAST(DATEDIFF_BIG(microsecond, seen, seen) AS decimal(25, 6)) / 1000000)",
            "(EXTRACT(DAY FROM (seen - seen)) * 86400 + EXTRACT(HOUR FROM (seen - seen)) * 3600"
            " + EXTRACT(MINUTE FROM (seen - seen)) * 60 + EXTRACT(SECOND FROM (seen - seen)))")),
        ("count(*) FILTER (WHERE f)", ("count(CASE WHEN f THEN 1 END)", "count(CASE WHEN f <> 0 THEN 1 END)",
                                       "count(CASE WHEN f <> 0 THEN 1 END)")),
    ],
)  # fmt: skip
def test_values(expression: str, expected: tuple[str, ...]) -> None:
    assert tuple(value(target, expression) for target in TARGETS) == expected


@pytest.mark.parametrize(
    ("test", "expected"),
    [
        ("n = ANY (ARRAY[1, 7])", ("n IN (1, 7)",) * 3),
        ("n <> ALL (ARRAY[1, 7]::int[])", ("n NOT IN (1, 7)",) * 3),
        ("kind ~ '^Q'", ("CAST(REGEXP_LIKE(kind, '^Q', 'c') AS SIGNED)", "", "REGEXP_LIKE(kind, '^Q', 'c')")),
        ("starts_with(kind, 'Q')", ("(LEFT(kind, CHAR_LENGTH('Q')) = 'Q')", "LEFT(kind, LEN('Q' + 'x') - 1) = 'Q'",
                                    "SUBSTR(kind, 1, LENGTH('Q')) = 'Q'")),
    ],
)  # fmt: skip
def test_conditions_and_conditions_as_values(test: str, expected: tuple[str, ...]) -> None:
    found = [written(target, f"SELECT id FROM bay WHERE {test}").partition(" WHERE ")[2] for target in TARGETS]
    assert tuple(found) == expected
    if expected[2]:
        assert value("oracle:19", test) == f"CASE WHEN {expected[2]} THEN 1 WHEN NOT ({expected[2]}) THEN 0 END"


@pytest.mark.parametrize("target", TARGETS)
def test_first_rows_of_groups(target: str) -> None:
    text = written(target, "SELECT DISTINCT ON (kind) kind, n + 1 AS m FROM bay b WHERE n > 2 ORDER BY kind, id DESC")
    assert text.startswith(
        "SELECT kind, m FROM (SELECT kind AS kind, n + 1 AS m, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY "
    )
    assert text.endswith("hs_rows WHERE hs_row = 1")
    assert "FROM bay b WHERE n > 2" in text
    assert not written(target, "SELECT DISTINCT ON (kind) kind FROM bay ORDER BY kind LIMIT 3")
    assert not written(target, "SELECT DISTINCT ON (kind) kind, n + 1 FROM bay ORDER BY kind")
    assert not written(target, "SELECT DISTINCT ON (1) kind, n FROM bay ORDER BY 1, 2")
    assert not written(target, "SELECT DISTINCT ON (k) kind AS k, n FROM bay ORDER BY k, n")


def test_first_rows_that_are_read_in_their_order_are_sorted_again() -> None:
    script = f"{TABLE}SELECT DISTINCT ON (kind) kind FROM bay ORDER BY kind, n DESC;\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "postgresql"), "sqlserver:2022")
    text = next(d for d in case.drafts.drafts if d.object.type == "query").text
    assert (
        text.rstrip()
        .rstrip(";")
        .endswith(
            "WHERE hs_row = 1 ORDER BY CASE WHEN hs_key1 IS NULL THEN 1 ELSE 0 END, hs_key1, "
            "CASE WHEN hs_key2 IS NULL THEN 0 ELSE 1 END, hs_key2 DESC"
        )
    )


@pytest.mark.parametrize(
    ("order", "key"),
    [
        ("n DESC NULLS LAST", "n DESC"),
        ("n NULLS FIRST", "n"),
        ("n NULLS LAST", "CASE WHEN n IS NULL THEN 1 ELSE 0 END, n"),
        ("n DESC NULLS FIRST", "CASE WHEN n IS NULL THEN 1 ELSE 0 END DESC, n DESC"),
    ],
)
def test_where_null_sorts_on_sql_server(order: str, key: str) -> None:
    assert (
        value("sqlserver:2022", f"row_number() OVER (ORDER BY {order})").replace(" )", ")")
        == f"row_number() OVER (ORDER BY {key})"
    )


def test_a_function_before_a_cast_by_signs_is_seen_once() -> None:
    script = f"{TABLE}CREATE VIEW v AS SELECT split_part(kind, '.', 2)::int AS r FROM bay;\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], "postgresql")
    assert [s.construct for s in catalog.sightings if s.construct == "postgresql.split-part"] == [
        "postgresql.split-part"
    ]
