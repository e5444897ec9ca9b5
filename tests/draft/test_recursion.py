"""Common tables that name themselves: the types of their columns, and what targets refuse in them."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLES = {
    "oracle": "CREATE TABLE area (id NUMBER(9) PRIMARY KEY, parent NUMBER(9), name VARCHAR2(30), w NUMBER(5,2));",
    "sqlite": "CREATE TABLE area (id INTEGER PRIMARY KEY, parent INTEGER, name TEXT, w REAL);",
    "mysql": "CREATE TABLE area (id INT PRIMARY KEY, parent INT, name VARCHAR(30), w DECIMAL(5,2));",
}
PATH = "SELECT a.id, r.v || '/' || a.name FROM area a JOIN r ON r.id = a.parent"
LEVEL = "SELECT a.id, r.v + 1 FROM area a JOIN r ON r.id = a.parent"


def drafted(query: str, engine: str, target: str) -> tuple[str, str]:
    """Return the outcome of a view over a query, and its draft or why there is none."""
    script = f"{TABLES[engine]}\nCREATE VIEW v AS {query};\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)
    (entry,) = (each for each in case.document.objects if each.id == "view.v")
    (draft,) = (each for each in steps.draft_case(case).drafts if each.object.id == "view.v")
    said = [f.message for f in case.document.findings if f.construct == "draft.skipped"]
    return entry.outcome, draft.text or " ".join(said)


def recursive(start: str, later: str, engine: str = "oracle") -> str:
    word = "" if engine == "oracle" else "RECURSIVE "
    first = f"SELECT id, {start} FROM area WHERE parent IS NULL"
    return f"WITH {word}r (id, v) AS ({first} UNION ALL {later}) SELECT id, v FROM r"


@pytest.mark.parametrize(
    ("target", "start"),
    [
        ("postgresql:18", "CAST(name AS text)"), ("mariadb:11.8", "CAST(name AS CHAR(4000))"),
        ("mysql:8.4", "CAST(name AS CHAR(4000))"), ("sqlserver:2022", "CAST(name AS nvarchar(max))"),
    ],
)  # fmt: skip
def test_a_path_may_grow_longer_than_its_start(target: str, start: str) -> None:
    _, text = drafted(recursive("name", PATH), "oracle", target)
    assert f"SELECT id, {start} FROM area" in text


@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:11.8", "sqlserver:2022", "oracle:19"])
def test_a_count_keeps_its_type(target: str) -> None:
    outcome, text = drafted(recursive("1", LEVEL, "sqlite"), "sqlite", target)
    assert outcome in ("as-is", "drafted") and "CAST(" not in text


def test_digits_of_products_are_kept() -> None:
    product = "SELECT a.id, r.v * a.w FROM area a JOIN r ON r.id = a.parent"
    assert "CAST(w AS numeric)" in drafted(recursive("w", product), "oracle", "postgresql:18")[1]
    assert "CAST(w AS DECIMAL(65,30))" in drafted(recursive("w", product), "oracle", "mariadb:11.8")[1]
    outcome, why = drafted(recursive("w", product), "oracle", "sqlserver:2022")
    assert outcome == "rewrite" and "digits grow" in why
    # MySQL rounds to the digits of the first part.
    assert "CAST(r.v * a.w AS numeric(5,2))" in drafted(recursive("w", product, "mysql"), "mysql", "postgresql:18")[1]


@pytest.mark.parametrize(
    ("later", "refusing"),
    [
        (f"{LEVEL} ORDER BY 2", {"postgresql:18", "mariadb:11.8", "mysql:8.4", "oracle:19"}),
        (f"{LEVEL} LIMIT 5", {"postgresql:18", "mariadb:11.8", "oracle:19"}),
        (f"{LEVEL} UNION ALL {LEVEL}", {"postgresql:18", "oracle:19"}),
        ("SELECT a.id, r.v + 1 FROM r LEFT JOIN area a ON r.id = a.parent", {"sqlserver:2022"}),
        ("SELECT a.id, r.v + 1 FROM area a LEFT JOIN r ON r.id = a.parent",
         {"postgresql:18", "mariadb:11.8", "mysql:8.4", "sqlserver:2022", "oracle:19"}),
        ("SELECT a.id, MAX(r.v) FROM area a, r WHERE a.parent = r.id GROUP BY a.id",
         {"postgresql:18", "mariadb:11.8", "mysql:8.4", "sqlserver:2022", "oracle:19"}),
        ("SELECT DISTINCT a.id, r.v + 1 FROM area a, r WHERE a.parent = r.id",
         {"mariadb:11.8", "mysql:8.4", "sqlserver:2022", "oracle:19"}),
        ("SELECT a.id, r.v + 1 FROM area a, r WHERE a.parent = r.id AND a.id IN (SELECT id FROM r)",
         {"postgresql:18", "mariadb:11.8", "mysql:8.4", "sqlserver:2022", "oracle:19"}),
        ("SELECT s.id, r.v + 1 FROM (SELECT id, parent FROM area WHERE id > 0) s JOIN r ON r.id = s.parent", set()),
    ],
)  # fmt: skip
def test_what_a_target_refuses_is_not_promised(later: str, refusing: set[str]) -> None:
    for target in ("postgresql:18", "mariadb:11.8", "mysql:8.4", "oracle:19", "sqlserver:2022"):
        outcome, why = drafted(recursive("1", later, "sqlite"), "sqlite", target)
        if target in refusing:
            assert outcome == "rewrite", (target, why)
        elif not (target == "sqlserver:2022" and ("LIMIT" in later or "ORDER BY" in later)):
            assert outcome != "rewrite", (target, why)


def test_union_of_distinct_rows_stays_where_targets_know_it() -> None:
    query = recursive("1", LEVEL, "sqlite").replace("UNION ALL", "UNION")
    outcomes = {
        t: drafted(query, "sqlite", t)[0] for t in ("postgresql:18", "mariadb:11.8", "oracle:19", "sqlserver:2022")
    }
    assert [each for each, outcome in outcomes.items() if outcome == "rewrite"] == ["oracle:19", "sqlserver:2022"]
