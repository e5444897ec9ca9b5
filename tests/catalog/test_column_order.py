"""Column attributes mean the same in whatever order they are written."""

from itertools import permutations

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TYPES = {"oracle": "NUMBER(9)", "sqlserver": "int", "mysql": "INT"}
SHARED = ("NOT NULL", "DEFAULT 5", "UNIQUE", "CHECK (a > 0)", "REFERENCES other (id) ON DELETE CASCADE")
OWN: dict[str, tuple[str, ...]] = {
    "mysql": ("COMMENT 'told'", "NOT NULL", "DEFAULT 5", "UNIQUE KEY", "CHECK (a > 0)"),
    "mariadb": ("COMMENT 'told'", "NOT NULL", "DEFAULT 5", "UNIQUE", "CHECK (a > 0)", "INVISIBLE"),
    "postgresql": (*SHARED, "CONSTRAINT named NOT NULL"),
    "sqlserver": (*SHARED, "SPARSE"),
    "ase": ("DEFAULT 5", "NOT NULL", "UNIQUE", "CHECK (a > 0)", "REFERENCES other (id)"),
    "db2": (*SHARED, "IMPLICITLY HIDDEN"),
    "teradata": ("NOT NULL", "DEFAULT 5", "UNIQUE", "CHECK (a > 0)", "TITLE 'told'", "FORMAT '999'"),
    "sqlite": (*SHARED, "COLLATE nocase"),
}  # fmt: skip
"""Attributes by engine; Oracle's grammar fixes that DEFAULT comes first."""
KEYS = {
    "mysql": ("AUTO_INCREMENT", "PRIMARY KEY", "NOT NULL", "COMMENT 'told'"),
    "mariadb": ("AUTO_INCREMENT", "PRIMARY KEY", "NOT NULL", "COMMENT 'told'"),
    "postgresql": ("GENERATED ALWAYS AS IDENTITY", "PRIMARY KEY", "NOT NULL"),
    "sqlserver": ("IDENTITY(1,1)", "PRIMARY KEY CLUSTERED", "NOT NULL", "ROWGUIDCOL"),
    "db2": ("GENERATED ALWAYS AS IDENTITY (START WITH 1)", "PRIMARY KEY", "NOT NULL"),
    "teradata": ("GENERATED ALWAYS AS IDENTITY", "PRIMARY KEY", "NOT NULL"),
}


def facts(engine: str, attributes: tuple[str, ...]) -> tuple[object, ...]:
    """Return what the catalogue knows of a column that is written so."""
    text = f"CREATE TABLE t (a {TYPES.get(engine, 'INTEGER')} {' '.join(attributes)}, b INTEGER)"
    end = {"sqlserver": "\nGO\n", "ase": "\ngo\n"}.get(engine, ";\n")
    catalog = steps.survey_texts([ScriptFile("a.sql", text + end, "")], engine)
    assert catalog.unread == [], text
    table = next(item for item in catalog.objects.values() if item.columns)
    column = table.columns[0]
    keys = sorted(
        (key.form, tuple(key.columns), key.expression, key.references, key.on_delete)
        for item in catalog.objects.values() if (key := item.constraint) is not None
    )  # fmt: skip
    return len(table.columns), column.nullable, column.default, bool(column.identity), column.comment, keys


@pytest.mark.parametrize("engine", [*OWN])
def test_attributes_mean_the_same_in_any_order(engine: str) -> None:
    for group in (OWN[engine], KEYS.get(engine, ("NOT NULL",))):
        expected = facts(engine, group)
        assert expected[1] is False
        for order in permutations(group):
            assert facts(engine, order) == expected, order


def test_constraints_of_oracle_mean_the_same_in_any_order() -> None:
    group = ("NOT NULL", "UNIQUE", "CHECK (a > 0)", "REFERENCES other (id) ON DELETE CASCADE")
    expected = facts("oracle", ("DEFAULT 5", *group))
    assert expected[1:3] == (False, "5")
    for order in permutations(group):
        assert facts("oracle", ("DEFAULT 5", *order)) == expected, order
