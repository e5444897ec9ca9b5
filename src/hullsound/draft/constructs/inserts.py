"""INSERT ALL and INSERT FIRST of Oracle: rows of one query, or plain values, into several tables at once.

Source: Oracle SQL Language Reference, "INSERT" (multi_table_insert); PostgreSQL manual, "Data-Modifying Statements in WITH".
Other targets run one INSERT after the other.
"""

from typing import NamedTuple

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.change_parts import clause_of
from hullsound.sight.detector import Found
from hullsound.sql.tree import (
    CreateRoutine,
    CreateTrigger,
    Delete,
    Insert,
    Literal,
    Query,
    Select,
    Star,
    TableRef,
    Update,
)

from . import fixer

_ROWS = "hs_rows"
"""Common table of the rows that are shared out."""


class _Part(NamedTuple):
    """One INTO; texts are as drafted. `condition` is '' where every row goes in, `values` '' for the whole row."""

    condition: str
    target: str
    values: str


@fixer("insert_into_several")
def fix_insert_into_several(place: Found, rewriter: Rewriter) -> str:
    """Write one INSERT for each INTO, the earlier ones as common tables of the last."""
    insert = next((i for i in rewriter.subject.all(Insert) if i.table is None and i.first == place.first), None)
    if insert is None or insert.query is None:
        raise CannotDraft("an INSERT into several tables in a form that is not known")
    words = rewriter.words[place.first : insert.query.first]
    if "NEXTVAL" in words:
        raise CannotDraft("a number of a sequence that several tables get alike")
    if "ERRORS" in words:
        raise CannotDraft("errors of rows that are logged")
    parts = _parts(insert.first + 2, insert.query.first, rewriter, is_first=words[1] == "FIRST")
    if len({part.target for part in parts}) > 1 and "ROWCOUNT" in rewriter.words:
        raise CannotDraft("the number of rows that go into several tables")
    is_postgresql = rewriter.target.engine == "postgresql"
    if _is_of_dual(insert.query) and not any(part.condition for part in parts):
        return _of_values(parts, is_chained=is_postgresql)
    if "DEFAULT" in words or not parts:
        raise CannotDraft("DEFAULT among the values of several tables")
    query = rewriter.node(insert.query)
    if not is_postgresql:
        _refuse_changed_sources(insert.query, place.first, rewriter)
    source = _ROWS if is_postgresql else f"({query}) AS {_ROWS}"
    inserts = [
        f"INSERT INTO {part.target}\nSELECT {part.values or '*'} FROM {source}"
        + (f" WHERE {part.condition}" if part.condition else "")
        for part in parts
    ]
    return _chained([f"{_ROWS} AS ({query})"], inserts) if is_postgresql else ";\n".join(inserts)


def _refuse_changed_sources(query: Query, first: int, rewriter: Rewriter) -> None:
    """Refuse what one INSERT after the other would read otherwise: tables that they fill, and an order."""
    inside = rewriter.subject.read.inside
    read = {each.parts[-1] for each in inside(TableRef, query.first, query.last)}
    filled = {each.parts[-1] for each in inside(TableRef, first, query.first)}
    named = {rewriter.words[at + 1] for at in range(first, query.first - 1) if rewriter.words[at] == "INTO"}
    if read & (filled | named) or query.order or query.common:
        raise CannotDraft("rows for several tables that come from one of them, or in an order")


def _is_of_dual(query: Query) -> bool:
    """Whether a query only gives one row, of which the values name nothing."""
    block = query.blocks[0] if len(query.blocks) == 1 else None
    source = block.sources[0] if isinstance(block, Select) and len(block.sources) == 1 else None
    if not isinstance(block, Select) or not isinstance(source, TableRef) or source.parts[-1] != "DUAL":
        return False
    return all(
        isinstance(item.value, Star) or (isinstance(item.value, Literal) and not item.alias) for item in block.items
    )


def _of_values(parts: list[_Part], *, is_chained: bool) -> str:
    if not all(part.values for part in parts):
        raise CannotDraft("an INSERT without values")
    if len({part.target for part in parts}) == 1:
        return f"INSERT INTO {parts[0].target}\nVALUES " + ",\n  ".join(f"({part.values})" for part in parts)
    inserts = [f"INSERT INTO {part.target}\nVALUES ({part.values})" for part in parts]
    return _chained([], inserts) if is_chained else ";\n".join(inserts)


def _chained(common: list[str], inserts: list[str]) -> str:
    *earlier, last = inserts
    common = common + [f"hs_part{number} AS (\n{text}\n)" for number, text in enumerate(earlier, start=1)]
    return f"WITH {', '.join(common)}\n{last}" if common else last


def _parts(at: int, end: int, rewriter: Rewriter, *, is_first: bool) -> list[_Part]:
    """Read WHEN condition THEN, ELSE and INTO target VALUES (...) one after the other."""
    words = rewriter.words
    parts: list[_Part] = []
    earlier: list[str] = []
    condition = ""
    while at < end:
        stop = _next(at + 1, end, rewriter)
        if words[at] == "WHEN":
            text = f"({rewriter.text(at + 1, stop)})"
            others = [_fails(each, rewriter) for each in earlier] if is_first else []
            condition = " AND ".join([text, *others])
            earlier.append(text)
        elif words[at] == "ELSE":
            condition = " AND ".join(_fails(each, rewriter) for each in earlier)
        elif words[at] == "INTO":
            target, values = rewriter.text(at + 1, stop), ""
            if words[stop : stop + 1] == ["VALUES"]:
                at, stop = stop, _next(stop + 1, end, rewriter)
                values = rewriter.text(at + 2, stop - 1)
            parts.append(_Part(condition, target, values))
        at = stop
    return parts


def _fails(condition: str, rewriter: Rewriter) -> str:
    """Write that a condition does not hold, be it false or unknown."""
    if rewriter.target.engine == "sqlserver":
        return f"CASE WHEN {condition} THEN 1 ELSE 0 END = 0"
    return f"NOT COALESCE({condition}, FALSE)"


def _next(at: int, end: int, rewriter: Rewriter) -> int:
    """Return the place of the next word that begins a part, outside of parentheses and CASE."""
    depth = 0
    while at < end:
        word = rewriter.words[at]
        if depth == 0 and word in ("WHEN", "THEN", "ELSE", "INTO", "VALUES"):
            return at
        depth += (word in ("(", "CASE")) - (word in (")", "END"))
        at += 1
    return end


@fixer("values_given_back")
def fix_values_given_back(place: Found, rewriter: Rewriter) -> str:
    """RETURNING and OUTPUT of a change, which the walk through a routine takes apart; elsewhere the rows must be read."""
    node, subject = place.node, rewriter.subject
    changes = [*subject.all(Update), *subject.all(Delete)]
    is_walked = bool(subject.all(CreateRoutine) or subject.all(CreateTrigger))
    is_kept = is_walked and any(clause_of(each, "output", rewriter) is node for each in changes)
    if is_kept or (isinstance(node, Insert | Update | Delete) and node.into):
        return rewriter.text(place.first, place.last)
    raise CannotDraft("rows that a change gives back")
