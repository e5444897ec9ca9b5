"""Sizes of routines: lines, and decisions counted as in McCabe's complexity (IEEE TSE 2(4), 1976)."""

from bisect import bisect_left
from itertools import accumulate
from typing import Final

from hullsound.sql.positions import Positions
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AnonymousBlock,
    Case,
    CaseStatement,
    CreateTrigger,
    Forall,
    Handler,
    If,
    Jump,
    Loop,
    Node,
    Operation,
    Routine,
)

from .model import Parameter, RoutineFacts

_DECIDING: Final = (If, Case, CaseStatement, Loop, Jump, Handler, Operation, Forall)


def measure_routines(read: ReadStatement, positions: Positions) -> list[RoutineFacts]:
    """Measure every routine with a body in a statement; a trigger or block counts as one routine."""
    deciding = sorted((node.first, _decisions(node)) for node in read.nodes if isinstance(node, _DECIDING))
    places = [first for first, _ in deciding]
    totals = [0, *accumulate(count for _, count in deciding)]

    def complexity(node: Node) -> int:
        return 1 + totals[bisect_left(places, node.last)] - totals[bisect_left(places, node.first)]

    facts: list[RoutineFacts] = []
    for node in read.nodes:
        if isinstance(node, Routine) and node.block is not None:
            returns = read.tokens.source(node.returns.first, node.returns.last) if node.returns else ""
            parameters = [
                Parameter(p.name, p.mode, read.tokens.source(p.type.first, p.type.last), p.default is not None)
                for p in node.parameters
            ]
            facts.append(_facts(read, positions, node, node.name[-1], node.form, parameters, returns, complexity(node)))
            facts[-1].is_nested = node.nested
        elif isinstance(node, CreateTrigger | AnonymousBlock):
            name = node.name[-1] if isinstance(node, CreateTrigger) else ""
            facts.append(
                _facts(read, positions, node, name, node.kind.removeprefix("create "), [], "", complexity(node))
            )
    facts.sort(key=lambda fact: fact.line)
    return facts


def _facts(
    read: ReadStatement,
    positions: Positions,
    node: Node,
    name: str,
    form: str,
    parameters: list[Parameter],
    returns: str,
    complexity: int,
) -> RoutineFacts:
    tokens = read.tokens
    line = positions.line(tokens.starts[node.first])
    last = positions.line(tokens.ends[node.last - 1])
    return RoutineFacts(name, form, line, last - line + 1, complexity, parameters, returns, False)


def _decisions(node: Node) -> int:
    """Count the ways a node can branch."""
    match node:
        case If() | CaseStatement() | Case():
            return len(node.branches)
        case Loop() | Handler() | Forall():
            return 1
        case Jump():
            return 1 if node.condition is not None else 0
        case Operation():
            return sum(1 for operator in node.operators if operator in ("AND", "OR"))
    return 0
