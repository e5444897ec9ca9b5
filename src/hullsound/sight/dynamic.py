"""SQL that code builds as text: its constant parts are followed and read; the rest is named with the reason."""

from dataclasses import dataclass, field
from typing import Final, NamedTuple

from hullsound.catalog.references import Scope, Use, find_uses
from hullsound.sql.dialect import Dialect, load_dialect
from hullsound.sql.positions import Positions
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import (
    Assign,
    Call,
    Execute,
    ExecuteImmediate,
    Literal,
    Loop,
    Name,
    NamedArgument,
    Node,
    OpenCursor,
    Operation,
    Paren,
    Prepare,
    Query,
    SelectItem,
    Variable,
)

PLACEHOLDER: Final = "HS_UNKNOWN"
"""Stands where the text depends on a value that only the running code knows."""
_JOINING: Final = frozenset(("||", "+", "&"))
_MOST: Final = 20_000
"""Characters of built text that are read."""


class Piece(NamedTuple):
    """A part of a built text, and the constant that it comes from, if it is one."""

    text: str
    literal: Literal | None


@dataclass(slots=True)
class Dynamic:
    """One place that runs SQL built as text."""

    node: Node
    start: int
    end: int
    text: str
    """What is known of the text, with placeholders."""
    reason: str
    """Why it could not be read in full; '' if it could."""
    pieces: list[Piece] = field(default_factory=list)
    parameters: str = ""
    """The declarations of parameters that are handed over beside the text."""
    reads: list[ReadStatement] = field(default_factory=list)

    def scope(self, read: ReadStatement, outer: Scope) -> Scope:
        """Return what names mean inside the text: what it declares itself, and nothing of the code around it."""
        scope = Scope(read)
        scope.declared[PLACEHOLDER] = None
        return scope

    def uses(self, read: ReadStatement, scope: Scope, owner: str) -> list[Use]:
        """Return the names that the text uses, but for those that are not known whole."""
        found = find_uses(read, scope, owner, Positions(self.text))
        return [use for use in found if not any(PLACEHOLDER in part for part in use.parts)]


@dataclass(slots=True)
class _Values:
    """The constant values that variables of one statement have, as far as they are simple."""

    read: ReadStatement
    dialect: Dialect
    assigned: dict[str, list[Node]]
    reasons: list[str] = field(default_factory=list)

    def text_of(self, node: Node) -> str:
        """Return the text that an expression builds, with a placeholder for each part that is not constant."""
        return "".join(piece.text for piece in self.pieces_of(node))

    def pieces_of(self, node: Node, depth: int = 0) -> list[Piece]:
        """Return the parts of the text that an expression builds, in order."""
        match node:
            case Literal(form="string"):
                return [Piece(self._literal(node), node)]
            case Paren():
                return self.pieces_of(node.inner, depth)
            case NamedArgument():
                return self.pieces_of(node.value, depth)
            case Operation() if all(operator in _JOINING for operator in node.operators):
                return [piece for operand in node.operands for piece in self.pieces_of(operand, depth)]
            case Call() if node.parts[-1] in ("CONCAT", "CONCAT_WS", "TO_CLOB", "CAST", "N"):
                return [piece for argument in node.arguments for piece in self.pieces_of(argument, depth)]
            case Name() if depth < 6:
                return self._variable(node, depth)
        tokens = self.read.tokens
        what = tokens.source(node.first, min(node.last, node.first + 6)).strip()[:60]
        return self._unknown(f"part of the text is the value of {what!r}")

    def _unknown(self, reason: str) -> list[Piece]:
        if reason not in self.reasons:
            self.reasons.append(reason)
        return [Piece(PLACEHOLDER, None)]

    def _literal(self, node: Literal) -> str:
        text = self.read.tokens.source(node.first, node.first + 1)
        if text.startswith("$"):
            tokens = self.read.tokens
            closing = tokens.fences.get(node.first, node.first)
            return tokens.text[tokens.ends[node.first] : tokens.starts[closing]]
        quote = text[-1]
        opening = text.index(quote)
        if text[:opening].upper().endswith("Q") and opening + 2 < len(text):
            return text[opening + 2 : -2]
        return text[opening + 1 : -1].replace(quote * 2, quote)

    def _variable(self, node: Name, depth: int) -> list[Piece]:
        name = node.parts[-1]
        values = self.assigned.get(name, [])
        if len(values) == 1 and values[0].last <= node.first:
            return self.pieces_of(values[0], depth + 1)
        if not values:
            return self._unknown(f"part of the text is the value of {name.lower()}")
        built = self._grown(name, values, node, depth)
        return built if built is not None else self._unknown(f"{name.lower()} is built along several ways")

    def _grown(self, name: str, values: list[Node], use: Node, depth: int) -> list[Piece] | None:
        """Return a text that grows statement by statement: v = 'a'; v = v || 'b'; None if it branches or loops."""
        loops = self.read.all(Loop)
        if any(loop.first < use.first < loop.last for loop in loops) and any(v.last > use.first for v in values):
            return None
        # What it is given behind the use comes too late for it.
        values = [value for value in values if value.last <= use.first]
        if any(
            loop.first < value.first < loop.last and not loop.first < use.first < loop.last
            for loop in loops
            for value in values
        ):
            return None
        pieces: list[Piece] = []
        for value in values:
            parts = value.operands if isinstance(value, Operation) and set(value.operators) <= _JOINING else [value]
            head = parts[0]
            if isinstance(head, Name) and head.parts[-1] == name:
                parts = parts[1:]
            else:
                pieces = []
            pieces += [piece for part in parts for piece in self.pieces_of(part, depth + 1)]
        return pieces


