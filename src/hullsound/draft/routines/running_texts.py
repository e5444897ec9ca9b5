"""Texts of which only running code knows a part, run on the target as texts whose constant parts are rewritten.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "EXECUTE IMMEDIATE Statement": places take values in their order;
Transact-SQL reference, "sp_executesql"; MariaDB Server documentation, "EXECUTE IMMEDIATE"; MySQL 8.4 Reference Manual, "Prepared
Statements".
"""

from typing import TYPE_CHECKING, Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.statements.dynamic import Site
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import (
    Bind,
    Call,
    Execute,
    ExecuteImmediate,
    If,
    Literal,
    Name,
    Node,
    OtherStatement,
    QueryStatement,
    Select,
)

from .speech import Declared, Lines
from .types import chosen_text

if TYPE_CHECKING:
    from .walked_queries import QueryWalk

_TEXT: Final = "hs_text"
_COMMITTING: Final = ("oracle", "mysql", "mariadb")
"""Engines where TRUNCATE and DROP end the transaction."""
_WIDEST: Final = {Family.TEXT: "nvarchar(4000)", Family.INTEGER: "bigint"}
_AGGREGATES: Final = frozenset(("COUNT", "SUM", "MIN", "MAX", "AVG"))


def write_running_text(node: Execute | ExecuteImmediate, site: Site, walk: "QueryWalk") -> Lines:
    """Write the statement that runs a text. Raises CannotDraft for what the target does not run, or gives back otherwise."""
    if site.problem:
        raise CannotDraft(site.problem)
    expression = node.text
    if expression is None or (walk.unit.form != "procedure" and walk.target != "oracle"):
        raise CannotDraft("a text that is run in a function or trigger")
    if isinstance(site.tree, OtherStatement) and (walk.source in _COMMITTING) != (walk.target in _COMMITTING):
        raise CannotDraft("a statement built at run time that ends the transaction on one side alone")
    if walk.target != "sqlserver" and _may_lack_places(site, walk):
        raise CannotDraft("a text that is run with values for which it has places in some cases only")
    walk.unit.changes = True
    text = walk.value(expression)
    given = [_argument(place, number, node, site) for number, place in enumerate(site.taken)]
    filled = _filled(node, site, walk)
    if site.gives_rows and not filled:
        return _rows(text, given, walk)
    match walk.target:
        case "oracle":
            into = f" INTO {', '.join(filled)}" if filled else ""
            return [f"EXECUTE IMMEDIATE {text}{into}{_using([walk.value(each) for each in given])};"]
        case "sqlserver":
            return _tsql(text, given, filled, walk)
        case _:
            return _psm(text, [walk.value(each) for each in given], filled, walk)


def _may_lack_places(site: Site, walk: "QueryWalk") -> bool:
    """Whether a place of the text stands in a part that is added under a condition."""
    names = {each.parts[0] for each in site.taken if not isinstance(each, Bind)}
    conditional = [each for each in walk.rewriter.subject.all(If) if not each.first <= site.node.first < each.last]
    return any(
        piece.literal is not None
        and any(each.first <= piece.literal.first < each.last for each in conditional)
        and any(name in piece.text.upper() for name in names)
        for piece in site.dynamic.pieces
    )


def _argument(place: Name, number: int, node: Execute | ExecuteImmediate, site: Site) -> Node:
    """Return the value for a place of the text."""
    given: Node | None
    if isinstance(node, ExecuteImmediate):
        given = node.using[number] if number < len(node.using) else None
    else:
        given = site.argument(place.parts[0])
    if given is None:
        raise CannotDraft("a text that is run with other values than it has places for")
    return given


def _filled(node: Execute | ExecuteImmediate, site: Site, walk: "QueryWalk") -> list[str]:
    """Return the variables that the one row of a text goes into."""
    into = node.into if isinstance(node, ExecuteImmediate) else [site.argument(each) for each in site.outputs]
    known = [each for each in into if each is not None]
    if len(known) != len(into) or (isinstance(node, ExecuteImmediate) and node.bulk):
        raise CannotDraft("a text that is run and fills something")
    if known and not _is_one_row(site.tree):
        raise CannotDraft("a text that is run and fills variables from a row that may be missing")
    return walk.targets(known)


