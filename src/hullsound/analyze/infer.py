"""The types of the expressions of one statement, each found once, with the catalogue at hand."""

import re
from collections.abc import Callable, Iterator, Sequence
from functools import cached_property, partial
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.definitions import cast_type
from hullsound.catalog.model import DataType, Object, ObjectType
from hullsound.knowledge.load import load_signatures
from hullsound.knowledge.types import logical_type, parse_type
from hullsound.sql.dialect import Grammar, load_dialect
from hullsound.sql.tree import (
    Bind,
    Call,
    Case,
    Cast,
    CommonTable,
    Comparison,
    CursorDeclaration,
    DerivedTable,
    Literal,
    Loop,
    Name,
    Node,
    Operation,
    Paren,
    Parts,
    Query,
    Select,
    Subquery,
    TypedLiteral,
)

from .columns import Columns
from .members import ENGINES, counted_members
from .records import declared_type, field_type
from .signatures import choices_of, is_null, signature_of
from .subject import Subject
from .types import CUTTING, NUMBERS, POWERS_OF_FIRST_TYPE, Family, family_of_logical

_MOVING: Final = frozenset(("DATE_ADD", "DATE_SUB", "ADDDATE", "SUBDATE"))
_WHOLE_DAYS: Final = ("DAY", "WEEK", "MONTH", "QUARTER", "YEAR")
_REGISTERS: Final = {"CURRENT DATE": Family.DATE, "CURRENT TIME": Family.TIME, "CURRENT TIMESTAMP": Family.TIMESTAMP}
"""Special registers of Db2 that tell the time, written with a blank."""
_OF_METHOD: Final = {"GETLEVEL": Family.INTEGER, "ISDESCENDANTOF": Family.BOOLEAN, "TOSTRING": Family.TEXT}
"""Methods of paths in a tree, and the families of their values."""
_ON_BITS: Final = frozenset(("&", "|", "<<", ">>", "~"))
_VALUE: Final = re.compile(r"-?\d+(\.\d+)?|\d{4}-\d\d-\d\d( \d\d:\d\d(:\d\d)?)?|\d{1,2}:\d\d(:\d\d)?")
_COMPARISONS: Final = frozenset(
    ("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "AND", "OR", "NOT", "&&", "XOR", "!", "!<", "!>")
)
_LITERALS: Final = {
    "number": Family.NUMBER, "string": Family.TEXT, "true": Family.BOOLEAN, "false": Family.BOOLEAN,
}  # fmt: skip
_TYPED_LITERALS: Final = {"DATE": Family.DATE, "TIMESTAMP": Family.TIMESTAMP, "TIME": Family.TIME}
_MOMENTS: Final = (Family.TIMESTAMP, Family.DATE)
_ROUNDED: Final = frozenset(("FLOOR", "CEIL", "CEILING"))
_ROUNDED_TO_FLOATS: Final = frozenset(("postgresql",))
"""Engines in which whole numbers that are rounded become floating-point numbers."""
_WHOLE_AVERAGES: Final = frozenset(("sqlserver", "ase", "db2"))
"""Engines in which the average of whole numbers is a whole number."""
_COUNTING: Final = frozenset(("COUNT", "SUM", "ROW_NUMBER", "RANK", "DENSE_RANK"))
_LONG: Final = frozenset(("BIGINT", "INT8", "BIGSERIAL", "SERIAL8"))
"""What counts in eight bytes in PostgreSQL, and types of them."""
_NEVER_NULL: Final = frozenset(("SYSDATE", "SYSTIMESTAMP", "CURRENT_DATE", "CURRENT_TIMESTAMP", "USER"))
_REPLACING: Final = frozenset(("NVL", "COALESCE", "IFNULL", "ISNULL", "VALUE"))


class Types:
    """Says of which type each expression of a statement is."""

    def __init__(self, subject: Subject, catalog: Catalog, owner: str) -> None:
        self.subject = subject
        self.catalog = catalog
        self.engine = catalog.engine
        self.columns = Columns(
            subject, catalog, owner, partial(_types_within, catalog)
        )  # which must not hold these types
        self._families: dict[Node, Family] = {}
        self._asked: set[str] = set()
        """Names of columns whose family is asked for just now, against queries that read themselves."""

    # --- members of enumerations ---

    @cached_property
    def counted_members(self) -> dict[Node, DataType]:
        """Return the columns of enumerations that count by the place of their member, with their types."""
        self.__dict__["counted_members"] = {}  # while others are asked for their families
        found = counted_members(self) if self.engine in ENGINES and self._has_members() else {}
        if found:
            self._families.clear()
        return found

    def _has_members(self) -> bool:
        return any(self.member_type(name) is not None for name in self.subject.all(Name))

    def member_type(self, node: Name) -> DataType | None:
        """Return the enumeration that a column is of, also where a common or derived table gives it; None for other values."""
        key = f"type of {'.'.join(node.parts)}"
        source = self.source_type(node)
        if source is not None or key in self._asked:
            return source if source is not None and source.name == "ENUM" and source.arguments else None
        self._asked.add(key)
        try:
            kinds = [self.member_type(item) for item in self._items_in_query(node) if isinstance(item, Name)]
        finally:
            self._asked.discard(key)
        return kinds[0] if kinds else None

    # --- families ---

    def family(self, node: Node) -> Family:
        """Return the family of an expression's value; UNKNOWN where the statement and the catalogue do not tell it."""
        found = self._families.get(node)
        if found is None:
            found = self._find_family(node)
            if not self._asked:  # what is found on the way round a circle holds only there
                self._families[node] = found
        return found

    def family_of(self, source: DataType | None) -> Family:
        """Return the family of the values of a source type; UNKNOWN if it is not known."""
        if source is None:
            return Family.UNKNOWN
        if source.name.split(" ")[0] in ("SIGNED", "UNSIGNED"):
            return Family.INTEGER
        logical = logical_type(self.engine, source)
        return family_of_logical(logical.kind) if logical is not None else Family.UNKNOWN

    def _find_family(self, node: Node) -> Family:
        match node:
            case Literal():
                if node.form == "number" and self.subject.words[node.first].isdecimal():
                    return Family.INTEGER
                return _LITERALS.get(node.form, Family.UNKNOWN)
            case TypedLiteral():
                return _TYPED_LITERALS.get(node.form, Family.UNKNOWN)
            case Paren():
                return self.family(node.inner)
            case Name():
                return self._family_of_name(node)
            case Cast():
                return self.family_of(cast_type(node.type, self.engine))
            case Case():
                return self._family_among(choices_of(node, self.engine))
            case Call():
                return self._family_of_call(node)
            case Comparison():
                return Family.NUMBER if node.operator == "MATCH" else Family.BOOLEAN
            case Subquery():
                return Family.BOOLEAN if node.form else self._family_of_query(node.query)
            case Operation():
                return self._family_of_operation(node)
        return Family.UNKNOWN

    def _family_of_name(self, node: Name) -> Family:
        if node in self.counted_members:
            return Family.INTEGER
        source = self.source_type(node)
        if source is not None:
            return self.family_of(source)
        if any(each.form == "range" and (each.variable,) == node.parts for each in self.subject.all(Loop)):
            return Family.INTEGER
        built_in = load_signatures(self.engine).get(node.parts[0]) if len(node.parts) == 1 else None
        bare = family_of_logical(built_in.gives) if built_in is not None and built_in.bare else Family.UNKNOWN
        bare = _REGISTERS.get(node.parts[-1], bare)
        return self._family_in_record(node) or self._family_in_query(node) or bare

    def _family_of_call(self, node: Call) -> Family:
        name = node.parts[-1]
        if name in _OF_METHOD and len(node.parts) > 1:
            return _OF_METHOD[name]
        if name == "EXTRACT" and node.opening >= 0 and self.subject.words[node.opening + 1] == "SECOND":
            return Family.NUMBER
        if name in _ROUNDED and self.engine in CUTTING and node.arguments:
            is_whole = self.family(node.arguments[0]) is Family.INTEGER and self.engine not in _ROUNDED_TO_FLOATS
            return Family.INTEGER if is_whole else Family.NUMBER
        if name == "SUM" and self.engine in CUTTING and node.arguments:
            return self._family_of_sum(node.arguments[0])
        if name == "AVG" and self.engine in _WHOLE_AVERAGES and node.arguments:
            return Family.INTEGER if self.family(node.arguments[0]) is Family.INTEGER else Family.NUMBER
        if name == "POWER" and self.engine in (*POWERS_OF_FIRST_TYPE, "db2"):
            deciding = node.arguments if self.engine == "db2" else node.arguments[:1]
            return Family.INTEGER if {self.family(each) for each in deciding} == {Family.INTEGER} else Family.NUMBER
        signature = signature_of(node, self.engine)
        if signature is not None and signature.argument < 0:
            first = self.family(node.arguments[0]) if name == "ROUND" and node.arguments else Family.UNKNOWN
            return first if first in _MOMENTS else family_of_logical(signature.gives)
        if len(node.parts) == 1 and name == "ISNULL":
            return Family.BOOLEAN if len(node.arguments) == 1 else self.family(node.arguments[0])
        choices = choices_of(node, self.engine)
        if choices:
            family = self._family_among(choices)
            if family is Family.DATE and name in _MOVING and self._counts_hours(node.arguments[1]):
                return Family.TIMESTAMP
            # What is moved by an interval is a moment, be it written as a text or as a number of days.
            written = (Family.TEXT, Family.INTEGER, Family.NUMBER)
            if name == "DATEADD" and family in written:
                return Family.TIMESTAMP
            return family or family_of_logical(signature.gives if signature is not None else "")
        return self.family_of(self.source_type(node))

    def _family_among(self, nodes: Sequence[Node]) -> Family:
        """Return the family of several values of which an expression gives one: of the first that is known.

        Whole numbers are only whole where all of them are, and days beside moments are moments.
        """
        nodes = [node for node in nodes if not is_null(node)]
        families = [self.family(node) for node in nodes]
        if Family.TEXT in families and self.engine in ("mysql", "mariadb"):
            texts = [node for node, family in zip(nodes, families, strict=True) if family is Family.TEXT]
            if not all(self.is_constant_value(text) for text in texts):
                return Family.TEXT
        first = next((family for family in families if family), Family.UNKNOWN)
        if first is Family.DATE and Family.TIMESTAMP in families:
            return Family.TIMESTAMP
        return Family.NUMBER if first is Family.INTEGER and set(families) != {Family.INTEGER} else first

    def _family_of_operation(self, node: Operation) -> Family:
        if set(node.operators) & _COMPARISONS:
            return Family.BOOLEAN
        if set(node.operators) == {"||"}:
            return Family.TEXT
        if node.operators == ["INTERVAL"]:
            return Family.UNKNOWN
        families = [self.family(operand) for operand in node.operands]
        if set(node.operators) <= _ON_BITS and set(families) <= NUMBERS:
            return Family.INTEGER
        if node.operators == ["COLLATE"] or len(families) == 1:
            return families[0]
        for wanted in (*_MOMENTS, Family.TIME):
            if wanted in families:
                moments = sum(family is wanted or family in _MOMENTS for family in families)
                if moments > 1 and "-" in node.operators and self.engine not in ("sqlserver", "ase"):
                    return Family.NUMBER if self.engine == "oracle" else Family.INTEGER
                moves = wanted is Family.DATE and any(self._makes_timestamp(each) for each in node.operands)
                return Family.TIMESTAMP if moves else wanted
        if Family.TEXT in families and set(node.operators) == {"+"} and NUMBERS.isdisjoint(families):
            return Family.TEXT  # beside a number, the text is read as one
        is_whole = bool(families) and set(families) == {Family.INTEGER}
        if "/" in node.operators and self.engine not in CUTTING:
            is_whole = False
        return Family.INTEGER if is_whole else Family.NUMBER

    def _makes_timestamp(self, span: Node) -> bool:
        """Whether a date that a span moves becomes a timestamp: by any span in PostgreSQL, elsewhere by hours and less."""
        return self._counts_hours(span) or (self.engine == "postgresql" and self.is_span(span))

    def is_span(self, node: Node) -> bool:
        """Whether a value is written as an interval, or as one that is multiplied."""
        match node:
            case Paren():
                return self.is_span(node.inner)
            case TypedLiteral():
                return node.form.upper().startswith("INTERVAL")
            case Cast():
                return node.type.name == "INTERVAL"
            case Operation():
                return node.operators == ["INTERVAL"] or (
                    node.operators == ["*"] and any(self.is_span(each) for each in node.operands)
                )
        return False

    def _counts_hours(self, span: Node) -> bool:
        """Whether a span is written as INTERVAL n of a unit that is shorter than a day."""
        is_interval = isinstance(span, Operation) and span.operators == ["INTERVAL"]
        return is_interval and not self.subject.words[span.last - 1].startswith(_WHOLE_DAYS)

    def _family_of_query(self, query: Query) -> Family:
        block = query.blocks[0] if query.blocks else None
        return self.family(block.items[0].value) if isinstance(block, Select) and block.items else Family.UNKNOWN

    def _family_in_record(self, name: Name) -> Family:
        """Return the family of a field of a record: a row of a cursor, or that of a loop over a query."""
        found = self._type_in_record(name)
        if found is not None:
            return self.family_of(found)
        return next(filter(None, map(self.family, self._items_in_record(name))), Family.UNKNOWN)

    def _type_in_record(self, name: Name) -> DataType | None:
        """Return the type of a field of a record, of a row of a table, or of what a query gives to one."""
        scope = self.subject.scope
        if len(name.parts) != 2 or name.parts[0] not in scope.declared:
            return None
        kind = scope.type_at(name.parts[0], name)
        if kind is not None and load_dialect(self.engine).grammar is Grammar.PLSQL:
            found = field_type(kind, name.parts[1], self.columns)
            if found is not None:
                return found
        if kind is not None and kind.borrowed == "ROWTYPE":
            table = self.columns.table(kind.reference)
            of_table = [c.type for c in table.columns if c.name == name.parts[1]] if table is not None else []
            if of_table:
                return of_table[0]
        types = map(self.source_type, self._items_in_record(name))
        return next((each for each in types if each is not None), None)

    def _items_in_record(self, name: Name) -> Iterator[Node]:
        """Yield the values that queries give to a field: of a loop, and of the cursor whose row the record is."""
        subject = self.subject
        if len(name.parts) != 2 or name.parts[0] not in subject.scope.declared:
            return
        kind = subject.scope.type_at(name.parts[0], name)
        queries: list[Node | None] = [
            loop.bounds[0] for loop in subject.all(Loop) if loop.variable == name.parts[0] and loop.bounds
        ]
        if kind is not None and kind.borrowed == "ROWTYPE":
            queries += [c.query for c in subject.all(CursorDeclaration) if c.name == kind.reference[-1]]
        for query in queries:
            inner = query.query if isinstance(query, Subquery) else query
            item = _item(name.parts[1], [], inner) if inner is not None else None
            if item is not None:
                yield item

    def _type_of_element(self, call: Call) -> DataType | None:
        """Return the type of an element of a list of PL/SQL: name(place)."""
        scope = self.subject.scope
        if len(call.parts) != 1 or call.parts[0] not in scope.declared or self.engine != "oracle":
            return None
        kind = scope.type_at(call.parts[0], call)
        return field_type(kind, "", self.columns) if kind is not None and not kind.borrowed else None

    def _family_in_query(self, name: Name) -> Family:
        """Return the family of a column that a common table or a derived table of the statement gives."""
        key = ".".join(name.parts)
        if key in self._asked:
            return Family.UNKNOWN
        self._asked.add(key)
        try:
            return next(filter(None, map(self.family, self._items_in_query(name))), Family.UNKNOWN)
        finally:
            self._asked.discard(key)

    def _items_in_query(self, name: Name) -> Iterator[Node]:
        """Yield the values that common tables and derived tables of the statement give under a name."""
        subject = self.subject
        alias = name.parts[-2] if len(name.parts) > 1 else ""
        tables: list[tuple[str, list[str], Node]] = [(t.name, t.columns, t.query) for t in subject.all(CommonTable)]
        # A derived table does not see its own titles; a common table may read itself.
        derived = [t for t in subject.all(DerivedTable) if not (t.first <= name.first and name.last <= t.last)]
        tables += [(t.alias, [], t.query) for t in derived]
        names = {t.alias: t.parts[-1] for t in subject.scope.tables if t.alias}
        for title, columns, query in tables:
            item = _item(name.parts[-1], columns, query) if not alias or title in (alias, names.get(alias)) else None
            if item is not None:
                yield item

    def _family_of_sum(self, value: Node) -> Family:
        """The sum of whole numbers is whole; PostgreSQL sums those of eight bytes up as decimal numbers."""
        family = self.family(value)
        is_whole = family is Family.INTEGER and not (self.engine == "postgresql" and self._may_be_long(value))
        return Family.INTEGER if is_whole else Family.NUMBER

    def _may_be_long(self, value: Node) -> bool:
        """Whether whole numbers of eight bytes are among what a value is made of."""
        subject = self.subject
        inside = [each for kind in (Name, Call, Cast) for each in subject.all(kind)
                  if value.first <= each.first and each.last <= value.last]  # fmt: skip
        for each in inside:
            if isinstance(each, Call) and each.parts[-1] in _COUNTING:
                return True
            kind = self.source_type(each)
            if kind is not None and kind.name in _LONG:
                return True
            if kind is None and isinstance(each, Name) and any(map(self._may_be_long, self._items_in_query(each))):
                return True
        return False

    # --- types of the source ---

    def source_type(self, node: Node) -> DataType | None:
        """Return the source's type of a column, variable, cast or call of the catalogue's own functions; None if unknown."""
        if isinstance(node, Paren):
            return self.source_type(node.inner)
        if isinstance(node, Cast):
            return cast_type(node.type, self.engine)
        if isinstance(node, Call):
            return self._type_of_element(node) or self._returned_type(node.parts)
        if not isinstance(node, Name) or (isinstance(node, Bind) and len(node.parts) != 2):
            return None
        scope = self.subject.scope
        if len(node.parts) == 1 and node.parts[0] in scope.declared:
            declared = scope.type_at(node.parts[0], node)
            return declared_type(declared, self.columns) if declared is not None else None
        if len(node.parts) == 2 and node.parts[0] in scope.declared:
            found = self._type_in_record(node)
            if found is not None:
                return found
        column = self.columns.column(node)
        if column is None and self.engine == "oracle":  # a function without parameters is called without brackets
            return self._returned_type(node.parts) or self._packaged_type(node.parts)
        return column.type if column is not None else None

    def _packaged_type(self, parts: Parts) -> DataType | None:
        """Return the type of a variable or constant of a package, the routine's own or the one before the dot."""
        owner = self.catalog.objects.get(self.columns.owner)
        package = parts[-2] if len(parts) > 1 else ""
        if not package and owner is not None and owner.type in (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY):
            package = owner.name
        for item in self.catalog.with_name(package) if package else ():
            for line in item.details.get("types of variables", "").splitlines():
                name, _, text = line.partition("\t")
                if name != parts[-1]:
                    continue
                if not text.upper().endswith("%TYPE"):
                    return parse_type(text)
                *table, column = text.upper().removesuffix("%TYPE").replace('"', "").split(".")
                return self._column_type(tuple(table), column)
        return None

    def _column_type(self, table: Parts, column: str) -> DataType | None:
        found = self.columns.table(table) if table else None
        return next((each.type for each in found.columns if each.name == column), None) if found is not None else None

    def _returned_type(self, parts: Parts) -> DataType | None:
        owner = self.catalog.objects.get(self.columns.owner)
        item = self.catalog.resolve(parts, self.columns.default_schema)
        if item is None and len(parts) == 1 and owner is not None and owner.type is ObjectType.PACKAGE_BODY:
            item = owner
        if item is None:
            return None
        routines = item.routines
        if item.type in (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY):
            kin = [each for each in self.catalog.with_name(item.name) if each.schema == item.schema]
            routines = [routine for each in kin for routine in each.routines if routine.name == parts[-1]]
            if len({routine.returns for routine in routines}) > 1:  # overloaded: the arguments choose
                return None
        text = routines[0].returns if routines else ""
        return parse_type(text) if text else None

    # --- what else is asked of a value ---

    def can_be_whole(self, node: Node) -> bool:
        """Whether a value is a whole number, or a choice among whole numbers and values of which nothing is known."""
        family = self.family(node)
        if family is Family.NUMBER:
            choices = choices_of(node, self.engine)
            return bool(choices) and all(not self.family(each) or self.can_be_whole(each) for each in choices)
        return family is Family.INTEGER

    def is_constant_value(self, text: Node) -> bool:
        """Whether a text is a constant that can be read as the number or moment beside it."""
        return isinstance(text, Literal) and _VALUE.fullmatch(self.subject.source(text).strip("'\"")) is not None

    def is_never_null(self, node: Node) -> bool:
        """Whether a value cannot be NULL: a constant, a clock, what replaces NULL, or a lone table's column that takes none."""
        match node:
            case Literal():
                return not is_null(node)
            case Paren():
                return self.is_never_null(node.inner)
            case Call() if node.parts[-1] in _REPLACING:
                return any(self.is_never_null(each) for each in node.arguments)
            case Call():
                return node.parts in (("COUNT",), ("NOW",), ("GETDATE",))
            case Name() if len(node.parts) == 1 and node.parts[0] in _NEVER_NULL:
                return True
            case Name() if node.parts[0] not in self.subject.scope.declared and len(self.subject.scope.tables) == 1:
                column = self.columns.column(node)
                return column is not None and not column.nullable
        return False


def _item(column: str, columns: list[str], query: Node) -> Node | None:
    """Return the value that a query gives under a name; `columns` are the names that stand before the query."""
    block = query.blocks[0] if isinstance(query, Query) and query.blocks else None
    if not isinstance(block, Select):
        return None
    for place, item in enumerate(block.items):
        own = item.value.parts[-1] if isinstance(item.value, Name) else ""
        if (columns[place] if place < len(columns) else item.alias or own) == column:
            return item.value
    return None


def _types_within(catalog: Catalog, subject: Subject, view: Object) -> Callable[[Node], DataType | None]:
    """Return what tells the types of the expressions of a view's query."""
    return Types(subject, catalog, view.id).source_type
