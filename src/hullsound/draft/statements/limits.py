"""Limits of queries in the target's form: LIMIT, TOP, or OFFSET with FETCH.

Sources: Transact-SQL reference, "TOP" and "ORDER BY Clause"; Oracle Database 19c, "SQL Language Reference", row_limiting_clause;
MySQL 8.4 Reference Manual, "SELECT Statement".
"""

from collections.abc import Container, Iterator
from functools import partial
from typing import Final, NamedTuple, NoReturn

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Delete, Node, Query, Select, Update

from .ordered_changes import add_ordered_change
from .row_locks import locking_clause

LIMITS: Final = ("limit", "top", "offset", "fetch-first")
_SHARES: Final = ("fetch-first-percent", "fetch-first-ties")
_WHOLE: Final = frozenset(("sqlserver", "ase", "mysql", "mariadb"))
"""Sources that take whole numbers only, and refuse NULL."""
_LIMITLESS: Final = "18446744073709551615"
"""The largest number of rows that MySQL's LIMIT takes, for OFFSET without one."""


class Span(NamedTuple):
    """The tokens [first, last) of an expression."""

    first: int
    last: int


def add_limit(query: Query, rewriter: Rewriter) -> None:
    """Write the limit of a query in the target's form. Raises CannotDraft for one that the target has not."""
    if rewriter.target.engine == "sqlserver":
        _add_top_of_share(query, rewriter)
    clauses = {clause.name: clause for clause in _clauses_of(query, rewriter)}
    if not clauses:
        return
    words = rewriter.words
    if len(query.blocks) > 1 and "top" in clauses:
        _refuse()
    count: Span | None = None
    skip: Span | None = None
    for name, clause in clauses.items():
        inside = words[clause.first : clause.last]
        if name == "top" and "PERCENT" in words[clause.first : clause.last + 1] and "100" in inside:
            rewriter.replace(clause.first, clause.last + (words[clause.last] == "PERCENT"), " ")
            return
        if "PERCENT" in inside or words[clause.last : clause.last + 1] == ["PERCENT"]:
            _refuse()
        numbers = rows_of(clause, rewriter)
        if name == "offset":
            skip = numbers[0]
        elif len(numbers) > 1:
            count, skip = (numbers[1], numbers[0]) if "," in inside else (numbers[0], numbers[1])
        else:
            count = numbers[0]
    ties = any("TIES" in words[clause.first : _end_of(clause, words)] for clause in clauses.values())
    if ties and (rewriter.target.engine == "mysql" or skip is not None or query.operators or not query.order):
        _refuse()
    for clause in clauses.values():
        rewriter.put_over(clause.first, _end_of(clause, words), " " if clause.name == "top" else "")
    _put_limit(query, count, skip, rewriter, ties=ties)


def _add_top_of_share(query: Query, rewriter: Rewriter) -> None:
    """Write FETCH FIRST ... PERCENT and WITH TIES as TOP, which counts a share up to the next whole row as well."""
    words, block = rewriter.words, query.blocks[0]
    for clause in _clauses_of(query, rewriter, _SHARES):
        is_share, ties = "PERCENT" in words[clause.first : clause.last], "TIES" in words[clause.first : clause.last]
        ends = ("PERCENT", "ROW", "ROWS")
        last = next(at for at in range(clause.first + 2, clause.last) if words[at] in ends)
        has_offset = words[clause.first - 1] in ("ROW", "ROWS")
        if query.operators or not isinstance(block, Select) or has_offset or (ties and not query.order):
            _refuse()
        text = f"TOP ({rewriter.text(clause.first + 2, last).strip() or '1'}) "
        text += ("PERCENT " if is_share else "") + ("WITH TIES " if ties else "")
        rewriter.put_over(clause.first, clause.last, "")
        rewriter.insert(block.items[0].first, text)


def _end_of(clause: Clause, words: list[str]) -> int:
    """Return the token behind a clause and its WITH TIES."""
    return clause.last + 2 * (words[clause.last : clause.last + 2] == ["WITH", "TIES"])


