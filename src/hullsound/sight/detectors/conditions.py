"""Taking conditions apart."""

from hullsound.sql.tree import Node, Operation, Paren


def conjuncts(node: Node | None) -> list[Node]:
    """Return the conditions that AND joins at the top of a condition; parentheses around an AND are opened."""
    if node is None:
        return []
    if isinstance(node, Operation) and node.operators[0] == "AND":
        return [part for operand in node.operands for part in conjuncts(operand)]
    if isinstance(node, Paren) and isinstance(node.inner, Operation) and node.inner.operators[0] == "AND":
        return conjuncts(node.inner)
    return [node]
