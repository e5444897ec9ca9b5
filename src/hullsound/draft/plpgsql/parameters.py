"""Parameters with a length or digits, which PostgreSQL throws away: drafts bring what a caller gives to them first.

Sources: PostgreSQL 18, CREATE FUNCTION, "argtype" (type modifiers are discarded); Transact-SQL reference, "char and varchar" (1
without a length) and "Data type conversion" (texts are cut and decimals rounded as they are passed); MySQL 8.4, "Precision Math"
(decimals are rounded; a text that is too long is an error); Db2 11.5, SQL Reference, "Assignments and comparisons" (decimals are
cut).
"""

from collections.abc import Callable, Iterator
from functools import partial
from typing import Final, NamedTuple

from hullsound.draft.conversions.assigned import cut_text
from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.sql.tree import Name, Node, Parameter, Variable

from .shared import write_type

CONSTRUCT: Final = "convert.parameter-size"
_TEXTS: Final = ("varchar(", "char(")
_NUMBERS: Final = ("numeric(",)
_CHANGED: Final = {
    "sqlserver": _TEXTS + _NUMBERS, "ase": _TEXTS + _NUMBERS, "mysql": _NUMBERS, "mariadb": _NUMBERS, "db2": _NUMBERS,
}  # fmt: skip
"""What each source brings to its size without an error, as PostgreSQL writes the types."""
_RANK: Final = 5


class Sized(NamedTuple):
    """A parameter whose size counts, its type on the target, and the places where it is read."""

    parameter: Parameter
    kind: str
    places: list[Name]


def sized_parameters(parameters: list[Parameter], first: int, rewriter: Rewriter) -> Iterator[Sized]:
    """Yield each parameter that a caller gives and that has a size, if it is read behind a token or given back."""
    changed = _CHANGED.get(rewriter.catalog.engine)
    for each in parameters if changed is not None else ():
        places = [name for name in rewriter.subject.all(Name) if name.parts == (each.name,) and name.first >= first]
        counts = each.mode == "in out" or (each.mode == "in" and places)
        kind = write_type(each.type, rewriter) if counts else ""
        if changed is not None and kind.startswith(changed):
            yield Sized(each, kind, places)


def keep_sizes(parameters: list[Parameter], first: int, called: Callable[[str], str], rewriter: Rewriter) -> str:
    """Return the statements that cut or round what parameters were given; `called` tells what one is called on the target."""
    lines = []
    for parameter, kind, _ in sized_parameters(parameters, first, rewriter):
        name = called(parameter.name)
        lines.append(f"  {name} := {_sized(name, kind, rewriter)};\n")
        rewriter.rendered.append((CONSTRUCT, parameter.first))
    return "".join(lines)


def cast_where_read(parameters: list[Parameter], query: Node, rewriter: Rewriter) -> None:
    """Cut or round what parameters were given in each place of a query that reads them, where no statement can do it before."""
    for _, kind, places in sized_parameters(parameters, query.first, rewriter):
        for place in places:
            _cast_at(place, kind, rewriter)


def cast_in_defaults(parameters: list[Parameter], first: int, declared: list[Variable], rewriter: Rewriter) -> None:
    """Cut or round what parameters were given where variables begin with them, before any statement."""
    defaults = [each.default for each in declared if each.default is not None]
    for _, kind, places in sized_parameters(parameters, first, rewriter):
        for place in places:
            if any(default.first <= place.first and place.last <= default.last for default in defaults):
                _cast_at(place, kind, rewriter)


def _cast_at(place: Name, kind: str, rewriter: Rewriter) -> None:
    rewriter.add(Point(place.first, place.last, partial(_cast, place, kind), CONSTRUCT, rank=_RANK))


def _cast(place: Name, kind: str, rewriter: Rewriter) -> str:
    return _sized(rewriter.node(place), kind, rewriter)


def _sized(value: str, kind: str, rewriter: Rewriter) -> str:
    digits = kind.rstrip(")").partition(",")[2].strip()
    if rewriter.catalog.engine == "db2":
        value = cut_text(value, digits or "0", "postgresql")
    return f"CAST({value} AS {kind})"