def _is_one_row(tree: Node | None) -> bool:
    """Whether a query gives one row whatever the tables hold: aggregates without groups."""
    block = tree.query.blocks[0] if isinstance(tree, QueryStatement) and len(tree.query.blocks) == 1 else None
    if not isinstance(block, Select) or block.group or block.having is not None:
        return False
    values = [getattr(each.value, "operands", [each.value])[-1] for each in block.items]
    return all(isinstance(each, Call) and each.parts[-1] in _AGGREGATES and each.over is None for each in values)


def _using(values: list[str]) -> str:
    return f" USING {', '.join(values)}" if values else ""


def _rows(text: str, given: list[Node], walk: "QueryWalk") -> Lines:
    """Give out the rows of a text that is a query."""
    values = [walk.value(each) for each in given]
    match walk.target:
        case "oracle":
            return walk.speech.result(f"{text}{_using(values)}")
        case "sqlserver":
            return _tsql(text, given, [], walk)
        case _:
            return _psm(text, values, [], walk)


def _tsql(text: str, given: list[Node], filled: list[str], walk: "QueryWalk") -> Lines:
    built = Declared(walk.speech.variable(_TEXT), "nvarchar(max)")
    if built not in walk.unit.variables:
        walk.unit.variables.append(built)
    if not all(isinstance(each, Literal | Name) for each in given):
        raise CannotDraft("a text that is run with values that are worked out for it")
    kinds = [f"@hs_{number} {_kind(each, walk)}" for number, each in enumerate(given, start=1)]
    values = [walk.value(each) for each in given]
    if filled:
        columns = [f"hs_{number}" for number in range(1, len(filled) + 1)]
        taken = ", ".join(f"@hs_into_{number} = {column}" for number, column in enumerate(columns, start=1))
        text = f"CONCAT('SELECT {taken} FROM (', {text}, ') AS hs_rows ({', '.join(columns)})')"
        kinds += [f"@hs_into_{number} {_declared(name, walk)} OUTPUT" for number, name in enumerate(filled, start=1)]
        values += [f"{name} OUTPUT" for name in filled]
    declared = f", N'{', '.join(kinds)}', {', '.join(values)}" if kinds else ""
    return [f"SET {built.name} = {text};", f"EXEC sp_executesql {built.name}{declared};"]


def _declared(name: str, walk: "QueryWalk") -> str:
    known = (each.kind for each in (*walk.unit.variables, *walk.unit.parameters) if each.name == name)
    kind = next(known, "")
    if not kind:
        raise CannotDraft("a text that is run and fills something else than a variable")
    return kind


def _kind(value: Node, walk: "QueryWalk") -> str:
    source = walk.rewriter.types.source_type(value)
    choice = choose_type(walk.source, source, walk.rewriter.target) if source is not None else None
    text = chosen_text(choice.text, source, walk.rewriter) if choice is not None and source is not None else ""
    text = text or _WIDEST.get(walk.rewriter.types.family(value), "")
    if not text:
        raise CannotDraft("a value of an unknown type for a text that is run")
    return text


def _psm(text: str, values: list[str], filled: list[str], walk: "QueryWalk") -> Lines:
    taken = [f"@hs_into_{number}" for number in range(1, len(filled) + 1)]
    if taken:
        text = f"CONCAT({text}, ' INTO {', '.join(taken)}')"
    lines = _mysql(text, values) if walk.target == "mysql" else [f"EXECUTE IMMEDIATE {text}{_using(values)};"]
    for target, name in zip(filled, taken, strict=True):
        lines += walk.speech.assign(target, name)
    return lines


def _mysql(text: str, values: list[str]) -> Lines:
    names = [f"@{_TEXT}_{number}" for number in range(1, len(values) + 1)]
    given = [f"SET {name} = {value};" for name, value in zip(names, values, strict=True)]
    return [
        *given,
        f"SET @{_TEXT} = {text};",
        f"PREPARE {_TEXT} FROM @{_TEXT};",
        f"EXECUTE {_TEXT}{_using(names)};",
        f"DEALLOCATE PREPARE {_TEXT};",
    ]
