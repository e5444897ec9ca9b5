"""Outer joins by *= and =* become LEFT JOIN, or stay with a person where it is not clear which table is optional."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLES = """
CREATE TABLE berth (id int NOT NULL PRIMARY KEY, name varchar(20), zone char(1))
GO
CREATE TABLE visit (no int NOT NULL PRIMARY KEY, berth int NULL, ship varchar(20), is_open bit NOT NULL)
GO
"""
ROWS = b"""
INSERT INTO dbo.berth VALUES (1, 'one', 'A'), (2, 'two', 'A'), (3, 'three', 'B');
INSERT INTO dbo.visit VALUES (10, 1, 'Tern', TRUE), (11, 2, 'Gull', FALSE)
"""


def drafted(view: str) -> steps.Case:
    script = ScriptFile("a.sql", f"{TABLES}CREATE VIEW v AS {view}\nGO\n", "")
    return steps.assess_catalog(steps.survey_texts([script], "ase"), "postgresql:18")


@pytest.mark.server
@pytest.mark.parametrize(
    ("view", "rows"),
    [
        ("SELECT b.name, v.ship FROM berth b, visit v WHERE b.id *= v.berth",
         [("one", "Tern"), ("three", None), ("two", "Gull")]),
        ("SELECT b.name, v.ship FROM berth b, visit v WHERE v.berth =* b.id AND b.zone = 'A'", [("one", "Tern"), ("two", "Gull")]),
        # What is asked of the optional table alone is asked before the join.
        ("SELECT b.name, v.ship FROM berth b, visit v WHERE b.id *= v.berth AND v.is_open = 1",
         [("one", "Tern"), ("three", None), ("two", None)]),
        ("SELECT b.name, w.ship FROM berth b, visit v, visit w WHERE b.id = v.berth AND v.no *= w.no AND w.is_open = 0",
         [("one", None), ("two", "Gull")]),
    ],
)  # fmt: skip
def test_rows_of_an_outer_join(view: str, rows: list[tuple[str, str | None]], server_url: str) -> None:
    from hullsound.trial.postgresql import scratch_database

    case = drafted(view)
    with scratch_database(server_url) as connection:
        connection.execute(b"CREATE SCHEMA dbo; SET search_path = dbo")
        for draft in steps.draft_case(case).drafts:
            connection.execute(draft.text.encode())
        connection.execute(ROWS)
        assert connection.execute("SELECT * FROM v ORDER BY 1").fetchall() == rows


@pytest.mark.parametrize(
    "view",
    [
        "SELECT b.name FROM berth b, visit v WHERE id *= berth",
        "SELECT b.name FROM berth b, visit v WHERE b.id *= v.berth AND is_open = 1",
        "SELECT b.name FROM berth b, visit v WHERE b.id *= v.berth OR v.no = 3",
        "SELECT b.name FROM berth b, visit v WHERE b.id *= v.berth AND v.no *= b.id",
    ],
)
def test_unclear_ones_are_for_a_person(view: str) -> None:
    outcomes = {entry.id: entry.outcome for entry in drafted(view).document.objects}
    assert outcomes["dbo.view.v"] == "rewrite"
