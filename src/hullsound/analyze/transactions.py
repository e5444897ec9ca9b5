"""What code of the T-SQL family asks of its transaction before it ends it."""

from hullsound.sql.tree import Block, Call, If, Literal, Name, Node, Operation, PlainStatement

_COUNT = ("@@TRANCOUNT",)
_STATE = ("XACT_STATE",)


def rollback_guard(node: If) -> Name | Call | None:
    """Return @@TRANCOUNT or XACT_STATE() of an IF that does nothing but roll back where a transaction is open; None for another."""
    (condition, body), *more = node.branches
    if more or node.otherwise or not isinstance(condition, Operation) or len(condition.operands) != 2:
        return None
    asked, number = condition.operands
    if not isinstance(asked, Name | Call) or asked.parts not in (_COUNT, _STATE) or not isinstance(number, Literal):
        return None
    is_open = (
        condition.operators in ([">"], ["<>"], ["!="])
        if asked.parts == _COUNT
        else condition.operators in (["<>"], ["!="])
    )
    return asked if is_open and _rolls_back(body) else None


def _rolls_back(body: list[Node]) -> bool:
    """Whether statements are nothing but ROLLBACK."""
    inner = [each for node in body for each in (node.body if isinstance(node, Block) else [node])]
    return bool(inner) and all(isinstance(each, PlainStatement) and each.words == "rollback" for each in inner)
