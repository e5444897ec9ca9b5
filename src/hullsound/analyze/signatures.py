"""What a call gives: the kind of its value, or the arguments of which it is one."""

from hullsound.knowledge.engine_model import SignatureRow
from hullsound.knowledge.load import load_signatures
from hullsound.sql.tree import Call, Case, Literal, Node


def signature_of(call: Call, engine: str) -> SignatureRow | None:
    """Return what a built-in function gives and takes; None for one that is not known, and for names with a qualifier."""
    return load_signatures(engine).get(call.parts[0]) if len(call.parts) == 1 else None


def choices_of(node: Node, engine: str) -> list[Node]:
    """Return the values of which an expression gives one, or the one that its value is made of."""
    if isinstance(node, Case):
        return [result for _, result in node.branches] + ([node.otherwise] if node.otherwise else [])
    if not isinstance(node, Call):
        return []
    if node.parts[-1] == "DECODE":
        rest = node.arguments[1:]
        return rest[1::2] + (rest[-1:] if len(rest) % 2 else [])
    signature = signature_of(node, engine)
    if signature is None or signature.argument < 0:
        return []
    first = signature.argument
    return node.arguments[first : None if signature.choices else first + 1]


def is_null(node: Node) -> bool:
    return isinstance(node, Literal) and node.form == "null"
