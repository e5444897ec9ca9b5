"""PIVOT and UNPIVOT: aggregates over the rows of each value, and rows of a LATERAL list of values or of a UNION ALL.

Source: Transact-SQL reference, "FROM - Using PIVOT and UNPIVOT"; Oracle Database 19c, "SQL Language Reference", pivot_clause.
"""

from dataclasses import dataclass
from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.commas import between_commas
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import name_content
from hullsound.sql.tree import Clause, DerivedTable, Name, Node, Query, Select, TableRef

_AGGREGATES: Final = frozenset(("SUM", "COUNT", "MIN", "MAX", "AVG"))


@dataclass(frozen=True)
class Listed:
    """One value of the IN list: as the query compares it, as text, and the column that it becomes."""

    value: str
    text: str
    column: str
    title: str = ""
    """The name of the column before the alias of an aggregate comes behind it."""


def prepare_pivots(rewriter: Rewriter, construct: str) -> None:
    """Add a point for each source of rows that is turned, alias included."""
    for clause in rewriter.subject.all(Clause):
        if clause.name in ("pivot", "unpivot"):
            source = _source_of(clause, rewriter)
            if source is None:
                continue
            render = _pivot if clause.name == "pivot" else _unpivot
            rewriter.add(Point(source.first, source.last, partial(render, clause, source), construct, rank=1))


def _source_of(clause: Clause, rewriter: Rewriter) -> DerivedTable | TableRef | None:
    sources: list[DerivedTable | TableRef] = [*rewriter.subject.all(DerivedTable), *rewriter.subject.all(TableRef)]
    around = [node for node in sources if node.first < clause.first and clause.last <= node.last]
    return min(around, key=lambda node: node.last - node.first, default=None)


def _columns(source: DerivedTable | TableRef, rewriter: Rewriter) -> list[str]:
    """Return the stored names of the columns of a source. Raises CannotDraft where one is not known."""
    if isinstance(source, TableRef):
        table = rewriter.table(source.parts)
        if table is None:
            raise CannotDraft("a turned table whose columns are not known")
        return [column.name for column in table.columns]
    block = source.query.blocks[0] if isinstance(source.query, Query) else None
    names = []
    for item in block.items if isinstance(block, Select) else []:
        name = item.title
        if not name:
            raise CannotDraft("a turned query whose columns are not all named")
        names.append(name)
    if not names:
        raise CannotDraft("a turned query whose columns are not known")
    return names


def _inner(clause: Clause, source: DerivedTable | TableRef, rewriter: Rewriter) -> tuple[str, str]:
    """Return the source of the rows with its own alias, and that alias."""
    text = rewriter.text(source.first, clause.first).rstrip()
    if isinstance(source, TableRef):
        alias = _word_before(clause, source.first + 2 * len(source.parts) - 1, rewriter)
        return text, alias or rewriter.names.write(source.parts[-1])
    alias = _word_before(clause, source.query.last + 1, rewriter)
    return (text, alias) if alias else (f"{text}{_as(rewriter)}hs_rows", "hs_rows")


def _word_before(clause: Clause, first: int, rewriter: Rewriter) -> str:
    """Return the alias that stands right before the clause, as it is written, '' if none does."""
    words = [i for i in range(first, clause.first) if rewriter.words[i] != "AS"]
    return rewriter.text(words[-1], words[-1] + 1) if words else ""


def _alias_behind(clause: Clause, source: Node, rewriter: Rewriter) -> str:
    words = [i for i in range(clause.last, source.last) if rewriter.words[i] not in ("AS", "(", ")")]
    return rewriter.text(words[0], words[0] + 1) if words else "hs_turned"


def _for_at(clause: Clause, rewriter: Rewriter) -> int:
    depth = 0
    for at in range(clause.first, clause.last):
        depth += (rewriter.words[at] == "(") - (rewriter.words[at] == ")")
        if rewriter.words[at] == "FOR" and depth == 1:
            return at
    raise CannotDraft("a turned query in a form that is not known")


def _one_name(first: int, last: int, rewriter: Rewriter) -> str:
    """Return the stored name that stands alone between two tokens."""
    names = [n for n in rewriter.subject.all(Name) if n.first == first and n.last == last]
    if names:
        return names[0].parts[-1]
    if last - first != 1:
        raise CannotDraft("a turned query over several columns")
    return _stored(rewriter.words[first])


