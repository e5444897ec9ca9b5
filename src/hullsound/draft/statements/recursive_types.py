"""Types of the columns of a common table that names itself, where source and target settle them otherwise.

PostgreSQL 18, "WITH Queries", and SQL Server 2022, "WITH common_table_expression", refuse a recursive part whose columns are of
other types or lengths than those of the first part; MySQL 8.4, "Recursive Common Table Expressions", and MariaDB give them the
types of the first part, so that longer texts are refused and digits are lost.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, Cast, CommonTable, Literal, Name, Node, Operation, Paren, Query, Select, TableRef

_TYPED_BY_FIRST: Final = frozenset(("mysql", "mariadb", "db2", "teradata"))
"""Engines whose recursive columns keep the type of the first part."""
_WIDE: Final = frozenset(("oracle", "sqlite", "mysql"))
"""Engines in which a whole number may grow to eight bytes or without end, whatever its first literal is."""
_TEXTS: Final = {
    "postgresql": "text", "mysql": "CHAR(4000)", "mariadb": "CHAR(4000)", "sqlserver": "nvarchar(max)", "oracle": "varchar2(4000)",
}  # fmt: skip
_DECIMALS: Final = {"postgresql": "numeric", "mysql": "DECIMAL(65,30)", "mariadb": "DECIMAL(65,30)"}
_FLOATS: Final = {"postgresql": "double precision", "mysql": "DOUBLE", "mariadb": "DOUBLE", "sqlserver": "float"}
_WHOLE: Final = {"postgresql": "bigint", "mysql": "DECIMAL(20,0)", "mariadb": "DECIMAL(20,0)", "sqlserver": "bigint"}
_WHOLE_WITHOUT_END: Final = {
    "postgresql": "numeric", "mysql": "DECIMAL(65,0)", "mariadb": "DECIMAL(65,0)", "sqlserver": "decimal(38,0)",
}  # fmt: skip
_MOMENTS: Final = {
    "postgresql": "timestamp",
    "mysql": "DATETIME(6)",
    "mariadb": "DATETIME(6)",
    "sqlserver": "datetime2(6)",
}
_WIDTHS: Final = ("smallint", "integer", "bigint")
_FLOAT_TYPES: Final = ("double", "real", "float")


@dataclass(frozen=True)
class _Column:
    """One column: its values in the first part, and in the parts that name the table."""

    starts: list[Node]
    later: list[Node]


def add_recursive_types(common: CommonTable, rewriter: Rewriter) -> None:
    """Write casts to one type into the parts of a common table that names itself."""
    first, later = _parts(common, rewriter)
    if not first or not later:
        return
    width = len(first[0].items)
    if any(len(each.items) != width for each in (*first, *later)):
        return
    columns = [
        _Column([each.items[at].value for each in first], [each.items[at].value for each in later])
        for at in range(width)
    ]
    titles = [title.upper() for title in common.columns] or [_title(item.alias, item.value) for item in first[0].items]
    if len(titles) == width:
        recursion = _Recursion(dict(zip(titles, columns, strict=True)), rewriter)
        for column in columns:
            recursion.settle(column)


def add_types_of_null(common: CommonTable, rewriter: Rewriter) -> None:
    """Give NULL in the first part the type that a later part puts there, which PostgreSQL would take for text."""
    first, later = _parts(common, rewriter)
    if not first or not later:
        return
    titles = list(common.columns) or [_title(item.alias, item.value) for item in first[0].items]
    for item, following in zip(first[0].items, later[0].items, strict=False):
        if not (isinstance(item.value, Literal) and item.value.form == "null"):
            continue
        value = following.value
        if isinstance(value, Name) and value.parts[-1] in titles and target_type(value, rewriter) == "":
            value = first[0].items[titles.index(value.parts[-1])].value
        kind = target_type(value, rewriter)
        if kind:
            rewriter.replace(item.value.first, item.value.last, f"CAST(NULL AS {kind})")


def _parts(common: CommonTable, rewriter: Rewriter) -> tuple[list[Select], list[Select]]:
    """Return the blocks that do not name the table, and those that do; nothing where a block is no SELECT."""
    blocks = common.query.blocks if isinstance(common.query, Query) else []
    selects = [block for block in blocks if isinstance(block, Select)]
    if len(selects) != len(blocks):
        return [], []
    uses = [t.first for t in rewriter.subject.all(TableRef) if t.parts == (common.name,)]
    naming = [each for each in selects if any(each.first <= at < each.last for at in uses)]
    return [each for each in selects if each not in naming], naming


def _title(alias: str, value: Node) -> str:
    return alias.upper() or (value.parts[-1].upper() if isinstance(value, Name) else "")


class _Recursion:
    """Settles the columns of one common table."""

    def __init__(self, columns: dict[str, _Column], rewriter: Rewriter) -> None:
        self.columns = columns
        self.rewriter = rewriter
        self.source = rewriter.catalog.engine
        self.target = rewriter.target.engine

    def settle(self, column: _Column) -> None:
        """Add the casts that one column needs. Raises CannotDraft where no type is known that holds its values."""
        changing = [value for value in column.later if self._own(value) is not column]
        if not changing or all(self._is_alike(start, value) for start in column.starts for value in changing):
            return
        families = {self.rewriter.types.family(each) for each in (*column.starts, *changing)}
        if self.source in _TYPED_BY_FIRST and self._keep_first_type(column, families):
            return
        kind = self._kind(column, families)
        if not kind:
            return
        for each in column.starts:
            self._cast(each, kind)
        if self.target == "sqlserver" or (
            self.target == "postgresql" and (Family.UNKNOWN in families or kind == "date")
        ):
            for each in column.later:
                self._cast(each, kind)

    def _keep_first_type(self, column: _Column, families: set[Family]) -> bool:
        """Round what the later parts give as the source does, where the first part tells its digits."""
        if families != {Family.NUMBER} or self.target in _TYPED_BY_FIRST or len(column.starts) > 1:
            return False
        kind = target_type(column.starts[0], self.rewriter)
        if "(" not in kind:
            return False
        if self.source not in ("mysql", "mariadb"):
            raise CannotDraft("a recursive column whose numbers are cut to the digits of its first part")
        for each in column.later:
            self._cast(each, kind)
        return True

    def _kind(self, column: _Column, families: set[Family]) -> str:
        """Return the type that holds all values of a column; '' where nothing has to be written."""
        known = families - {Family.UNKNOWN}
        if known == {Family.TEXT}:
            return self._text(column)
        if known and known <= NUMBERS:
            return self._number(column, known)
        if known and known <= MOMENTS:
            return self._moment(column, known)
        return ""

    def _text(self, column: _Column) -> str:
        if any(self._is_fixed(each) for each in (*column.starts, *column.later)):
            raise CannotDraft("a recursive column of texts of a fixed length, which grow")
        if self.target == "postgresql" and all(isinstance(each, Literal) for each in column.starts):
            return ""  # of no type, and so text
        return _TEXTS[self.target]

    def _number(self, column: _Column, known: set[Family]) -> str:
        every = (*column.starts, *column.later)
        if any(target_type(each, self.rewriter).startswith(_FLOAT_TYPES) for each in self._inside(every)):
            return _FLOATS.get(self.target, "")
        if known == {Family.INTEGER}:
            return self._whole(column)
        if self.target == "sqlserver":
            raise CannotDraft("a recursive column of numbers whose digits grow")
        return _DECIMALS.get(self.target, "")

    def _whole(self, column: _Column) -> str:
        grows = any(self._grows(each) for each in column.later)
        if grows and self.source in _WIDE:
            return (_WHOLE_WITHOUT_END if self.source == "oracle" else _WHOLE).get(self.target, "")
        start = max(map(self._width, column.starts))
        return _WHOLE.get(self.target, "") if max(map(self._width, column.later)) > start else ""

    def _moment(self, column: _Column, known: set[Family]) -> str:
        if any("zone" in target_type(each, self.rewriter) or "tz" in target_type(each, self.rewriter)
               for each in (*column.starts, *column.later)):  # fmt: skip
            return ""
        if known == {Family.DATE} and self.source != "oracle":
            return "date" if self.target in ("postgresql", "sqlserver") else ""
        return _MOMENTS.get(self.target, "")

    def _own(self, value: Node) -> _Column | None:
        """Return the column of the common table that a value names."""
        if isinstance(value, Paren):
            return self._own(value.inner)
        if not isinstance(value, Name) or self.rewriter.columns.column(value) is not None:
            return None
        return self.columns.get(value.parts[-1].upper())

    def _is_alike(self, start: Node, value: Node) -> bool:
        """Whether the type of a value is that of the first part in every engine: both name it or a column of it."""
        own = self._own(value)
        if own is not None:
            return all(self._is_alike(start, each) for each in own.starts)
        one, other = self.rewriter.types.source_type(start), self.rewriter.types.source_type(value)
        named = isinstance(start, Name | Cast) and isinstance(value, Name | Cast)
        return named and one is not None and other is not None and one == other

    def _is_fixed(self, value: Node) -> bool:
        kind = target_type(value, self.rewriter) if self.rewriter.types.source_type(value) is not None else ""
        return kind.lower().startswith(("char", "nchar"))

    def _grows(self, value: Node) -> bool:
        """Whether a value multiplies columns of the common table, or adds one of them to another column."""
        if isinstance(value, Paren):
            return self._grows(value.inner)
        names = [each for each in self._inside([value]) if isinstance(each, Name)]
        multiplied = any(isinstance(each, Operation) and "*" in each.operators for each in self._operations(value))
        return bool(names) and (multiplied or len(names) > 1)

    def _operations(self, value: Node) -> Iterator[Operation]:
        for each in self.rewriter.subject.all(Operation):
            if value.first <= each.first and each.last <= value.last:
                yield each

    def _inside(self, values: Sequence[Node]) -> Iterator[Node]:
        """Yield the values and what names, calls and casts they hold."""
        yield from values
        for kind in (Name, Call, Cast):
            for each in self.rewriter.subject.all(kind):
                if any(value.first <= each.first and each.last <= value.last for value in values):
                    yield each

    def _width(self, value: Node) -> int:
        """Return the place in _WIDTHS of the type that a whole number has on the target."""
        own = self._own(value)
        if own is not None:
            return max(map(self._width_of_type, own.starts))
        if isinstance(value, Name | Cast | Call | Literal):
            return self._width_of_type(value)
        inside = [each for each in self._inside([value]) if each is not value]
        return max((self._width(each) for each in inside), default=1)

    def _width_of_type(self, value: Node) -> int:
        if isinstance(value, Literal):
            return 1
        kind = target_type(value, self.rewriter)
        return next(
            (place for place, name in enumerate(_WIDTHS) if kind.startswith((name, name.replace("eger", "")))), 1
        )

    def _cast(self, value: Node, kind: str) -> None:
        self.rewriter.wrap(value, lambda r: f"CAST({r.node(value)} AS {kind})", rank=8)
