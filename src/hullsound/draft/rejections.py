"""What the target would reject in a draft by its rules of names and types, so that such drafts are not promised.

Drafts are read again as the target's own text, beside the tables as they are drafted. No engine takes names of columns that a
table has not. PostgreSQL compares and keeps values of different families only where a cast is implicit, which other engines
do by themselves (PostgreSQL 18, "Type Conversion"); only pairs of which both kinds are known count.
"""

import re
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import Catalog, Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.catalog.settle import settle
from hullsound.knowledge.model import Target
from hullsound.sight.subject import Subject
from hullsound.sql.dialect import load_dialect
from hullsound.sql.literals import string_content
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import (
    AlterTable,
    AnonymousBlock,
    ColumnDefinition,
    Comparison,
    ConstraintDefinition,
    CreateIndex,
    CreateRoutine,
    CreateTrigger,
    Delete,
    Insert,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Row,
    Select,
    SelectItem,
    TableRef,
    Update,
)
from hullsound.survey.files import ScriptFile
from hullsound.survey.scripts import ScriptSurvey

from .local_tables import local_columns
from .rewrite import Rewriter
from .row_keys import RowKeys, rows_at
from .truth import inserted_literals, inserted_types
from .values import choices_of, kind_of, kind_of_type
from .write import DraftSet

_READ_AGAIN: Final = ("postgresql", "mysql", "mariadb")
"""Targets whose drafts are read again."""
_TYPED: Final = "postgresql"
"""The target whose rules of types are asked as well."""
_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">="))
_ARITHMETIC: Final = frozenset("+-*/%")
_CONNECTED: Final = frozenset(("AND", "OR", "NOT"))
_FAMILIES: Final = {"integer": "number", "date": "timestamp", "bits": "", "json": "", "uuid": ""}
"""Kinds that mix with another, or of which nothing is said ('')."""
_BORROWING: Final = re.compile(r"(?i)^[^(]*(?:\(\s*LIKE\b|\b(?:AS|LIKE)\b|\bPARTITION\s+OF\b)")
"""Beginnings of tables that take columns from elsewhere."""
_READABLE: Final = {
    "integer": re.compile(r"\s*[+-]?\d+\s*"),
    "number": re.compile(
        r"\s*[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?\s*|\s*[+-]?(?:NaN|inf(?:inity)?)\s*", re.IGNORECASE
    ),
    "timestamp": re.compile(r"(?!.*\d:\d\d:\d\d:\d).*", re.DOTALL),
}
"""Texts that a column of numbers takes, and those that one of timestamps may take: a fraction stands behind a point, where
Transact-SQL lets it stand behind a colon as well (PostgreSQL 18, "Numeric Types", "Date/Time Types")."""
_NAMES_OF_ITS_OWN: Final = frozenset(
    """CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER SESSION_USER USER CURRENT_ROLE
    CURRENT_SCHEMA CURRENT_CATALOG DEFAULT CTID XMIN TABLEOID UTC_DATE UTC_TIME UTC_TIMESTAMP""".split()
)
"""Names that are no columns of a table's own: PostgreSQL 18, "Session Information Functions", "Date/Time Functions"."""
_UNITS: Final = frozenset(
    f"{first}{rest}"
    for first in ("MICROSECOND", "SECOND", "MINUTE", "HOUR", "DAY", "WEEK", "MONTH", "QUARTER", "YEAR")
    for rest in ("", "_MICROSECOND", "_SECOND", "_MINUTE", "_HOUR", "_MONTH")
)
"""Units of INTERVAL in MySQL and MariaDB, and more words that no column is called."""
_CHECKED: Final = frozenset(
    (ObjectType.TABLE, ObjectType.INDEX, ObjectType.CONSTRAINT, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.DATA,
     ObjectType.CHANGE, ObjectType.QUERY, ObjectType.PROCEDURE, ObjectType.FUNCTION, ObjectType.TRIGGER,
     ObjectType.PACKAGE_BODY, ObjectType.BLOCK, ObjectType.EVENT)
)  # fmt: skip


