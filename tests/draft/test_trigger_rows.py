"""An expression over the row that fires a trigger is drafted as it is over the columns of a table."""

import re
from pathlib import Path
from typing import Final

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile
from tests.draft.test_values import TABLES
from tests.statements import end_statement

VALUES: Final = Path(__file__).parents[1] / "data" / "values"
ROW: Final = {"oracle": ":NEW.", "mysql": "NEW.", "sqlite": "NEW.", "postgresql": "NEW."}
TRIGGERS: Final = {
    "oracle": "CREATE TRIGGER g{n} AFTER UPDATE ON t FOR EACH ROW\nBEGIN\nIF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); "
    "END IF;\nEND;\n/\n",
    "mysql": "CREATE TRIGGER g{n} AFTER UPDATE ON t FOR EACH ROW BEGIN IF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); "
    "END IF; END$$\n",
    "sqlite": "CREATE TRIGGER g{n} AFTER UPDATE ON t WHEN ({e}) IS NOT NULL BEGIN INSERT INTO lg (x) VALUES (1); END;\n",
    "postgresql": "CREATE FUNCTION f{n}() RETURNS trigger LANGUAGE plpgsql AS $x$ BEGIN IF ({e}) IS NOT NULL THEN "
    "INSERT INTO lg (x) VALUES (1); END IF; RETURN NULL; END $x$;\n"
    "CREATE TRIGGER g{n} AFTER UPDATE ON t FOR EACH ROW EXECUTE FUNCTION f{n}();\n",
}
OWN_FORMS: Final = re.compile(r"LPAD\(a|LENGTH\(a\)")
"""Forms that a query and code write apart."""
OF_ROWS: Final = re.compile(
    r"(?i)SELECT|OVER\s*\(|\b(?:SUM|COUNT|AVG|MIN|MAX|LISTAGG|GROUP_CONCAT|STRING_AGG|STDDEV|VARIANCE|MEDIAN)\s*\("
)


def expressions(engine: str) -> list[str]:
    """Return the expressions over one row whose values are known."""
    lines = [line for file in sorted(VALUES.glob(f"{engine}-*.txt")) for line in file.read_text("utf-8").splitlines()]
    found = dict.fromkeys(line.rpartition("=>")[0].strip() for line in lines if "=>" in line and line[:1] != "#")
    return [each for each in found if not OF_ROWS.search(each) and not OWN_FORMS.search(each)]


def of_row(expression: str, engine: str) -> str:
    """Put the row in front of each column, outside of texts."""
    columns = "|".join(each.split()[0] for each in re.split(r", (?=[a-z]+ )", TABLES[engine]))
    pieces = re.split(r"('(?:[^']|'')*')", expression)
    pieces[::2] = [re.sub(rf'(?<![.\w:@"])({columns})\b(?!\s*\()', rf"{ROW[engine]}\1", each) for each in pieces[::2]]
    return "".join(pieces)


def plain(text: str) -> str:
    return re.sub(r"(?i)(?<!\w)(?::?NEW\.|hs_new\.)|@hs_new_|:?NEW_", "", " ".join(text.split())).lower()


@pytest.mark.parametrize("engine", ROW)
def test_changed_rows_are_values_like_columns(engine: str) -> None:
    tables = [f"CREATE TABLE t ({TABLES[engine]}, PRIMARY KEY (id))", "CREATE TABLE lg (x int)"]
    known = expressions(engine)
    views = [f"CREATE VIEW v{n} AS SELECT id FROM t WHERE ({each}) IS NOT NULL" for n, each in enumerate(known)]
    text = "\n".join(end_statement(each, engine) for each in (*tables, *views))
    text += "\nDELIMITER $$\n" if engine == "mysql" else "\n"
    text += "".join(TRIGGERS[engine].format(n=n, e=of_row(each, engine)) for n, each in enumerate(known))
    catalog = steps.survey_texts([ScriptFile("t.sql", text, "")], engine)
    for target in ("postgresql:18", "mariadb:10.11", "sqlserver:2022"):
        if target.partition(":")[0] == engine or (engine, target) == ("mysql", "mariadb:10.11"):
            continue
        promised = {
            each.object.name.rpartition(".")[2].lower(): plain(each.text)
            for each in steps.assess_catalog(catalog, target).drafts.drafts
            if each.is_promised and each.is_finished
        }
        seen = 0
        for n, each in enumerate(known):
            trigger = promised.get(f"g{n}")
            if trigger is None:
                continue
            view = promised.get(f"v{n}", "")
            assert view, f"promised for a changed row alone on {target}: {each}"
            assert view.partition(" where ")[2].rpartition(" is not null")[0] in trigger, f"{target}: {each}"
            seen += 1
        assert seen > len(known) / 2
