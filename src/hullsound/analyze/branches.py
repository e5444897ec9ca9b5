"""Lists of statements inside of statements."""

from collections.abc import Sequence

from hullsound.sql.tree import Block, CaseStatement, ConditionHandler, If, Loop, Node, TryCatch


def branches_of(node: Node) -> list[list[Node]]:
    """Return the lists of statements inside a statement; of several only one runs."""
    match node:
        case If() | CaseStatement():
            return [body for _, body in node.branches] + [node.otherwise]
        case Loop():
            return [node.body]
        case Block():
            handlers: list[list[Node]] = [[each] for each in node.declarations if isinstance(each, ConditionHandler)]
            return [node.body, *handlers]
        case TryCatch():
            return [node.body, node.handler]
        case ConditionHandler():
            return [[node.body]]
    return []


def tested_statements(statements: Sequence[Node], words: Sequence[str], word: str) -> set[Node]:
    """Return the statements of which the one behind asks by a word, such as @@ERROR, before it does anything else."""
    found: set[Node] = set()
    for place, each in enumerate(statements):
        if place and _asks(each, words, word):
            found |= _run_last(statements[place - 1])
        for branch in branches_of(each):
            found |= tested_statements(branch, words, word)
    return found


def _asks(node: Node, words: Sequence[str], word: str) -> bool:
    if isinstance(node, Block):
        return bool(node.body) and _asks(node.body[0], words, word)
    end = node.branches[0][0].last if isinstance(node, If) else node.last
    return word in words[node.first : end]


def _run_last(node: Node) -> set[Node]:
    """Return the statements that are run last in one, whichever way the code goes."""
    branches = branches_of(node)
    if isinstance(node, If | Block):
        return {each for branch in branches if branch for each in _run_last(branch[-1])}
    return set() if branches else {node}
