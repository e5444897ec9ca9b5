"""Arguments that the source converts by itself and PostgreSQL does not: numbers as text, wide numbers as places."""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.signatures import signature_of
from hullsound.analyze.types import NUMBERS, Family
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, Parameter
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sql.tree import Call, Literal, Name, Node

from .handed_values import handed_values
from .plain_numbers import plain_number
from .value_texts import add_text
from .values import target_type

_JOINING: Final = ("CONCAT", "CONCAT_WS")


def add_argument_points(rewriter: Rewriter) -> None:
    """Add a cast to each argument that needs one."""
    is_tsql = rewriter.catalog.engine in ("sqlserver", "ase")
    for call in rewriter.subject.all(Call):
        if len(call.parts) > 1:
            continue
        name = call.parts[0]
        if is_tsql and name == "ROUND" and len(call.arguments) == 3:
            rewriter.add(Point(call.first, call.last, partial(_cut_off, call)))
            continue
        if name == "EXTRACT" and call.arguments and rewriter.types.family(call.arguments[-1]) is Family.TEXT:
            rewriter.add(
                Point(
                    call.arguments[-1].first,
                    call.arguments[-1].last,
                    partial(_cast, call.arguments[-1], "timestamp"),
                    rank=1,
                )
            )
        if name == "TIMESTAMP" and call.arguments:
            rewriter.add(Point(call.first, call.last, partial(_timestamp, call)))
        if name in _JOINING:  # takes any value, but writes moments, and bits, in its own way
            texts = [each for each in call.arguments if is_tsql or rewriter.types.family(each) is Family.TIMESTAMP]
        else:
            texts = list(_taken("text", call, rewriter))
            if name == "TRIM" and rewriter.words[call.arguments[-1].first - 1] == "FROM":
                texts = [call.arguments[-1]]
        for each in texts:
            add_text(each, rewriter)
        for each in _taken("integer", call, rewriter):
            _add_whole(each, rewriter)
        if name == "SUBSTRING" and len(call.arguments) == 1:
            for part in rewriter.subject.all(Name):  # SUBSTRING(text FROM place FOR length)
                if call.arguments[0].last < part.first < call.closing:
                    _add_whole(part, rewriter)


def _taken(family: str, call: Call, rewriter: Rewriter) -> Iterator[Node]:
    """Yield the arguments that must be of a family."""
    signature = signature_of(call, rewriter.catalog.engine)
    for taken, argument in zip(signature.takes if signature is not None else (), call.arguments, strict=False):
        if taken == family:
            yield argument


def _cut_off(call: Call, rewriter: Rewriter) -> str:
    """ROUND with a third argument cuts off, unless that is 0."""
    value, digits, function = call.arguments
    if not isinstance(function, Literal):
        raise CannotDraft("ROUND that rounds or cuts off by what is known only then")
    name = "round" if rewriter.subject.source(function) == "0" else "trunc"
    return f"{name}(CAST({rewriter.node(value)} AS numeric), {rewriter.node(digits)})"


def _timestamp(call: Call, rewriter: Rewriter) -> str:
    """TIMESTAMP(date, time) makes a moment of both."""
    date, *time = (rewriter.node(each) for each in call.arguments)
    return f"(CAST({date} AS timestamp){f' + CAST({time[0]} AS interval)' if time else ''})"


def _add_whole(node: Node, rewriter: Rewriter) -> None:
    kind = rewriter.types.family(node)
    reads_texts = kind is Family.TEXT and rewriter.catalog.engine in ("sqlserver", "ase")
    is_whole_constant = isinstance(node, Literal) and kind is not Family.NUMBER
    if is_whole_constant or (kind not in NUMBERS and not reads_texts):
        return
    if target_type(node, rewriter) not in ("integer", "smallint"):
        cuts = kind is Family.NUMBER and _cuts_off(node, rewriter)
        rewriter.add(Point(node.first, node.last, partial(_cut if cuts else _cast, node, "integer"), rank=3))


def _cuts_off(node: Node, rewriter: Rewriter) -> bool:
    """Whether the source cuts fractions off where a whole number is wanted; PostgreSQL, MySQL, and money of T-SQL round."""
    source = rewriter.types.source_type(node)
    is_money = source is not None and source.name.endswith("MONEY")
    return rewriter.catalog.engine == "sqlite" or (rewriter.catalog.engine in ("sqlserver", "ase") and not is_money)