def take_first_row(query: Query, block: Select, rewriter: Rewriter) -> None:
    """Limit a query that fills variables to its first row, which PostgreSQL takes of several.

    Raises CannotDraft where the query has another limit, or locks what it reads.
    """
    words = rewriter.words
    clauses = list(_clauses_of(query, rewriter))
    if any(words[span.first] != "1" for clause in clauses for span in rows_of(clause, rewriter)):
        raise CannotDraft("a query whose first row of several fills a variable, with a limit of its own")
    is_locked = "FOR" in words[block.from_at : query.last]
    if is_locked and (not clauses or rewriter.target.engine == "oracle"):  # Oracle locks no rows of limited queries
        raise CannotDraft("a query that locks the first row of several")
    if clauses:
        return
    if rewriter.target.engine == "sqlserver":
        at = block.items[0].first
        rewriter.add(Point(at, at, lambda _: "TOP (1) "))
        return
    text = " LIMIT 1" if rewriter.target.engine in ("mysql", "mariadb") else " FETCH FIRST 1 ROWS ONLY"
    rewriter.add(Point(query.last, query.last, lambda _: text, behind=query.first))


def add_change_limits(rewriter: Rewriter) -> None:
    """Write how many rows an UPDATE or DELETE changes at most. Raises CannotDraft for a share of the rows, and through a join."""
    target = rewriter.target.engine
    changes: list[Update | Delete] = [*rewriter.subject.all(Update), *rewriter.subject.all(Delete)]
    for change in changes:
        inside = rewriter.subject.read.inside(Clause, change.first, change.last)
        inner = rewriter.subject.read.inside(Query, change.first, change.last)
        limits = [
            each for each in inside
            if each.name in ("top", "limit") and not any(q.first <= each.first < q.last for q in inner)
        ]  # fmt: skip
        if len(limits) != 1 or (limits[0].name == "limit" and target in ("mysql", "mariadb")):
            continue
        clause, words = limits[0], rewriter.words
        numbers = rows_of(clause, rewriter)
        is_odd = len(numbers) > 1 or words[clause.last : clause.last + 1] == ["PERCENT"]
        is_ordered = "ORDER" in words[change.first : clause.first] and clause.name == "limit"
        if is_ordered and not is_odd and target in ("sqlserver", "oracle"):
            add_ordered_change(change, clause, numbers[0], rewriter)
            continue
        if is_odd or "ORDER" in words[change.first : change.last] or "JOIN" in words[change.first : change.last]:
            raise CannotDraft("a change of so many rows in an order, of a share of them, or through a join")
        rewriter.put_over(clause.first, clause.last, "")
        _put_change_limit(change, numbers[0], rewriter)


def _put_change_limit(change: Update | Delete, count: Span, rewriter: Rewriter) -> None:
    match rewriter.target.engine:
        case "mysql" | "mariadb":
            rewriter.add(Point(change.last, change.last, partial(_behind, count, None, False), behind=change.first))
        case "sqlserver":
            rewriter.add(Point(change.first + 1, change.first + 1, partial(_top, count)))
        case "oracle" if change.where is not None:
            rewriter.wrap(change.where, partial(_and_rownum, change.where, count), rank=8)
        case "oracle":
            rewriter.add(Point(change.last, change.last, partial(_where_rownum, count), behind=change.first))


def _where_rownum(count: Span, rewriter: Rewriter) -> str:
    return f" WHERE ROWNUM <= {_in_brackets(_number(count, rewriter))}"


def _and_rownum(where: Node, count: Span, rewriter: Rewriter) -> str:
    return f"({rewriter.node(where)}) AND ROWNUM <= {_in_brackets(_number(count, rewriter))}"


def _clauses_of(query: Query, rewriter: Rewriter, names: Container[str] = LIMITS) -> Iterator[Clause]:
    """Yield the clauses that limit a query itself, and none inside of it."""
    inner = [
        each for each in rewriter.subject.all(Query)
        if each is not query and query.first <= each.first and each.last <= query.last
    ]  # fmt: skip
    for clause in rewriter.subject.read.inside(Clause, query.first, query.last):
        if clause.name in names and not any(q.first <= clause.first and clause.last <= q.last for q in inner):
            yield clause


def rows_of(clause: Clause, rewriter: Rewriter) -> list[Span]:
    """Return the numbers of rows that a clause names. Raises CannotDraft for what is no whole number for certain."""
    words = rewriter.words
    first, last = clause.first + 1, clause.last
    if clause.name == "fetch-first":
        first += 1
    last = next((at for at in range(first, last) if words[at] in ("ROW", "ROWS", "WITH")), last)
    cut = next((at for at in range(first, last) if words[at] in (",", "OFFSET")), last)
    spans = [Span(first, cut), Span(cut + 1, last)] if cut < last else [Span(first, last)]
    for span in spans:
        is_plain = span.last - span.first == 1 and words[span.first].isdigit()
        in_brackets = words[span.first] == "(" and words[span.first + 1].isdigit() and span.last - span.first == 3
        if span.last <= span.first or not (is_plain or in_brackets or rewriter.catalog.engine in _WHOLE):
            _refuse()
    return [_bare(span, words) for span in spans]


