"""Tables that code makes for itself: temporary ones and table variables, with the columns they are made with."""

from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import Column, DataType
from hullsound.sql.tree import ColumnDefinition, CreateTable, Node, Parameter, Variable

from .subject import Subject


def local_columns(subject: Subject) -> dict[str, list[Column]]:
    """Return the columns of the tables that a statement itself makes, by the table's name."""
    known: dict[str, list[Column]] = subject.memory.setdefault("local tables", {})  # type: ignore[assignment]
    if not known and subject.by_kind.keys() & {CreateTable, Variable, Parameter}:
        for table in subject.all(CreateTable):
            if table is not subject.tree and table.columns:
                known[table.name[-1]] = _columns(table.columns, subject)
        typed: list[Variable | Parameter] = [*subject.all(Variable), *subject.all(Parameter)]
        for each in typed:
            if each.type is not None and each.type.name == "TABLE":
                known[each.name] = _columns(_inside(each, subject), subject)
    return known


def local_keys(name: str, subject: Subject) -> list[list[str]]:
    """Return the columns of each primary or unique key of a table that a statement itself makes."""
    keys: list[list[str]] = []
    for table in subject.all(CreateTable):
        if table is subject.tree or table.name[-1] != name:
            continue
        for column in table.columns:
            keys += [[column.name] for each in column.constraints if each.form in ("primary key", "unique")]
        keys += [list(each.columns) for each in table.constraints if each.form in ("primary key", "unique")]
    return keys


def _inside(node: Node, subject: Subject) -> list[ColumnDefinition]:
    return [each for each in subject.all(ColumnDefinition) if node.first <= each.first and each.last <= node.last]


def _columns(definitions: list[ColumnDefinition], subject: Subject) -> list[Column]:
    return [
        Column(
            each.name,
            data_type(each.type) if each.type is not None else DataType(""),
            each.nullable,
            identity=each.identity,
            generated=subject.source(each.generated) if each.generated is not None else "",
        )
        for each in definitions
    ]