def _stored(word: str) -> str:
    return name_content(word).upper() if word[:1] in '["`' else word


def _list(clause: Clause, at: int, rewriter: Rewriter) -> list[tuple[int, int]]:
    """Return the spans between the commas of the IN list that begins behind the token `at`."""
    words, spans, depth, first = rewriter.words, [], 1, at + 1
    for each in range(at + 1, clause.last):
        depth += (words[each] == "(") - (words[each] == ")")
        if depth == 0 or (depth == 1 and words[each] == ","):
            spans.append((first, each))
            first = each + 1
        if depth == 0:
            return spans
    raise CannotDraft("a turned query in a form that is not known")


@dataclass(frozen=True)
class Aggregate:
    """One aggregate of PIVOT: its name, the tokens of its argument, and what it adds to the names of the columns."""

    name: str
    first: int
    last: int
    alias: str


def _pivot(clause: Clause, source: DerivedTable | TableRef, rewriter: Rewriter) -> str:
    """PIVOT groups by every column that is neither a value nor the key."""
    words, write = rewriter.words, rewriter.names.write
    at = _for_at(clause, rewriter)
    opening = clause.first + 1 + (words[clause.first + 1] != "(")
    aggregates = _aggregates(opening + 1, at, rewriter)
    in_at = next(i for i in range(at, clause.last) if words[i] == "IN")
    key = _one_name(at + 1, in_at, rewriter)
    taken = {_stored(word) for each in aggregates for word in words[each.first : each.last]} | {key}
    inner, alias = _inner(clause, source, rewriter)
    listed = [_listed(first, last, key, source, rewriter) for first, last in _list(clause, in_at + 1, rewriter)]
    groups = [f"{alias}.{write(column)}" for column in _columns(source, rewriter) if column not in taken]
    items = [*groups]
    for value in listed:
        test = f"{alias}.{write(key)} = {value.value}"
        items += [_item(each, alias, test, value, rewriter) for each in aggregates]
    text = f"(SELECT {', '.join(items)}\n  FROM {inner}" + (f"\n GROUP BY {', '.join(groups)}" if groups else "")
    return f"{text}){_as(rewriter)}{_alias_behind(clause, source, rewriter)}"


def _as(rewriter: Rewriter) -> str:
    """Return what stands before the alias of a table: Oracle takes no AS there."""
    return " " if rewriter.target.engine == "oracle" else " AS "


def _aggregates(first: int, last: int, rewriter: Rewriter) -> list[Aggregate]:
    """Read SUM(total) AS s, COUNT(*) AS c. Raises CannotDraft for anything but plain aggregates of one value."""
    words, found = rewriter.words, []
    for begin, end in between_commas(first, last, words):
        bracket = begin + 1
        if words[begin] not in _AGGREGATES or words[bracket] != "(":
            raise CannotDraft("a turned query over something other than plain aggregates")
        closing = closing_of(rewriter, bracket)
        rest = [word for word in words[closing + 1 : end] if word != "AS"]
        if len(rest) > 1 or words[bracket + 1] == "DISTINCT":
            raise CannotDraft("a turned query over something other than plain aggregates")
        found.append(Aggregate(words[begin], bracket + 1, closing, rest[0] if rest else ""))
    if len(found) > 1 and not all(each.alias for each in found):
        raise CannotDraft("a turned query with several aggregates without names")
    return found


def _item(aggregate: Aggregate, alias: str, test: str, value: Listed, rewriter: Rewriter) -> str:
    """Write an aggregate over the rows with one value of the key."""
    text, name = rewriter.text(aggregate.first, aggregate.last), aggregate.name
    if aggregate.last - aggregate.first == 1 and text != "*":
        text = f"{alias}.{rewriter.names.write(_stored(rewriter.words[aggregate.first]))}"
    column = value.column
    if aggregate.alias:
        column = rewriter.names.write(f"{value.title}_{aggregate.alias}")
    if rewriter.target.engine == "postgresql":
        return f"{name}({text}) FILTER (WHERE {test}) AS {column}"
    counted = "1" if text == "*" else text
    return f"{name}(CASE WHEN {test} THEN {counted} END) AS {column}"


