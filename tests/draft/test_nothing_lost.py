"""What a promised table, key or index says in the source, its draft says too: both are surveyed, and compared."""

from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType
from hullsound.demo import SYSTEMS, scripts_of
from hullsound.survey.files import ScriptFile

OFFICES = Path(__file__).parents[1] / "data" / "offices"
ENGINES = {
    "towage": "sqlserver", "wholesale": "sqlserver", "vehicles": "sqlserver", "ledger": "sqlserver", "rentals": "sqlserver",
    "yardcranes": "sqlserver", "pilotage": "oracle", "invoicing": "oracle", "staff": "oracle", "claims": "oracle",
    "stores": "oracle", "laboratory": "oracle", "permits": "oracle", "payroll": "db2", "marina": "db2", "freight": "db2",
    "fuel": "ase", "cargo": "ase", "dispatch": "ase", "clinic": "mysql", "depot": "mysql", "berthing": "mysql",
    "berths": "teradata", "voyages": "teradata",
}  # fmt: skip
EXPLAINED = {
    # Made with a query, so that its columns have the types and nulls of the query.
    ("mysql", "debtor", "not null", "since"),
    # The text that is joined for it cannot be NULL, since none of its parts can.
    ("sqlserver", "route", "not null", "routename"),
}

Fact = tuple[str, str, object]


def bare(name: str) -> str:
    return name.strip('"`[]').lower()


def column_facts(table: str, column: Column, engine: str) -> Iterator[Fact]:
    name = bare(column.name)
    counts = bool(column.identity) or "SERIAL" in column.type.name.upper()
    yield table, "column", name
    if not column.nullable or counts:
        yield table, "not null", name
    none = ("", "NULL", "''") if engine == "oracle" else ("", "NULL")  # where an empty text is NULL
    if column.default.strip().upper() not in none or counts or column.generated:
        yield table, "value of its own", name
    if counts:
        yield table, "counting", name
    if column.comment:
        yield table, "comment", (name, column.comment)


def part_fact(table: str, item: Object) -> Fact | None:
    key = item.constraint
    if key is not None:
        names = tuple(sorted(bare(column) for column in key.columns))
        if key.disabled:
            return None
        if key.form == "check":
            return table, "check", ""
        if key.form == "foreign key":
            return table, "foreign key", (names, bare(key.references[-1]), key.on_delete.lower(), key.on_update.lower())
        return table, "key", names
    index = item.index
    keys = [bare(key.text) for key in index.keys] if index is not None else []
    is_plain = all(key.replace("_", "").replace("$", "").isalnum() for key in keys)
    if index is None or not keys or index.method or not is_plain:
        return None  # expressions are written in other words
    kind = "key" if index.unique and not index.where else "index"
    return table, kind, tuple(sorted(keys)) if kind == "key" else (tuple(keys), bool(index.where))


def facts(catalog: Catalog, wanted: set[str] | None = None) -> Counter[Fact]:
    """Return what a catalogue says of tables, and of keys and indexes among the wanted objects."""
    found: Counter[Fact] = Counter()
    for item in catalog.objects.values():
        if wanted is not None and item.id not in wanted:
            continue
        if item.type is ObjectType.TABLE and item.columns:
            name = bare(item.name)
            for column in item.columns:
                found.update(column_facts(name, column, catalog.engine))
            if item.comment:
                found[name, "comment", item.comment] += 1
        elif item.type in (ObjectType.CONSTRAINT, ObjectType.INDEX) and (wanted is None or item.table in wanted):
            table = catalog.objects.get(item.table)
            fact = part_fact(bare(table.name), item) if table is not None else None
            found.update([fact] if fact is not None else [])
    return found


def lost(source: Path, engine: str, target: str) -> list[Fact]:
    """Return what is said in the source of promised objects, and not in their drafts."""
    catalog = steps.survey_scripts(source, engine)
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    promised = {each.object.id for each in drafts if each.is_promised and each.is_finished and each.text}
    kinds = (ObjectType.TABLE, ObjectType.CONSTRAINT, ObjectType.INDEX)
    text = "\n".join(f"{each.text.rstrip().rstrip(';')};" for each in drafts if each.object.type in kinds and each.text)
    drafted = facts(steps.survey_texts([ScriptFile("drafts.sql", text, "")], target.split(":", maxsplit=1)[0]))
    twice = {
        name
        for name, count in Counter(bare(t.name) for t in catalog.objects.values() if t.columns).items()
        if count > 1
    }
    return [
        fact for fact, count in facts(catalog, promised).items()
        if drafted[fact] < (count if fact[1] == "check" else 1) and fact[0] not in twice and (engine, *fact) not in EXPLAINED
    ]  # fmt: skip


@pytest.mark.parametrize("engine", [engine for engine in SYSTEMS if engine not in ("postgresql", "access")])
def test_of_the_demo_systems_nothing_is_lost(engine: str) -> None:
    assert lost(scripts_of(engine), engine, "postgresql:18") == []


@pytest.mark.parametrize("office", sorted(ENGINES))
def test_of_the_offices_nothing_is_lost(office: str) -> None:
    assert lost(OFFICES / f"{office}.sql", ENGINES[office], "postgresql:18") == []


@pytest.mark.parametrize("source", ["mysql", "mariadb"])
@pytest.mark.parametrize("target", ["postgresql:18", "sqlserver:2022", "oracle:19"])
def test_serial_of_mysql_keeps_counting_and_its_key(source: str, target: str) -> None:
    """SERIAL stands for BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE."""
    text = "CREATE TABLE a (id SERIAL, n INT);\nCREATE TABLE b (id SERIAL PRIMARY KEY, n INT);\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], source), target)
    drafts = {draft.object.id: draft.text for draft in case.drafts.drafts}
    assert all("IDENTITY" in drafts[f"table.{name}"] for name in "ab")
    keys = [item.constraint.form for item in case.catalog.objects.values() if item.constraint is not None]
    assert sorted(keys) == ["primary key", "unique"]
