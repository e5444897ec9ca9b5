"""What MySQL and MariaDB ask of every statement, whichever engine it comes from: names, titles, NULL in orders, zones."""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.seconds_between import seconds_of
from hullsound.draft.edits.names import DUMMY_TABLE
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.lexer import WORD
from hullsound.sql.tree import (
    Call,
    Cast,
    DerivedTable,
    Name,
    Node,
    OrderItem,
    SelectItem,
    SequenceValue,
    TableRef,
)

_CUTTING: Final = frozenset(("sqlserver", "ase", "sqlite", "db2", "teradata"))
"""Engines whose casts to whole numbers cut fractions off, where MySQL rounds."""
_SPREADS: Final = frozenset("STDDEV STDDEV_POP STDDEV_SAMP VARIANCE VAR_POP VAR_SAMP STDEV STDEVP VAR VARP".split())


def add_mysql_points(rewriter: Rewriter) -> None:
    """Add the points that only MySQL and MariaDB ask for."""
    subject = rewriter.subject
    _add_lower_names(rewriter)
    add_names_of_derived(rewriter)
    _add_quotes_of_titles(rewriter)
    for at in range(subject.read.first, subject.read.last):
        if rewriter.words[at : at + 3] == ["AT", "TIME", "ZONE"]:
            rewriter.add(Point(at, at + 3, _refuse_zone))
    if rewriter.catalog.engine in _CUTTING:
        for cast in subject.all(Cast):
            if rewriter.types.family(cast) is Family.INTEGER and rewriter.types.family(cast.value) is Family.NUMBER:
                rewriter.wrap(cast.value, partial(_cut, cast.value))
    for call in subject.all(Call):
        if call.parts == ("EXTRACT",) and rewriter.words[call.opening + 1] == "EPOCH":
            rewriter.add(Point(call.first, call.last, partial(_seconds_since_1970, call)))
        if call.parts == ("PI",) and call.opening >= 0:
            rewriter.add(Point(call.first, call.last, lambda _: "(PI() + 0e0)"))  # all digits, where PI() shows seven
        if call.parts[-1] in _SPREADS and len(call.arguments) == 1 and rewriter.target.engine == "mariadb":
            rewriter.wrap(call.arguments[0], partial(_as_float, call.arguments[0]), rank=8)
    for order in subject.all(OrderItem):
        if order.nulls:
            rewriter.wrap(order, partial(_with_null_key, order))


def _as_float(value: Node, rewriter: Rewriter) -> str:
    """MariaDB gives a spread of exact numbers four digits behind the point more than they have."""
    return f"({rewriter.node(value)} + 0e0)"


def _cut(value: Node, rewriter: Rewriter) -> str:
    return f"TRUNCATE({rewriter.node(value)}, 0)"


def _add_lower_names(rewriter: Rewriter) -> None:
    """Write names of tables and aliases in one case: there they are files, and case may count."""
    subject, write = rewriter.subject, rewriter.names.write
    is_one_schema = len([schema for schema in rewriter.catalog.schemas() if schema]) < 2
    for table in subject.all(TableRef):
        if table.parts == (DUMMY_TABLE,):
            continue
        if table.parts[-1] == "SYSDUMMY1" and not rewriter.catalog.tables_named("SYSDUMMY1"):
            rewriter.replace(table.first, table.first + 2 * len(table.parts) - 1, DUMMY_TABLE)
            continue
        item = rewriter.table(table.parts) if len(table.parts) == 1 and not is_one_schema else None
        if item is not None and item.schema and table.parts[0] not in subject.scope.locals:
            # There is no path along which a name without its schema would be looked for.
            rewriter.replace(table.first, table.first + 1, f"{write(item.schema)}.{write(item.name)}")
            continue
        for place, part in enumerate(table.parts):
            rewriter.replace(table.first + 2 * place, table.first + 2 * place + 1, write(part))
    for value in subject.all(SequenceValue):
        name = value.sequence
        for place, part in enumerate(name.parts[:-1] if isinstance(name, Name) else ()):
            rewriter.replace(name.first + 2 * place, name.first + 2 * place + 1, write(part))
    named: list[TableRef | DerivedTable] = [*subject.all(TableRef), *subject.all(DerivedTable)]
    for node in named:
        if node.alias and rewriter.words[node.last - 1].strip('"[]`').upper() == node.alias.upper():
            rewriter.replace(node.last - 1, node.last, write(node.alias))
    for name in subject.all(Name):
        for place, part in enumerate(name.parts[:-1]):
            if name.last - name.first == 2 * len(name.parts) - 1:
                rewriter.replace(name.first + 2 * place, name.first + 2 * place + 1, write(part))
        column, at = name.parts[-1], name.last - 1
        is_plain = rewriter.tokens.kinds[at] == WORD and rewriter.words[at] == column
        if is_plain and column in rewriter.names.reserved and rewriter.catalog.columns_named(column):
            rewriter.replace(at, at + 1, write(column))


def _seconds_since_1970(call: Call, rewriter: Rewriter) -> str:
    """Write EXTRACT(EPOCH FROM ...) of the clock, and of timestamps without a zone."""
    value = rewriter.words[call.opening + 3 : call.closing]
    if value in (["NOW", "(", ")"], ["CURRENT_TIMESTAMP"]):
        return "UNIX_TIMESTAMP(CURRENT_TIMESTAMP(6))"
    return seconds_of(call, rewriter)


def add_names_of_derived(rewriter: Rewriter) -> None:
    """Give each query in FROM a name, without which MySQL and SQL Server take none."""
    unnamed = [query for query in rewriter.subject.all(DerivedTable) if not query.alias]
    for number, query in enumerate(unnamed, start=1):
        rewriter.insert_behind(query, f" AS hs_rows{number}")


def _add_quotes_of_titles(rewriter: Rewriter) -> None:
    """Quote the titles of columns that are reserved words."""
    for item in rewriter.subject.all(SelectItem):
        last = item.last - 1
        if item.alias in rewriter.names.reserved and last >= item.value.last and rewriter.words[last] == item.alias:
            rewriter.replace(
                last, item.last, rewriter.names.quote(rewriter.tokens.source(last, item.last).strip('"[]`'))
            )


def _refuse_zone(rewriter: Rewriter) -> str:
    raise CannotDraft("a moment of another zone")


def _with_null_key(item: OrderItem, rewriter: Rewriter) -> str:
    """Write NULLS FIRST and LAST as a key of their own, unless MySQL, where NULL sorts low, does so by itself."""
    value = rewriter.node(item.value)
    order = f"{value} DESC" if item.descending else value
    if (item.nulls.upper() == "FIRST") != item.descending:
        return order
    return f"{value} IS {'NOT ' if item.nulls.upper() == 'FIRST' else ''}NULL, {order}"