def _bare(span: Span, words: list[str]) -> Span:
    """Take off the brackets around a lone number or name."""
    return Span(span.first + 1, span.last - 1) if words[span.first] == "(" and span.last - span.first == 3 else span


def _put_limit(query: Query, count: Span | None, skip: Span | None, rewriter: Rewriter, *, ties: bool = False) -> None:
    block = query.blocks[0]
    if rewriter.target.engine == "sqlserver" and skip is None and not query.operators and isinstance(block, Select):
        at = block.items[0].first
        rewriter.add(Point(at, at, partial(_top, count, ties=ties)))
        return
    is_without_order = rewriter.target.engine == "sqlserver" and not query.order
    if is_without_order and (query.operators or rewriter.words[block.first + 1] == "DISTINCT"):
        _refuse()
    render = partial(_with_ties, count) if ties else partial(_behind, count, skip, is_without_order)
    lock = locking_clause(query, rewriter)
    if lock is None or rewriter.target.engine == "sqlserver":
        rewriter.add(Point(query.last, query.last, render, behind=query.first))
    elif rewriter.target.engine == "oracle":
        raise CannotDraft("a limit of rows that are locked")
    else:  # the locks stand behind the limit
        rewriter.add(Point(lock.first, lock.first, lambda rewriter: f"{render(rewriter).strip()} "))


def _top(count: Span | None, rewriter: Rewriter, *, ties: bool = False) -> str:
    return f"TOP ({_number(count, rewriter)}) {'WITH TIES ' if ties else ''}"


def _with_ties(count: Span | None, rewriter: Rewriter) -> str:
    """MariaDB since 10.6, "SELECT ... OFFSET ... FETCH"."""
    return f" FETCH FIRST {_number(count, rewriter)} ROWS WITH TIES"


def _behind(count: Span | None, skip: Span | None, is_without_order: bool, rewriter: Rewriter) -> str:
    engine = rewriter.target.engine
    rows, before = _number(count, rewriter), _number(skip, rewriter)
    if engine in ("mysql", "mariadb"):
        if any(not each.strip("`").isidentifier() and not each.isdigit() for each in (rows, before) if each):
            raise CannotDraft("a limit that is no number of rows and no variable")
        return f" LIMIT {rows or _LIMITLESS}" + (f" OFFSET {before}" if before else "")
    if engine == "sqlserver" and before and rows and (not rows.isdigit() or not int(rows)):
        raise CannotDraft("a limit that may be 0, which FETCH NEXT refuses")
    text = " ORDER BY (SELECT NULL)" if is_without_order else ""  # OFFSET is a part of ORDER BY there
    text += f" OFFSET {_in_brackets(before) or '0'} ROWS" if before or engine == "sqlserver" else ""
    return text + (f" FETCH NEXT {_in_brackets(rows)} ROWS ONLY" if rows else "")


def _number(span: Span | None, rewriter: Rewriter) -> str:
    return rewriter.text_elsewhere(*span).strip() if span is not None else ""


def _in_brackets(text: str) -> str:
    is_closed = text.isdigit() or text.lstrip("@").isidentifier() or (text.startswith("(") and text.endswith(")"))
    return text if not text or is_closed else f"({text})"


def _refuse() -> NoReturn:
    raise CannotDraft("a limit that is not a plain number of rows, or that cuts several queries without an order")


def add_counts_in_brackets(rewriter: Rewriter) -> None:
    """Put brackets around what OFFSET and FETCH count where it is calculated: PostgreSQL reads a single value there."""
    words = rewriter.words
    for clause in rewriter.subject.all(Clause):
        if clause.name not in ("offset", "fetch-first"):
            continue
        first = clause.first + (2 if clause.name == "fetch-first" else 1)
        end = next((at for at in range(first, clause.last) if words[at] in ("ROW", "ROWS")), 0)
        if end > first + 1 and not _is_in_brackets(first, end, words):
            rewriter.insert(first, "(")
            rewriter.insert(end, ")", behind=first)


def _is_in_brackets(first: int, end: int, words: list[str]) -> bool:
    """Whether one pair of brackets encloses all tokens from first to end."""
    depth = 0
    for at in range(first, end):
        depth += (words[at] == "(") - (words[at] == ")")
        if depth == 0 and at < end - 1:
            return False
    return words[first] == "("