def _listed(first: int, last: int, key: str, source: DerivedTable | TableRef, rewriter: Rewriter) -> Listed:
    """Read a value of the IN list: a name, or a constant with an alias."""
    words, write = rewriter.words, rewriter.names.write
    word = rewriter.tokens.source(first, first + 1)
    if word[:1] in '["`':
        text = title = name_content(word)
        column = write(text.upper())
    elif word[:1] == "'" or word.isdigit():
        text = word[1:-1].replace("''", "'") if word[:1] == "'" else word
        alias = words[last - 1] if last > first + 1 else ""
        title = name_content(alias) if alias[:1] in ('"', "[") else alias or text
        column = write(title) if alias else rewriter.names.quote(word)
    else:
        text, column, title = word, write(words[first]), words[first]
    is_number = text.isdigit() and _key_kind(key, source, rewriter) in NUMBERS
    return Listed(text if is_number else _constant(text, rewriter), text, column, title.upper())


def _constant(text: str, rewriter: Rewriter) -> str:
    if "\\" in text and rewriter.target.engine in ("mysql", "mariadb"):
        raise CannotDraft("a turned value with a backslash")
    return literal(text)


def _key_kind(key: str, source: DerivedTable | TableRef, rewriter: Rewriter) -> Family:
    if isinstance(source, DerivedTable):
        block = source.query.blocks[0]
        for item in block.items if isinstance(block, Select) else []:
            if key == item.title:
                return rewriter.types.family(item.value)
        return Family.UNKNOWN
    return rewriter.types.family(Name(source.first, source.first, (key,)))


def _unpivot(clause: Clause, source: DerivedTable | TableRef, rewriter: Rewriter) -> str:
    """UNPIVOT makes a row of each column; rows without a value are left out."""
    words, write = rewriter.words, rewriter.names.write
    at = _for_at(clause, rewriter)
    if "NULLS" in words[clause.first : at] and words[clause.first + 1] == "INCLUDE":
        raise CannotDraft("UNPIVOT that keeps rows without a value")
    opening = next(i for i in range(clause.first, at) if words[i] == "(")
    value = _one_name(opening + 1, at, rewriter)
    in_at = next(i for i in range(at, clause.last) if words[i] == "IN")
    key = _one_name(at + 1, in_at, rewriter)
    inner, alias = _inner(clause, source, rewriter)
    rows, taken = [], []
    for first, last in _list(clause, in_at + 1, rewriter):
        column = _one_name(first, first + 1, rewriter)
        title = rewriter.tokens.source(last - 1, last)
        if last == first + 1:
            is_quoted = title[:1] in '["`'
            folds = rewriter.catalog.engine == "oracle" and not is_quoted
            text = _constant(name_content(title) if is_quoted else title.upper() if folds else title, rewriter)
        elif title[:1] == "'" or title.isdigit():
            text = title
        else:
            raise CannotDraft("UNPIVOT of several columns at once")
        rows.append((text, f"{alias}.{write(column)}"))
        taken.append(column)
    kept = [f"{alias}.{write(column)}" for column in _columns(source, rewriter) if column not in taken]
    behind = f"){_as(rewriter)}{_alias_behind(clause, source, rewriter)}"
    if rewriter.target.engine != "postgresql":
        queries = [
            f"SELECT {', '.join([*kept, f'{text} AS {write(key)}', f'{shown} AS {write(value)}'])}\n  FROM {inner}"
            f"\n WHERE {shown} IS NOT NULL"
            for text, shown in rows
        ]
        return "(" + "\nUNION ALL\n".join(queries) + behind
    items = ", ".join([*kept, f"hs_values.{write(key)}", f"hs_values.{write(value)}"])
    listed = ", ".join(f"({text}, {shown})" for text, shown in rows)
    return (
        f"(SELECT {items}\n  FROM {inner}\n CROSS JOIN LATERAL (VALUES {listed}) AS hs_values"
        f"({write(key)}, {write(value)})\n WHERE hs_values.{write(value)} IS NOT NULL{behind}"
    )
