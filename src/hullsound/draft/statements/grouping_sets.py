"""Groups of several levels for MySQL and MariaDB, which have neither CUBE nor GROUPING SETS: one query for each set, joined.

A key that is no part of a set is NULL in its query, and GROUPING() a number. Source: SQL:1999, "group by clause"; MySQL 8.4
Reference Manual, "GROUP BY Modifiers"; MariaDB 10.11, "SELECT WITH ROLLUP".
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import partial
from itertools import combinations
from typing import Final

from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.commas import between_commas
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detectors.meaning import AGGREGATES_OF_ALL
from hullsound.sql.tree import Call, Clause, Literal, Name, Node, OrderItem, Query, Select, SelectItem

_SETS: Final = frozenset(("rollup", "cube", "grouping-sets", "with-cube"))
_LEVELS: Final = frozenset(("GROUPING", "GROUPING_ID"))
_MOST_SETS: Final = 16
"""More queries than this are no help to anyone."""
_OVER_KEYS: Final = 11
"""Rank of what stands for a key: around all that else changes it."""
_INSIDE: Final = 8
"""Rank of what stands for a key of ORDER BY: inside of what says where NULL sorts."""

Span = tuple[int, int]
Set = list[Span]


@dataclass
class _Written:
    """What is being written: the query of one set, or the keys of ORDER BY around all of them."""

    present: frozenset[str] | None = None
    """The keys of the set, by their text; None around all of them."""
    titles: dict[Node, str] = field(default_factory=dict)
    """The columns that stand for the keys of ORDER BY."""


def add_grouping_sets(rewriter: Rewriter) -> None:
    """Write each query over several sets of keys as one query for each set."""
    if not any(clause.name in _SETS for clause in rewriter.subject.all(Clause)):
        return
    for query in rewriter.subject.all(Query):
        for block in query.blocks:
            if isinstance(block, Select) and (at := _group_at(block, rewriter)) >= 0:
                _add_sets(query, block, at, rewriter)


def _group_at(block: Select, rewriter: Rewriter) -> int:
    """Return the token GROUP of a block that groups by several sets, -1 for others."""
    last = block.where.last if block.where is not None else block.sources[-1].last if block.sources else block.last
    end = block.having.first - 1 if block.having is not None else block.last
    at = next((i for i in range(last, end) if rewriter.words[i : i + 2] == ["GROUP", "BY"]), -1)
    clauses = (each for each in rewriter.subject.all(Clause) if each.name in _SETS)
    return at if at >= 0 and any(at < clause.first < end for clause in clauses) else -1


def _add_sets(query: Query, block: Select, at: int, rewriter: Rewriter) -> None:
    written = _Written()
    end = block.having.first - 1 if block.having is not None else block.last
    try:
        sets = _read_list(at + 2, end, rewriter)
        _check(query, block, sets)
        if rewriter.words[block.first + 1] in ("DISTINCT", "UNIQUE"):
            raise CannotDraft("groups by several sets of keys of which equal rows come once")
        keys = {_text(span, rewriter) for each in sets for span in each}
        parts: list[Node] = [*block.items, *([block.having] if block.having is not None else [])]
        order = query.order if len(query.blocks) == 1 else []
        for item in block.items if order else ():
            rewriter.wrap(item.value, partial(_shown, item, written), rank=_OVER_KEYS + 1)
        for part in parts:
            _add_keys(part, keys, written, rewriter)
        titles = _order_titles(block, order, written, rewriter)
        render = partial(_united, query, block, (at, end), sets, written, titles)
    except CannotDraft as reason:
        render = partial(_refuse, str(reason))
    rewriter.add(Point(block.first, block.last, render, rank=_OVER_KEYS))


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)


def _check(query: Query, block: Select, sets: list[Set]) -> None:
    """Raise CannotDraft for what is asked of the rows of all sets together."""
    if len(sets) > _MOST_SETS:
        raise CannotDraft(f"groups by more than {_MOST_SETS} sets of keys")
    if any(operator != "UNION ALL" for operator, _ in query.operators) or (query.operators and query.order):
        raise CannotDraft("groups by several sets of keys beside other queries")
    if block.into:
        raise CannotDraft("groups by several sets of keys whose rows go into variables")


# --- reading the sets ---


def _read_list(first: int, last: int, rewriter: Rewriter) -> list[Set]:
    """Return the sets that a list of GROUP BY stands for: each set of one member beside each set of the next."""
    words = rewriter.words
    with_cube = words[last - 2 : last] == ["WITH", "CUBE"]
    with_rollup = words[last - 2 : last] == ["WITH", "ROLLUP"]
    if with_cube or with_rollup:
        members = [_composite(*span, rewriter) for span in between_commas(first, last - 2, rewriter.words)]
        return _cube(members) if with_cube else _rollup(members)
    sets: list[Set] = [[]]
    for span in between_commas(first, last, rewriter.words):
        read = _read_member(*span, rewriter)
        sets = [_joined(before, each, rewriter) for before in sets for each in read]
    return sets


def _read_member(first: int, last: int, rewriter: Rewriter) -> list[Set]:
    words = rewriter.words
    word, opening = words[first], first + 1
    if words[first : first + 2] == ["GROUPING", "SETS"]:
        spans = between_commas(first + 3, last - 1, rewriter.words)
        return [each for span in spans for each in _read_member(*span, rewriter)]
    if word in ("ROLLUP", "CUBE") and words[opening] == "(" and closing_of(rewriter, opening) == last - 1:
        members = [_composite(*span, rewriter) for span in between_commas(opening + 1, last - 1, rewriter.words)]
        return _cube(members) if word == "CUBE" else _rollup(members)
    return [_composite(first, last, rewriter)]


def _composite(first: int, last: int, rewriter: Rewriter) -> Set:
    """Return the keys of (a, b), which come and go together, of () or of one key."""
    if rewriter.words[first] != "(" or closing_of(rewriter, first) != last - 1:
        return [(first, last)]
    return between_commas(first + 1, last - 1, rewriter.words)


def _rollup(members: list[Set]) -> list[Set]:
    return [[key for member in members[:count] for key in member] for count in range(len(members), -1, -1)]


def _cube(members: list[Set]) -> list[Set]:
    counts = range(len(members), -1, -1)
    return [[key for each in chosen for key in each] for count in counts for chosen in combinations(members, count)]


def _joined(before: Set, behind: Set, rewriter: Rewriter) -> Set:
    known = {_text(span, rewriter) for span in before}
    return [*before, *(span for span in behind if _text(span, rewriter) not in known)]


def _text(span: Span, rewriter: Rewriter) -> str:
    return " ".join(rewriter.words[span[0] : span[1]])


# --- what stands for the keys ---


def _add_keys(part: Node, keys: set[str], written: _Written, rewriter: Rewriter) -> None:
    """Add what stands for each key in the select list, in HAVING and in ORDER BY; within aggregates it is the column."""
    read = rewriter.subject.read
    if read.inside(Query, part.first, part.last):
        raise CannotDraft("groups by several sets of keys beside a query inside")
    calls = read.inside(Call, part.first, part.last)
    if any(call.over is not None for call in calls):
        raise CannotDraft("a window over groups by several sets of keys")
    closed = [(c.opening, _end(c, rewriter)) for c in calls if c.parts[-1] in AGGREGATES_OF_ALL]
    levels = [call for call in calls if call.parts[-1] in _LEVELS]
    closed += [(call.opening, call.closing) for call in levels]
    for call in levels:
        rewriter.wrap(call, partial(_level, call, written), rank=_OVER_KEYS)
    for node in _outside(part, closed, rewriter):
        if _text((node.first, node.last), rewriter) in keys:
            rewriter.wrap(node, partial(_key, node, written), rank=_OVER_KEYS)
        elif isinstance(node, Name) and not _is_within_key(node, keys, part, rewriter):
            raise CannotDraft("a column beside groups by several sets of keys")


def _end(call: Call, rewriter: Rewriter) -> int:
    """Return the parenthesis that closes an aggregate, or the filter behind it."""
    behind = call.closing + 1
    return closing_of(rewriter, behind + 1) if rewriter.words[behind : behind + 2] == ["FILTER", "("] else call.closing


def _outside(part: Node, closed: list[Span], rewriter: Rewriter) -> Iterator[Node]:
    for node in rewriter.subject.read.nodes:
        inside = part.first <= node.first and node.last <= part.last and node.first < node.last
        if inside and not isinstance(node, SelectItem | OrderItem) and not any(a < node.first < b for a, b in closed):
            yield node


def _is_within_key(name: Name, keys: set[str], part: Node, rewriter: Rewriter) -> bool:
    """Whether a column is a part of a longer key, such as that of YEAR(placed)."""
    around = rewriter.subject.read.parent(name)
    while around is not None and part.first <= around.first and around.last <= part.last:
        if _text((around.first, around.last), rewriter) in keys:
            return True
        around = rewriter.subject.read.parent(around)
    return False


def _key(node: Node, written: _Written, rewriter: Rewriter) -> str:
    is_left_out = written.present is not None and _text((node.first, node.last), rewriter) not in written.present
    return "NULL" if is_left_out else rewriter.node(node)


def _shown(item: SelectItem, written: _Written, rewriter: Rewriter) -> str:
    """Write a value of the list, or around all queries the column that it became there."""
    if written.present is not None:
        return rewriter.node(item.value)
    if not item.title:
        raise CannotDraft("an order by a column without a name")
    return rewriter.names.write(item.title)


def _level(call: Call, written: _Written, rewriter: Rewriter) -> str:
    return rewriter.node(call) if written.present is None else _number(call, written.present, rewriter)


def _number(call: Call, present: frozenset[str], rewriter: Rewriter) -> str:
    """Return GROUPING(a, b) as the number whose bits say which keys are left out."""
    bits = ["01"[_text((each.first, each.last), rewriter) not in present] for each in call.arguments]
    if not bits:
        raise CannotDraft("GROUPING_ID without keys")
    return str(int("".join(bits), 2))


# --- writing ---


def _order_titles(block: Select, order: list[OrderItem], written: _Written, rewriter: Rewriter) -> list[Node]:
    """Say which column stands for each key of ORDER BY; return those that have none and get one of their own."""
    titles = {item.title for item in block.items}
    shown = {_text((item.value.first, item.value.last), rewriter): item.title for item in block.items}
    hidden: list[Node] = []
    for value in (item.value for item in order):
        title = value.parts[-1] if isinstance(value, Name) and value.parts[-1] in titles else ""
        title = title or shown.get(_text((value.first, value.last), rewriter), "")
        if isinstance(value, Literal):
            continue
        if not title:
            hidden.append(value)
        written.titles[value] = rewriter.names.write(title) if title else f"hs_order_{len(hidden)}"
        rewriter.wrap(value, partial(_order_key, value, written), rank=_INSIDE)
    if hidden and "" in titles:
        raise CannotDraft("an order beside columns without a name")
    return hidden


def _order_key(value: Node, written: _Written, rewriter: Rewriter) -> str:
    return written.titles[value]


def _united(
    query: Query,
    block: Select,
    group: Span,
    sets: list[Set],
    written: _Written,
    hidden: list[Node],
    rewriter: Rewriter,
) -> str:
    texts = [_query_of(block, group, each, written, hidden, rewriter) for each in sets]
    text = "\nUNION ALL\n".join(texts)
    is_bare = query.last <= block.last and rewriter.words[block.first + 1] != "TOP"
    if is_bare or len(query.blocks) > 1:
        return text
    shown = ", ".join(rewriter.names.write(item.title) for item in block.items) if hidden else "*"
    return f"SELECT {shown}\nFROM (\n{text}\n) AS hs_sets"


def _query_of(block: Select, group: Span, keys: Set, written: _Written, hidden: list[Node], rewriter: Rewriter) -> str:
    texts = {_text(span, rewriter): span for span in keys}
    written.present = frozenset(texts)
    try:
        items = [rewriter.text(block.first, block.items[-1].last)]
        items += [f"{_hidden(each, texts, rewriter)} AS {written.titles[each]}" for each in hidden]
        having = f"HAVING {rewriter.node(block.having)}" if block.having is not None else ""
        rest = rewriter.text(block.items[-1].last, group[0])
        by = ", ".join(rewriter.text(*span) for span in keys)
    finally:
        written.present = None
    if not by and not having and not _has_aggregate(block, rewriter):
        having = "HAVING COUNT(*) >= 0"  # the set without keys is one row, whatever the table holds
    head = f"{', '.join(items)} {rest}".rstrip()
    return "\n".join(each for each in (head, by and f"GROUP BY {by}", having) if each)


def _hidden(value: Node, present: dict[str, Span], rewriter: Rewriter) -> str:
    """Write a key of ORDER BY in the query of one set: a key of the groups, or which of them are left out."""
    if isinstance(value, Call) and value.parts[-1] in _LEVELS:
        return _number(value, frozenset(present), rewriter)
    text = _text((value.first, value.last), rewriter)
    if isinstance(value, Name):
        return rewriter.text_elsewhere(*present[text]) if text in present else "NULL"
    raise CannotDraft("an order by a value that groups by several sets of keys do not show")


def _has_aggregate(block: Select, rewriter: Rewriter) -> bool:
    calls = rewriter.subject.read.inside(Call, block.first, block.items[-1].last)
    return any(call.parts[-1] in AGGREGATES_OF_ALL for call in calls)
