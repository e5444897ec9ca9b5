"""ROUND, TRUNC and TRUNCATE to so many digits, which PostgreSQL has for numeric alone.

Source: PostgreSQL manual, "Mathematical Functions and Operators": round(v numeric, s integer).
"""

from functools import partial
from typing import Final

from hullsound.analyze.signatures import signature_of
from hullsound.analyze.types import Family
from hullsound.catalog.definitions import data_type
from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Bind, Call, Cast, Literal, Name, Node, Operation

_ROUNDING: Final = frozenset(("ROUND", "TRUNC", "TRUNCATE"))
_CUTTING: Final = frozenset(("ROUND", "TRUNC", "FLOOR", "CEIL", "CEILING", "SIGN"))
"""Functions that PostgreSQL gives as double precision for whole numbers, where they have one argument."""
_KEEPING_WHOLE: Final = frozenset(("mysql", "mariadb", "sqlserver", "ase"))
"""Engines in which a whole number rounded to decimals is a whole number."""
_WITH_FLOATS: Final = frozenset(("sqlserver", "ase", "mysql", "mariadb"))
"""Engines in which a column of a table or query that only the code knows is often a float."""


def add_rounding_points(rewriter: Rewriter) -> None:
    """Make numeric what is rounded to digits, unless it is so for certain; leave whole numbers as they are."""
    for call in rewriter.subject.all(Call):
        if len(call.parts) != 1 or not call.arguments:
            continue
        if _cuts_whole(call, rewriter):
            kept = _as_whole if call.parts[0] == "SIGN" else _unrounded
            rewriter.add(Point(call.first, call.last, partial(kept, call.arguments[0]), rank=1))
        if call.parts[0] not in _ROUNDING or len(call.arguments) != 2:
            continue
        value, digits = call.arguments
        if isinstance(digits, Literal) and digits.form == "string":
            continue  # a unit of time
        if _stays_whole(value, digits, rewriter):
            rewriter.add(Point(call.first, call.last, partial(_unrounded, value), rank=1))
        elif may_be_float(value, rewriter):
            rewriter.wrap(value, partial(_numeric, value), rank=7)


def may_be_float(node: Node, rewriter: Rewriter) -> bool:
    """Whether a part of a number may be double precision in the draft; a cast does no harm to numbers of another kind."""
    subject = rewriter.subject

    def within(part: Node) -> bool:
        return node.first <= part.first and part.last <= node.last

    return (
        any(within(name) and _is_float(name, rewriter) for kind in (Name, Bind) for name in subject.all(kind))
        or any(within(call) and _gives_float(call, rewriter) for call in subject.all(Call))
        or any(within(power) and "**" in power.operators for power in subject.all(Operation))
        or any(within(cast) and _makes_float(cast, rewriter) for cast in subject.all(Cast))
    )


def _gives_float(call: Call, rewriter: Rewriter) -> bool:
    engines = (rewriter.catalog.engine, rewriter.target.engine)
    signatures = (signature_of(call, engine) for engine in engines)
    return any(each is not None and each.gives == "float" for each in signatures) or _cuts_whole(call, rewriter)


def _cuts_whole(call: Call, rewriter: Rewriter) -> bool:
    """Whether a whole number is cut to a whole number, which PostgreSQL gives as double precision."""
    is_cut = call.parts[-1] in _CUTTING and len(call.arguments) == 1
    return is_cut and rewriter.types.family(call.arguments[0]) in (Family.INTEGER, Family.BOOLEAN)


def _is_float(name: Name, rewriter: Rewriter) -> bool:
    source = rewriter.types.source_type(name)
    if source is None:
        return rewriter.catalog.engine in _WITH_FLOATS and rewriter.types.family(name) in (
            Family.UNKNOWN,
            Family.NUMBER,
        )
    logical = logical_type(rewriter.catalog.engine, source)
    return logical is not None and logical.kind == "float"


def _makes_float(cast: Cast, rewriter: Rewriter) -> bool:
    """Whether a cast makes a float."""
    logical = logical_type(rewriter.catalog.engine, data_type(cast.type))
    return logical is not None and logical.kind == "float"


def _stays_whole(value: Node, digits: Node, rewriter: Rewriter) -> bool:
    return (
        rewriter.catalog.engine in _KEEPING_WHOLE
        and rewriter.types.family(value) is Family.INTEGER
        and rewriter.subject.source(digits).isdigit()
    )


def _as_whole(value: Node, rewriter: Rewriter) -> str:
    return f"CAST(sign({rewriter.node(value)}) AS integer)"


def _unrounded(value: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(value)})"


def _numeric(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS numeric)"
