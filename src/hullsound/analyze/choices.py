"""CASE with a value that is compared with others, as an expression and as a statement."""

from collections.abc import Iterator

from hullsound.sql.statements import ReadStatement
from hullsound.sql.tree import Case, CaseStatement, Node, Row


def compared_choices(read: ReadStatement) -> Iterator[tuple[Case | CaseStatement, Node, list[Node]]]:
    """Yield each CASE that compares a value, with that value and those it is compared with."""
    choices: list[Case | CaseStatement] = [*read.all(Case), *read.all(CaseStatement)]
    for choice in choices:
        if choice.subject is None:
            continue
        tests = [test for test, _ in choice.branches]
        yield choice, choice.subject, [part for test in tests for part in listed(test)]


def listed(node: Node) -> list[Node]:
    """Return the values of a list, or the one that stands without one."""
    return list(node.items) if isinstance(node, Row) else [node]