def read_dynamic(read: ReadStatement, engine: str) -> list[Dynamic]:
    """Return every place of a statement that runs SQL built as text, with what of it can be read."""
    sites: list[tuple[Node, Node]] = [(node, node.text) for node in read.all(ExecuteImmediate)]
    sites += [(node, node.text) for node in read.all(Prepare)]
    sites += [(node, node.text) for node in read.all(Execute) if node.text is not None]
    sites += [
        (node, node.query) for node in read.all(OpenCursor) if node.query is not None and not isinstance(node.query, Query)
        and not isinstance(node.query, ExecuteImmediate)
    ]  # fmt: skip
    if not sites:
        return []
    dialect = load_dialect(engine)
    assigned = _assignments(read)
    prepared = {node.name for node in read.all(Prepare)}
    found: list[Dynamic] = []
    for node, text in sites:
        if isinstance(text, Name) and text.parts[-1] in prepared:
            continue
        found.append(_read_site(node, text, _Values(read, dialect, assigned)))
    return found


def _assignments(read: ReadStatement) -> dict[str, list[Node]]:
    """Return the values that each variable of a statement is given, in order."""
    assigned: dict[str, list[Node]] = {}
    for variable in read.all(Variable):
        if variable.default is not None:
            assigned.setdefault(variable.name, []).append(variable.default)
    for node in read.all(Assign):
        if isinstance(node.target, Name):
            assigned.setdefault(node.target.parts[-1], []).append(node.value)
    for item in read.all(SelectItem):
        value = item.value
        target = value.operands[0] if isinstance(value, Operation) and value.operators == ["="] else None
        if isinstance(target, Name) and target.parts[0].startswith("@"):
            assert isinstance(value, Operation)
            assigned.setdefault(target.parts[0], []).append(value.operands[1])
    for values in assigned.values():
        values.sort(key=lambda value: value.first)
    return assigned


def _read_site(node: Node, text: Node, values: _Values) -> Dynamic:
    tokens = values.read.tokens
    start, end = tokens.starts[node.first], tokens.ends[max(node.first, node.last - 1)]
    pieces = values.pieces_of(text)
    built = "".join(piece.text for piece in pieces)[:_MOST]
    reason = "; ".join(values.reasons)
    if not built.replace(PLACEHOLDER, "").strip():
        return Dynamic(node, start, end, "", reason or "the text is empty")
    given = node.arguments if isinstance(node, Execute) and node.routine else []
    parameters = values.text_of(given[1]) if len(given) > 1 else ""
    script = read_script(built + "\n", values.dialect, {})
    reads = [item for item in script.statements() if item.is_complete and not item.unread()]
    if not reads or len(reads) < len(list(script.statements())):
        reason = reason or "what is built is no whole statement"
    return Dynamic(node, start, end, built, reason, pieces, parameters, reads)