def take_back_rejected(made: DraftSet, catalog: Catalog, target: Target) -> None:
    """Note in each promised draft why its target would reject it."""
    if target.engine not in _READ_AGAIN or catalog.engine == target.engine == _TYPED:
        return
    rejections = Rejections(target, RowKeys(catalog))
    rejections.add_tables(
        (d.object.id, d.object.default_schema or d.object.schema, d.text)
        for d in made.drafts
        if d.object.type is ObjectType.TABLE and d.text
    )
    rejections.partly_known = frozenset(
        item.name.lower() for item in catalog.objects.values() if "not created" in item.details
    )
    for draft in made.drafts:
        if draft.is_promised and draft.is_finished and not draft.is_own:
            reason = rejections.find(draft.object, draft.text)
            if reason:
                draft.skipped.append(("", draft.object.line, reason))


class Rejections:
    """What the columns of drafted tables are, and which drafts do not fit them."""

    def __init__(self, target: Target, row_keys: RowKeys) -> None:
        self.target = target
        self.row_keys = row_keys
        self.partly_known: frozenset[str] = frozenset()
        """Names of tables that the source never creates: only those of their columns are known that it adds."""
        self.catalog = Catalog(target.engine)
        self.dialect = load_dialect(target.engine)

    def add_tables(self, tables: Iterable[tuple[str, str, str]]) -> None:
        """Take the drafts of all tables as (id, schema that names without one mean, text)."""
        by_schema: dict[str, dict[str, ScriptFile]] = {}
        for name, schema, text in tables:
            by_schema.setdefault(schema, {})[name] = ScriptFile(name, f"{text}\n", "")
        for schema, files in by_schema.items():
            ScriptSurvey(self.catalog, self.dialect, files, lambda _: None, schema).run()
        settle(self.catalog)

    def find(self, item: Object, text: str) -> str:
        """Return why the target would reject the draft of an object, '' where nothing speaks against it."""
        if item.type not in _CHECKED or (item.type is ObjectType.TABLE and " DEFAULT " not in text):
            return ""
        for read in read_script(f"{text}\n", self.dialect).statements():
            rewriter = Rewriter(Subject(read, Scope(read), self.target.engine), self.catalog, self.target, "")
            rewriter.default_schema = item.default_schema or item.schema
            reason = next(self._reasons(read, rewriter), "")
            if reason:
                return f"the target rejects {reason}"
            for insert in read.all(Insert):
                name = insert.table.parts[-1].strip('"').lower() if insert.table is not None else ""
                if name in self.partly_known and not insert.columns:
                    return (
                        f"values without the names of their columns, of a table that the source never creates: {name}"
                    )
            repeated = self.row_keys.repeated(read) if item.type in (ObjectType.DATA, ObjectType.CHANGE) else ""
            if repeated:
                return f"an earlier row has the same key: {repeated}"
        return ""

    def _reasons(self, read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
        yield from _missing_columns(read, rewriter)
        if self.target.engine == _TYPED:
            yield from _unlike_types(read, rewriter)


def _unlike_types(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    for node in read.all(Operation):
        yield from _operation_reasons(node, rewriter)
    for comparison in read.all(Comparison):
        if comparison.operator in ("IN", "BETWEEN"):
            first, *others = comparison.operands
            for other in others:
                for value in other.items if isinstance(other, Row) else [other]:
                    yield from _pair_reason(first, value, rewriter)
    for column in read.all(ColumnDefinition):
        if column.default is not None and column.type is not None:
            yield from _kept_reason(kind_of_type(data_type(column.type), rewriter), column.default, rewriter)
    for update in read.all(Update):
        for place, value in update.assignments:
            yield from _kept_reason(kind_of(place, rewriter), value, rewriter)
    for insert in read.all(Insert):
        yield from _insert_reasons(insert, rewriter)


# --- names ---


def _missing_columns(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    """Say which columns a change, an index or a key names that its drafted table has not."""
    for insert in read.all(Insert):
        if insert.table is not None:
            yield from _missing(insert.table.parts, (column.parts[-1] for column in insert.columns), rewriter)
    for update in read.all(Update):
        if isinstance(update.table, TableRef):
            names = (
                place.parts[0] for place, _ in update.assignments if isinstance(place, Name) and len(place.parts) == 1
            )
            yield from _missing(update.table.parts, names, rewriter)
    tree = read.tree
    if isinstance(tree, CreateIndex):
        yield from _missing_keys(tree, tree.table, rewriter)
    elif isinstance(tree, AlterTable):
        for constraint in tree.constraints:
            yield from _missing(tree.name, constraint.columns, rewriter)
            if rewriter.target.engine == _TYPED:
                yield from _unlike_keys(tree.name, constraint, rewriter)
        for index in tree.indexes:
            yield from _missing_keys(index, tree.name, rewriter)
    elif isinstance(tree, CreateTrigger):
        rows = (name.parts[1] for name in read.all(Name) if len(name.parts) == 2 and name.parts[0] in ("NEW", "OLD"))
        yield from _missing(tree.table, rows, rewriter)
    elif not isinstance(tree, CreateRoutine | AnonymousBlock):  # whose variables are names as well
        yield from _missing_in_block(read, rewriter)


def _missing_keys(index: CreateIndex, table: tuple[str, ...], rewriter: Rewriter) -> Iterator[str]:
    values = (_inner(key.value) for key in index.keys)
    yield from _missing(table, (value.parts[-1] for value in values if isinstance(value, Name)), rewriter)


def _missing_in_block(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    """Say which names of a statement over a single table are no columns of it."""
    selects, tree = read.all(Select), read.tree
    table: Node
    within: Node
    if len(selects) == 1 and len(selects[0].sources) == 1 and not isinstance(tree, Update | Delete):
        table, within = selects[0].sources[0], selects[0]
    elif not selects and isinstance(tree, Update | Delete) and len(read.all(TableRef)) == 1:
        table, within = tree.table, tree
    else:
        return
    if isinstance(table, TableRef):
        known = {item.alias for item in read.all(SelectItem)} | _NAMES_OF_ITS_OWN | {table.alias, table.parts[-1]}
        known |= _UNITS if rewriter.target.engine != _TYPED else set()
        names = (
            name.parts[0]
            for name in read.all(Name)
            if len(name.parts) == 1 and within.first <= name.first < within.last
        )
        yield from _missing(table.parts, (name for name in names if name not in known), rewriter)


def _unlike_keys(name: tuple[str, ...], key: ConstraintDefinition, rewriter: Rewriter) -> Iterator[str]:
    """Say where a foreign key and the key that it refers to are of types that PostgreSQL cannot compare."""
    if key.form != "foreign key" or not key.reference_columns:
        return
    own, other = (rewriter.catalog.table(parts, rewriter.default_schema) for parts in (name, key.references))
    if own is None or other is None:
        return
    for mine, theirs in zip(key.columns, key.reference_columns, strict=False):
        kinds = [
            _FAMILIES.get(kind, kind)
            for table, wanted in ((own, mine), (other, theirs))
            for column in table.columns if column.name == wanted
            for kind in (kind_of_type(column.type, rewriter),)
        ]  # fmt: skip
        if len(kinds) == 2 and "" not in kinds and kinds[0] != kinds[1]:
            yield f"a foreign key of type {kinds[0]} that refers to a {kinds[1]}: {mine.lower()}"


def _missing(parts: tuple[str, ...], names: Iterable[str], rewriter: Rewriter) -> Iterator[str]:
    if not parts or parts[-1] in local_columns(rewriter.subject):
        return
    table = rewriter.catalog.table(parts, rewriter.default_schema)
    if table is None or table.type is not ObjectType.TABLE or not table.columns:
        return
    if "query" in table.details or _BORROWING.search(table.text):
        return
    columns = {column.name.strip('"').lower() for column in table.columns}
    for name in names:
        if name.strip('"').lower() not in columns:
            yield f"the column {name.lower()} is not in the table {table.name.lower()}"


# --- types ---


def _operation_reasons(node: Operation, rewriter: Rewriter) -> Iterator[str]:
    operators = set(node.operators)
    if operators <= _COMPARED and len(node.operands) == 2:
        yield from _pair_reason(node.operands[0], node.operands[1], rewriter)
    elif operators <= _ARITHMETIC and len(node.operands) > 1:
        for operand in node.operands:
            kind = _kind(operand, rewriter)
            if kind in ("text", "boolean", "bytes") and not _is_open(operand):
                yield f"arithmetic with a {kind}: {_shown(operand, rewriter)}"
    elif operators <= _CONNECTED:
        for operand in node.operands:
            kind = _kind(operand, rewriter)
            if kind not in ("", "boolean") and not _is_open(operand):
                yield f"a condition that is a {kind}: {_shown(operand, rewriter)}"


def _pair_reason(one: Node, other: Node, rewriter: Rewriter) -> Iterator[str]:
    for place, value in ((one, other), (other, one)):
        if _is_open(value):
            is_column = isinstance(_inner(place), Name)
            yield from _unreadable(kind_of(place, rewriter), value, rewriter) if is_column else ()
            return
    kinds = _kind(one, rewriter), _kind(other, rewriter)
    if "" not in kinds and kinds[0] != kinds[1]:
        yield f"a {kinds[0]} compared with a {kinds[1]}: {_shown(one, rewriter)}, {_shown(other, rewriter)}"


def _kept_reason(wanted: str, value: Node, rewriter: Rewriter) -> Iterator[str]:
    """Say where a value is kept in a column that takes it neither as it is nor by an assignment cast; texts take all."""
    if _is_open(value):
        yield from _unreadable(wanted, value, rewriter)
        return
    given, column = _kind(value, rewriter), _FAMILIES.get(wanted, wanted)
    if given and column and given != column and column != "text":
        yield f"a {given} kept in a column of type {column}: {_shown(value, rewriter)}"


def _unreadable(wanted: str, value: Node, rewriter: Rewriter) -> Iterator[str]:
    """Say where a text literal stands for a number or timestamp and cannot be read as one."""
    pattern = _READABLE.get(wanted)
    value = _inner(value)
    if pattern is not None and isinstance(value, Literal) and value.form == "string":
        text = rewriter.subject.source(value)
        if text.startswith("'") and not pattern.fullmatch(string_content(text, _TYPED)):
            yield f"the text {text[:40]} where a {wanted} is wanted"


def _insert_reasons(insert: Insert, rewriter: Rewriter) -> Iterator[str]:
    kinds = [kind_of_type(each, rewriter) for each in inserted_types(insert, rewriter)]
    if insert.query is not None:
        for block in insert.query.blocks:
            if isinstance(block, Select) and len(block.items) == len(kinds):
                for kind, item in zip(kinds, block.items, strict=True):
                    yield from _kept_reason(kind, item.value, rewriter)
    if insert.table is None or rewriter.words[rows_at(insert)] != "VALUES":
        return
    places = {
        place for place, kind in enumerate(kinds) if kind in ("integer", "number", "date", "timestamp", "boolean")
    }
    for place, literal in inserted_literals(insert, places, rewriter):
        yield from _kept_reason(kinds[place], literal, rewriter)


def _kind(node: Node, rewriter: Rewriter) -> str:
    """Return the family of a value, '' where any part of it is not known: intervals among others."""
    node = _inner(node)
    if isinstance(node, Operation):
        return _operation_kind(node, rewriter)
    choices = choices_of(node)
    if choices:
        kinds = {_kind(each, rewriter) for each in choices if not _is_open(each)}
        return kinds.pop() if len(kinds) == 1 else ""
    kind = kind_of(node, rewriter)
    return _FAMILIES.get(kind, kind)


def _operation_kind(node: Operation, rewriter: Rewriter) -> str:
    operators = set(node.operators)
    if operators <= _COMPARED | _CONNECTED:
        return "boolean"
    if operators == {"||"}:
        return "text" if any(_kind(operand, rewriter) == "text" for operand in node.operands) else ""
    is_number = operators <= _ARITHMETIC and {_kind(operand, rewriter) for operand in node.operands} == {"number"}
    return "number" if is_number else ""


def _inner(node: Node) -> Node:
    while isinstance(node, Paren):
        node = node.inner
    return node


def _is_open(node: Node) -> bool:
    """Whether PostgreSQL reads a value as whatever stands beside it: text literals and NULL."""
    node = _inner(node)
    return isinstance(node, Literal) and node.form in ("string", "null")


def _shown(node: Node, rewriter: Rewriter) -> str:
    return " ".join(rewriter.tokens.source(node.first, node.last).split())[:60]