def _cut(node: Node, kind: str, rewriter: Rewriter) -> str:
    return f"CAST(trunc({rewriter.node(node)}) AS {kind})"


def _cast(node: Node, kind: str, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS {kind})"


_RANK: Final = {
    name: place for place, name in enumerate(("smallint", "integer", "bigint", "numeric", "real", "double precision"))
}
"""Number types in the order in which PostgreSQL widens them by itself; never the other way."""


_TEXT_TYPES: Final = ("text", "varchar", "char")
_READ_FROM_TEXT: Final = (*_RANK, "date", "timestamp", "time", "uuid")
"""Types as which a text is read where a routine asks for one."""

_NOW: Final = ("SYSDATE", "SYSTIMESTAMP", "CURRENT_TIMESTAMP", "LOCALTIMESTAMP")
"""Names of the present moment, some of which PostgreSQL gives with a zone."""
_MOMENTS: Final = ("date", "timestamp", "time")
_WITH_STYLES: Final = ("sqlserver", "ase")
"""Engines that write a moment as a text in another order than ISO 8601."""


def add_call_points(rewriter: Rewriter) -> None:
    """Narrow numbers and moments that are handed to the catalogue's own routines, which PostgreSQL does not do by itself."""
    for call in rewriter.subject.all(Call):
        _drop_defaults(call, rewriter)
    for item, parameter, value in handed_values(rewriter):
        _add_handed(item, parameter, value, rewriter)


def _drop_defaults(call: Call, rewriter: Rewriter) -> None:
    """Leave out DEFAULT at the end of the arguments: a default is taken where nothing is given."""
    kept = [argument for argument in call.arguments if not _is_default(argument)]
    if len(kept) < len(call.arguments) and kept == call.arguments[: len(kept)]:
        first = kept[-1].last if kept else call.arguments[0].first
        rewriter.replace(first, call.closing, "")


def _is_default(node: Node) -> bool:
    return isinstance(node, Name) and node.parts == ("DEFAULT",)


def _add_handed(item: Object, parameter: Parameter, value: Node, rewriter: Rewriter) -> None:
    wanted = plain_type(parameter_type(parameter.type, item, rewriter.catalog, rewriter.target))
    is_now = isinstance(value, Name) and value.parts[-1] in _NOW
    given = "timestamp" if is_now else plain_type(target_type(value, rewriter))
    narrows = _RANK.get(given, -1) > _RANK.get(wanted, len(_RANK))
    is_read = given in _TEXT_TYPES and not isinstance(value, Literal) and wanted in _READ_FROM_TEXT
    if (
        narrows
        or is_read
        or (given.startswith("timestamp") and (wanted == "date" or (is_now and wanted == "timestamp")))
    ):
        rewriter.add(Point(value.first, value.last, partial(_cast, value, wanted), rank=3))
    elif wanted in _TEXT_TYPES and (
        given in _RANK or (given in _MOMENTS and rewriter.catalog.engine not in _WITH_STYLES)
    ):
        rewriter.add(Point(value.first, value.last, partial(_text_of, value, given), rank=3))


def _text_of(value: Node, given: str, rewriter: Rewriter) -> str:
    """Write a value as a text, which PostgreSQL does by itself in assignments alone."""
    is_trimmed = (
        rewriter.catalog.engine == "oracle" and given in _RANK and rewriter.types.family(value) is Family.NUMBER
    )
    return plain_number(value, rewriter) if is_trimmed else f"CAST({rewriter.node(value)} AS text)"


def widens(given: str, wanted: str) -> bool:
    """Whether an argument of one number type is taken where another is wanted."""
    return _RANK.get(plain_type(given), len(_RANK)) <= _RANK.get(plain_type(wanted), -1)


def plain_type(text: str) -> str:
    """Return a number type without precision, as a parameter has it: a small one is taken as integer."""
    plain = text.partition("(")[0]
    return "integer" if plain == "smallint" else plain


def parameter_type(text: str, item: Object, catalog: Catalog, target: Target) -> str:
    """Return what the source's type of a parameter becomes; '' if that is not known."""
    if text.upper().endswith("%TYPE"):
        *table, column = text[:-5].upper().split(".")
        owner = catalog.table(tuple(table), item.default_schema) if table else None
        found = [c.type for c in owner.columns if c.name == column] if owner is not None else []
        source = found[0] if found else None
    else:
        source = parse_type(text)
    choice = choose_type(catalog.engine, source, target) if source is not None else None
    return choice.text if choice is not None else ""
