"""What kind of value an expression has, with the catalogue at hand: what drafts need to choose casts and operators."""

import re
from collections.abc import Iterator, Sequence
from typing import Final

from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import Catalog, Column, DataType, Object
from hullsound.catalog.references import Scope
from hullsound.knowledge.model import Target
from hullsound.knowledge.types import choose_type, logical_type, parse_type
from hullsound.sight.subject import Subject
from hullsound.sql.dialect import Grammar, load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import (
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
    Query,
    Select,
    SelectItem,
    Subquery,
    TypedLiteral,
)

from .local_tables import local_columns
from .records import declared_type, field_type
from .rewrite import Rewriter
from .text import quote_name
from .view_columns import columns_of

_KINDS: Final = {
    "text": "text", "fixed-text": "text", "large-text": "text", "enum": "text", "set": "text",
    "integer": "integer", "unsigned": "integer", "serial": "integer", "year": "integer",
    "decimal": "number", "decimal-free": "number", "decimal-whole": "number", "float": "number", "money": "number",
    "small-money": "number", "decimal-float": "number",
    "date": "date", "date-zero": "date", "time": "time", "time-span": "time", "time-zone": "time",
    "date-time": "timestamp", "date-time-thirds": "timestamp", "date-time-minutes": "timestamp", "timestamp": "timestamp",
    "timestamp-zone": "timestamp", "timestamp-local": "timestamp",
    "boolean": "boolean", "bit": "boolean", "bit-string": "bits", "binary": "bytes", "fixed-binary": "bytes",
    "large-binary": "bytes", "json": "json", "uuid": "uuid",
}  # fmt: skip
"""Kinds of logical types -> kinds of values."""
_FUNCTIONS: Final = {
    "integer": """LENGTH CHAR_LENGTH CHARACTER_LENGTH OCTET_LENGTH LEN DATALENGTH LOCATE CHARINDEX INSTR POSITION STRPOS PATINDEX
        COUNT COUNT_BIG ROW_NUMBER RANK DENSE_RANK NTILE DATEDIFF TIMESTAMPDIFF DATEPART YEAR MONTH DAY DAYOFMONTH HOUR MINUTE
        SECOND QUARTER WEEK DAYOFWEEK WEEKDAY DAYOFYEAR ASCII SIGN FIELD FIND_IN_SET ROW_COUNT LAST_INSERT_ID SCOPE_IDENTITY
        IDENT_CURRENT UNICODE TO_DAYS UNIX_TIMESTAMP EXTRACT CRC32 ISNUMERIC ISDATE BIT_COUNT TIME_TO_SEC CONNECTION_ID
        GET_LOCK RELEASE_LOCK JSON_CONTAINS JSON_CONTAINS_PATH PERIOD_DIFF PERIOD_ADD STRCMP ORD BIT_LENGTH MICROSECOND
        YEARWEEK WEEKOFYEAR REGEXP_INSTR REGEXP_COUNT BITAND
        JSON_VALID ISJSON ERROR_NUMBER ERROR_LINE ERROR_STATE ERROR_SEVERITY DAYS CEILING CEIL FLOOR""",
    "number": "AVG SUM RAND POWER SQRT EXP LOG LN LOG10 PI ROUND STDDEV STDEV VAR VARIANCE TRUNCATE SIN COS TAN RADIANS DEGREES",
    "text": """CONCAT CONCAT_WS SUBSTRING SUBSTR LEFT RIGHT UPPER LOWER UCASE LCASE TRIM LTRIM RTRIM LPAD RPAD REPLACE REPEAT
        REPLICATE REVERSE SPACE STUFF INSERT GROUP_CONCAT STRING_AGG LISTAGG DATE_FORMAT TIME_FORMAT FORMAT CHAR CHR NCHAR
        HEX MD5 SHA1 SHA2 QUOTENAME STR DAYNAME MONTHNAME DATENAME TO_CHAR VARCHAR_FORMAT USER DATABASE SCHEMA DB_NAME
        SUSER_SNAME SUSER_NAME USER_NAME ERROR_MESSAGE ERROR_PROCEDURE SUBSTRING_INDEX ELT INITCAP TRANSLATE MID SOUNDEX
        JSON_UNQUOTE JSON_VALUE HOST_NAME APP_NAME DIGITS QUOTE""",
    "date": "CURDATE CURRENT_DATE LAST_DAY EOMONTH DATE MAKEDATE DATEFROMPARTS TO_DATE FROM_DAYS",
    "timestamp": """NOW SYSDATE GETDATE GETUTCDATE SYSDATETIME SYSUTCDATETIME CURRENT_TIMESTAMP LOCALTIMESTAMP UTC_TIMESTAMP
        FROM_UNIXTIME TIMESTAMP DATETIMEFROMPARTS TIMESTAMPADD ADD_MONTHS NEXT_DAY""",
    "time": "CURTIME CURRENT_TIME SEC_TO_TIME TIME",
    "json": "JSON_OBJECT JSON_ARRAY JSON_EXTRACT JSON_QUERY JSON_ARRAYAGG JSON_OBJECTAGG",
    "uuid": "NEWID",
}  # fmt: skip
_OF_FUNCTION: Final = {name: kind for kind, names in _FUNCTIONS.items() for name in names.split()}
_OF_ARGUMENT: Final = {
    "IFNULL": 0, "NVL": 0, "COALESCE": 0, "NULLIF": 0, "MAX": 0, "MIN": 0, "ABS": 0, "MOD": 0, "GREATEST": 0, "LEAST": 0,
    "ANY_VALUE": 0, "LAG": 0, "LEAD": 0, "FIRST_VALUE": 0, "LAST_VALUE": 0, "IIF": 1, "IF": 1, "NVL2": 1,
    "DATE_ADD": 0, "DATE_SUB": 0, "ADDDATE": 0, "SUBDATE": 0, "DATEADD": 2, "ZEROIFNULL": 0, "NULLIFZERO": 0, "CHOOSE": 1,
    "TRUNC": 0,
}  # fmt: skip
"""Functions whose value is of the kind of one of their arguments, and which."""
_MOVING: Final = frozenset(("DATE_ADD", "DATE_SUB", "ADDDATE", "SUBDATE"))
_WHOLE_DAYS: Final = ("DAY", "WEEK", "MONTH", "QUARTER", "YEAR")
_OF_SQLITE: Final = dict.fromkeys(
    ("DATE", "TIME", "DATETIME", "STRFTIME", "PRINTF", "FORMAT", "JSON_EXTRACT", "JSON_TYPE"), "text"
) | {"JULIANDAY": "number", "UNIXEPOCH": "integer", "RANDOM": "integer"}
"""Functions that SQLite has too, whose values are of another kind there."""
_OF_METHOD: Final = {"GETLEVEL": "integer", "ISDESCENDANTOF": "boolean", "TOSTRING": "text"}
"""Methods of paths in a tree, and the kinds of their values."""
_VALUE: Final = re.compile(r"-?\d+(\.\d+)?|\d{4}-\d\d-\d\d( \d\d:\d\d(:\d\d)?)?|\d{1,2}:\d\d(:\d\d)?")
_COMPARISONS: Final = frozenset(
    ("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "AND", "OR", "NOT", "&&", "XOR", "!", "!<", "!>")
)


def kind_of(node: Node, rewriter: Rewriter) -> str:
    """Return text, integer, number, date, time, timestamp, boolean, bits, bytes, json, uuid, or '' for unknown."""
    memory = rewriter.subject.memory
    known: dict[Node, str] = memory.setdefault("kinds", {})  # type: ignore[assignment]
    kind = known.get(node)
    if kind is None:
        kind = _find_kind(node, rewriter)
        if not memory.get("kinds asked for"):  # what is found on the way round a circle holds only there
            known[node] = kind
    return kind


def _find_kind(node: Node, rewriter: Rewriter) -> str:
    match node:
        case Literal():
            if node.form == "number" and rewriter.words[node.first].isdecimal():
                return "integer"
            return {"number": "number", "string": "text", "true": "boolean", "false": "boolean"}.get(node.form, "")
        case TypedLiteral():
            return {"DATE": "date", "TIMESTAMP": "timestamp", "TIME": "time"}.get(node.form, "")
        case Paren():
            return kind_of(node.inner, rewriter)
        case Name() | Cast():
            source = source_type(node, rewriter)
            if source is None and isinstance(node, Name):
                if any(each.form == "range" and (each.variable,) == node.parts for each in rewriter.subject.all(Loop)):
                    return "integer"
                return _kind_in_record(node, rewriter) or _kind_in_query(node, rewriter)
            return kind_of_type(source, rewriter)
        case Case():
            return _kind_among(choices_of(node), rewriter)
        case Call():
            return _call_kind(node, rewriter)
        case Comparison():
            return "number" if node.operator == "MATCH" else "boolean"
        case Subquery():
            return "boolean" if node.form else _query_kind(node.query, rewriter)
        case Operation():
            return _operation_kind(node, rewriter)
    return ""


def _call_kind(node: Call, rewriter: Rewriter) -> str:
    name = node.parts[-1]
    if name in _OF_SQLITE and rewriter.catalog.engine == "sqlite":
        return _OF_SQLITE[name]
    if name in _OF_METHOD and len(node.parts) > 1:
        return _OF_METHOD[name]
    if name == "EXTRACT" and node.opening >= 0 and rewriter.words[node.opening + 1] == "SECOND":
        return "number"
    if len(node.parts) == 1 and name in _OF_FUNCTION:
        first = kind_of(node.arguments[0], rewriter) if name == "ROUND" and node.arguments else ""
        return first if first in ("date", "timestamp") else _OF_FUNCTION[name]
    if len(node.parts) == 1 and name == "ISNULL":
        return "boolean" if len(node.arguments) == 1 else kind_of(node.arguments[0], rewriter)
    choices = choices_of(node)
    if choices:
        kind = _kind_among(choices, rewriter)
        if kind == "date" and name in _MOVING and _counts_hours(node.arguments[1], rewriter):
            return "timestamp"
        # What is moved by an interval is a moment, be it written as a text or as a number of days.
        return "timestamp" if name == "DATEADD" and kind in ("text", "integer", "number") else kind
    return kind_of_type(source_type(node, rewriter), rewriter)


def can_be_whole(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is a whole number, or a choice among whole numbers and values of which nothing is known."""
    kind = kind_of(node, rewriter)
    if kind == "number":
        choices = choices_of(node)
        return bool(choices) and all(not kind_of(each, rewriter) or can_be_whole(each, rewriter) for each in choices)
    return kind == "integer"


def choices_of(node: Node) -> list[Node]:
    """Return the values of which an expression gives one, or what it makes of one."""
    if isinstance(node, Case):
        return [result for _, result in node.branches] + ([node.otherwise] if node.otherwise else [])
    if isinstance(node, Call) and node.parts[-1] == "DECODE":
        rest = node.arguments[1:]
        return rest[1::2] + (rest[-1:] if len(rest) % 2 else [])
    if isinstance(node, Call) and len(node.parts) == 1 and node.parts[0] in _OF_ARGUMENT:
        return node.arguments[_OF_ARGUMENT[node.parts[0]] :]
    return []


def _kind_among(nodes: Sequence[Node], rewriter: Rewriter) -> str:
    """Return the kind of several values of which an expression gives one: of the first that is known.

    Whole numbers are only whole where all of them are.
    """
    nodes = [node for node in nodes if not (isinstance(node, Literal) and node.form == "null")]
    kinds = [kind_of(node, rewriter) for node in nodes]
    if "text" in kinds and rewriter.catalog.engine in ("mysql", "mariadb"):
        texts = [node for node, kind in zip(nodes, kinds, strict=True) if kind == "text"]
        if not all(is_constant_value(text, rewriter) for text in texts):
            return "text"
    first = next((kind for kind in kinds if kind), "")
    return "number" if first == "integer" and set(kinds) != {"integer"} else first


def is_constant_value(text: Node, rewriter: Rewriter) -> bool:
    """Whether a text is a constant that can be read as the number or moment beside it."""
    return isinstance(text, Literal) and _VALUE.fullmatch(rewriter.subject.source(text).strip("'\"")) is not None


def _operation_kind(node: Operation, rewriter: Rewriter) -> str:
    if set(node.operators) & _COMPARISONS:
        return "boolean"
    if set(node.operators) == {"||"}:
        return "text"
    if node.operators == ["INTERVAL"]:
        return ""
    kinds = [kind_of(operand, rewriter) for operand in node.operands]
    if node.operators == ["COLLATE"] or len(kinds) == 1:
        return kinds[0]
    for wanted in ("timestamp", "date", "time"):
        if wanted in kinds:
            moments = sum(kind in (wanted, "timestamp", "date") for kind in kinds)
            if moments > 1 and "-" in node.operators and not _counts_from_1900(rewriter):
                return "number" if rewriter.catalog.engine == "oracle" else "integer"
            moves = wanted == "date" and any(_counts_hours(each, rewriter) for each in node.operands)
            return "timestamp" if moves else wanted
    if "text" in kinds and set(node.operators) == {"+"}:
        return "text"
    return "integer" if kinds and set(kinds) == {"integer"} and "/" not in node.operators else "number"


def _counts_hours(span: Node, rewriter: Rewriter) -> bool:
    """Whether a span is written as INTERVAL n of a unit that is shorter than a day."""
    is_interval = isinstance(span, Operation) and span.operators == ["INTERVAL"]
    return is_interval and not rewriter.words[span.last - 1].startswith(_WHOLE_DAYS)


def _counts_from_1900(rewriter: Rewriter) -> bool:
    """Whether the difference of two moments is a moment, as in the T-SQL family."""
    return rewriter.catalog.engine in ("sqlserver", "ase")


def _query_kind(query: Query, rewriter: Rewriter) -> str:
    block = query.blocks[0] if query.blocks else None
    return kind_of(block.items[0].value, rewriter) if isinstance(block, Select) and block.items else ""


def _kind_in_record(name: Name, rewriter: Rewriter) -> str:
    """Return the kind of a field of a record: a row of a cursor, or that of a loop over a query."""
    subject = rewriter.subject
    if len(name.parts) != 2 or name.parts[0] not in subject.scope.declared:
        return ""
    kind = subject.scope.declared[name.parts[0]]
    if kind is not None and load_dialect(rewriter.catalog.engine).grammar is Grammar.PLSQL:
        found_type = field_type(kind, name.parts[1], rewriter)
        if found_type is not None:
            return kind_of_type(found_type, rewriter)
    queries: list[Node | None] = [
        loop.bounds[0] for loop in subject.all(Loop) if loop.variable == name.parts[0] and loop.bounds
    ]
    if kind is not None and kind.borrowed == "ROWTYPE":
        queries += [c.query for c in subject.all(CursorDeclaration) if c.name == kind.reference[-1]]
        table = rewriter.table(kind.reference)
        found = [c.type for c in table.columns if c.name == name.parts[1]] if table is not None else []
        if found:
            return kind_of_type(found[0], rewriter)
    for query in queries:
        inner = query.query if isinstance(query, Subquery) else query
        found_kind = _column_kind(name.parts[1], [], inner, rewriter) if inner is not None else ""
        if found_kind:
            return found_kind
    return ""


def _kind_in_query(name: Name, rewriter: Rewriter) -> str:
    """Return the kind of a column that a common table or a derived table of the statement gives."""
    subject = rewriter.subject
    alias = name.parts[-2] if len(name.parts) > 1 else ""
    asked: set[str] = rewriter.subject.memory.setdefault("kinds asked for", set())  # type: ignore[assignment]
    key = ".".join(name.parts)
    if key in asked:
        return ""
    asked.add(key)
    try:
        tables: list[tuple[str, list[str], Node]] = [(t.name, t.columns, t.query) for t in subject.all(CommonTable)]
        tables += [(t.alias, [], t.query) for t in subject.all(DerivedTable)]
        names = {t.alias: t.parts[-1] for t in subject.scope.tables if t.alias}
        for title, columns, query in tables:
            if alias and title not in (alias, names.get(alias)):
                continue
            kind = _column_kind(name.parts[-1], columns, query, rewriter)
            if kind:
                return kind
        return ""
    finally:
        asked.discard(key)


def _column_kind(column: str, columns: list[str], query: Node, rewriter: Rewriter) -> str:
    block = query.blocks[0] if isinstance(query, Query) and query.blocks else None
    if not isinstance(block, Select):
        return ""
    for place, item in enumerate(block.items):
        own = item.value.parts[-1] if isinstance(item.value, Name) else ""
        if (columns[place] if place < len(columns) else item.alias or own) == column:
            return kind_of(item.value, rewriter)
    return ""


def source_type(node: Node, rewriter: Rewriter) -> DataType | None:
    """Return the source's type of a column, variable, cast or call of the catalogue's own functions; None if unknown."""
    if isinstance(node, Paren):
        return source_type(node.inner, rewriter)
    if isinstance(node, Cast):
        return data_type(node.type)
    if isinstance(node, Call):
        return _returned_type(node, rewriter)
    if not isinstance(node, Name):
        return None
    scope = rewriter.subject.scope
    if len(node.parts) == 1 and node.parts[0] in scope.declared:
        declared = scope.declared[node.parts[0]]
        return declared_type(declared, rewriter) if declared is not None else None
    column = find_column(node, rewriter)
    return column.type if column is not None else None


def _returned_type(node: Call, rewriter: Rewriter) -> DataType | None:
    item = rewriter.catalog.resolve(node.parts, rewriter.default_schema)
    text = item.routines[0].returns if item is not None and item.routines else ""
    return parse_type(text) if text else None


def find_column(node: Name, rewriter: Rewriter) -> Column | None:
    """Return the column that a name means: of the table its alias names, or of any table of the statement that has it."""
    parts = node.parts
    for table in source_tables(rewriter, parts[-2] if len(parts) > 1 else ""):
        for column in columns_of(table, rewriter, source_type):
            if column.name == parts[-1]:
                return column
    local = _local_column(node, rewriter)
    if local is not None:
        return local
    if len(parts) == 1 or parts[-2] in rewriter.subject.scope.locals:
        types = {str(each.type): each for each in rewriter.catalog.columns_named(parts[-1])}
        if len(types) == 1:
            return next(iter(types.values()))
    return None


def _local_column(node: Name, rewriter: Rewriter) -> Column | None:
    """Return the column of a table that the code makes for itself."""
    made = local_columns(rewriter.subject)
    alias = node.parts[-2] if len(node.parts) > 1 else ""
    for reference in rewriter.subject.scope.tables if made else ():
        if not alias or alias in (reference.alias, reference.parts[-1]):
            for column in made.get(reference.parts[-1], ()):
                if column.name == node.parts[-1]:
                    return column
    return None


def source_tables(rewriter: Rewriter, alias: str = "") -> list[Object]:
    """Return the tables of the catalogue that a statement names, or those that one alias stands for."""
    known = rewriter.source_tables.get(alias)
    if known is None:
        known = rewriter.source_tables[alias] = _find_source_tables(rewriter, alias)
    return known


def _find_source_tables(rewriter: Rewriter, alias: str) -> list[Object]:
    found: list[Object] = []
    for reference in rewriter.subject.scope.tables:
        if not alias or alias in (reference.alias, reference.parts[-1]):
            table = rewriter.table(reference.parts)
            if table is not None and table not in found:
                found.append(table)
    trigger_table = rewriter.catalog.objects.get(rewriter.owner)
    if alias in ("NEW", "OLD", "INSERTED", "DELETED") and trigger_table is not None and trigger_table.table:
        table = rewriter.catalog.objects.get(trigger_table.table)
        return [table] if table is not None else []
    return found


def kind_of_type(source: DataType | None, rewriter: Rewriter) -> str:
    """Return the kind of the values of a source type; '' if it is not known."""
    if source is None:
        return ""
    if source.name.split(" ")[0] in ("SIGNED", "UNSIGNED"):
        return "integer"
    logical = logical_type(rewriter.catalog.engine, source)
    return _KINDS.get(logical.kind, "") if logical is not None else ""


def target_type(node: Node, rewriter: Rewriter) -> str:
    """Return the target's type text for an expression; '' where it is not known well enough to be written down."""
    if isinstance(node, Paren):
        return target_type(node.inner, rewriter)
    if isinstance(node, Call) and node.parts[-1] in ("MAX", "MIN", "COALESCE", "IFNULL", "ISNULL") and node.arguments:
        return target_type(node.arguments[0], rewriter)
    column = find_column(node, rewriter) if isinstance(node, Name) else None
    if column is not None and column.generated and not column.type.name:
        tables = [t for t in source_tables(rewriter) if column in t.columns]
        return expression_type(column.generated, tables[0], rewriter.catalog, rewriter.target) if tables else ""
    source = source_type(node, rewriter)
    if source is not None:
        choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
        return choice.text if choice is not None else ""
    if isinstance(node, Call) and node.parts[-1] in ("COUNT", "COUNT_BIG", "ROW_NUMBER", "RANK", "DENSE_RANK"):
        return "bigint"
    kind = kind_of(node, rewriter)
    if isinstance(node, Literal) and kind == "number":
        return "integer" if rewriter.subject.source(node).isdigit() else "numeric"
    return _PLAIN_TYPES.get(kind, "")


_PLAIN_TYPES: Final = {
    "text": "text", "integer": "bigint", "number": "numeric", "date": "date", "timestamp": "timestamp", "time": "time",
    "boolean": "boolean", "json": "jsonb", "uuid": "uuid", "bytes": "bytea",
}  # fmt: skip


def expression_type(text: str, table: Object, catalog: Catalog, target: Target) -> str:
    """Return the target's type of an expression over the columns of a table; '' if it is not known."""
    engine = catalog.engine
    names = ".".join(quote_name(name, engine) for name in (table.schema, table.name) if name)
    read = next(read_script(f"SELECT {text}\nFROM {names}", load_dialect(engine)).statements(), None)
    items = read.all(SelectItem) if read is not None else []
    if read is None or not items:
        return ""
    return target_type(items[-1].value, Rewriter(Subject(read, Scope(read), engine), catalog, target, table.id))


def lone_values(words: Sequence[str], start: int, end: int) -> Iterator[tuple[int, int]]:
    """Yield place and token of each value of a single token in the rows (a, b), (c, d) that stand from `start` to `end`."""
    depth, place = 0, 0
    for at in range(start, end):
        if words[at] == "(":
            depth += 1
            place = 0 if depth == 1 else place
        elif words[at] == ")":
            depth -= 1
        elif words[at] == "," and depth == 1:
            place += 1
        elif depth == 1 and words[at - 1] in ("(", ",") and words[at + 1] in (")", ","):
            yield place, at


_NEVER_NULL: Final = frozenset(("SYSDATE", "SYSTIMESTAMP", "CURRENT_DATE", "CURRENT_TIMESTAMP", "USER"))
_REPLACING: Final = frozenset(("NVL", "COALESCE", "IFNULL", "ISNULL", "VALUE"))


def is_never_null(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value cannot be NULL: a constant, a clock, what replaces NULL, or a column that takes none of a single table."""
    match node:
        case Literal():
            return node.form != "null"
        case Paren():
            return is_never_null(node.inner, rewriter)
        case Call() if node.parts[-1] in _REPLACING:
            return any(is_never_null(each, rewriter) for each in node.arguments)
        case Call():
            return node.parts in (("COUNT",), ("NOW",), ("GETDATE",))
        case Name() if len(node.parts) == 1 and node.parts[0] in _NEVER_NULL:
            return True
        case Name() if node.parts[0] not in rewriter.subject.scope.declared and len(rewriter.subject.scope.tables) == 1:
            column = find_column(node, rewriter)
            return column is not None and not column.nullable
    return False
