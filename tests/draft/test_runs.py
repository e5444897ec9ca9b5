"""Runs of data are drafted together and read as if each INSERT had been drafted alone."""

from hullsound import steps
from hullsound.catalog.model import ObjectType
from hullsound.draft.objects.runs import joined_rows
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.survey.files import ScriptFile

ROWS = """INSERT INTO crane (id, name) VALUES (1, 'North');
INSERT INTO crane (id, name) VALUES (2, 'South') ON DUPLICATE KEY UPDATE name = VALUES(name);
-- the last one
INSERT INTO crane (id, name) VALUES (3, 'East');
INSERT INTO hoist VALUES (1);
INSERT INTO hoist SELECT id FROM crane;
INSERT INTO hoist VALUES (NOW());
"""


def joined(text: str) -> list[str]:
    return [read.text for read in joined_rows(read_script(text, load_dialect("mysql")).statements())]


def test_only_neighbours_of_one_table_are_joined() -> None:
    first, *others = joined(ROWS)
    assert first == ROWS[: ROWS.index(";\n--")]
    assert [text.split(" (")[0].split("\n")[0] for text in others] == [
        "INSERT INTO crane",
        "INSERT INTO hoist VALUES",
        "INSERT INTO hoist SELECT id FROM crane",
        "INSERT INTO hoist VALUES",
    ]


def test_every_row_is_in_one_statement() -> None:
    text = "".join(f"INSERT INTO crane VALUES ({n}, 'x');\n" for n in range(333))
    pieces = joined(text)
    assert len(pieces) == 7
    assert ";\n".join(pieces) + ";\n" == text


def drafted_rows(rows: str) -> str:
    table = "CREATE TABLE crane (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(20), moved DATETIME);\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", table + rows, "")], "mysql")
    case = steps.assess_catalog(catalog, "postgresql:18")
    drafts = [each for each in steps.draft_case(case).drafts if each.object.type is ObjectType.DATA]
    assert drafts and all(each.is_finished for each in drafts)
    return " ".join(" ".join(each.text for each in drafts).split())


def test_joined_rows_are_drafted_as_single_ones_are() -> None:
    rows = [
        "INSERT INTO crane VALUES (NULL, 'it''s', NOW());",
        "INSERT INTO crane (id, name) VALUES (0, \"North\"), (7, 'a\\'b');",
        "INSERT IGNORE INTO crane SET id = 3, name = CONCAT('x', 'y');",
        "INSERT INTO crane (id, name) VALUES (2, 'S') ON DUPLICATE KEY UPDATE name = VALUES(name), moved = NULL;",
        "REPLACE INTO crane (id, name) VALUES (4, 'W');",
    ]
    together = drafted_rows("\n".join(rows))
    assert together == drafted_rows("\n-- apart\n".join(rows))
    assert together.count("INSERT INTO crane") == 5
    assert "EXCLUDED.name" in together
