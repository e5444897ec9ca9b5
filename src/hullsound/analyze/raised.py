"""What a query in a trigger of SQLite raises: SELECT RAISE(ABORT, text) WHERE condition, or a CASE of such values.

Source: SQLite documentation, "CREATE TRIGGER", "The RAISE() function".
"""

from typing import NamedTuple

from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Case, Clause, Literal, Node, Query, QueryStatement, Select


class Raised(NamedTuple):
    """What one branch raises."""

    condition: Node | None
    """None where it is raised in any other case."""
    action: str
    """ABORT, FAIL, ROLLBACK or IGNORE; '' for a branch that raises nothing."""
    message: tuple[int, int]
    """Tokens of the text; empty for IGNORE."""


class RaisingQuery(NamedTuple):
    """A query that raises: its branches, of which the first that holds counts, for rows that it reads."""

    branches: list[Raised]
    where: Node | None
    source: tuple[int, int]
    """Tokens from FROM on where the query reads tables; empty where it reads none."""


def raising_query(node: Node, read: ReadStatement) -> RaisingQuery | None:
    """Return what a statement raises; None for a statement that gives out rows."""
    query = node.query if isinstance(node, QueryStatement) else None
    block = query.blocks[0] if isinstance(query, Query) and len(query.blocks) == 1 and not query.common else None
    if not isinstance(block, Select) or len(block.items) != 1 or block.group or block.having is not None:
        return None
    value = block.items[0].value
    branches = _branches(value, read)
    if not any(branch.action for branch in branches):
        return None
    source = (block.from_at, block.last) if block.from_at >= 0 else (0, 0)
    return RaisingQuery(branches, block.where, source)


def _branches(value: Node, read: ReadStatement) -> list[Raised]:
    if isinstance(value, Case) and value.subject is None:
        found = [_raised(condition, given, read) for condition, given in value.branches]
        return [*found, _raised(None, value.otherwise, read)] if value.otherwise is not None else found
    return [_raised(None, value, read)]


def _raised(condition: Node | None, value: Node, read: ReadStatement) -> Raised:
    words = read.tokens.words
    is_raise = any(each.name == "raise-function" and each.first == value.first for each in read.all(Clause))
    if not is_raise or not isinstance(value, Literal):
        return Raised(condition, "", (0, 0))
    action = words[value.first + 2]
    return Raised(condition, action, (value.first + 4, value.last - 1) if action != "IGNORE" else (0, 0))
