"""What a constant NULL makes NULL: PostgreSQL cannot choose among functions and operators by an argument without a type.

Other targets need no type, but functions that they lack go with it.

PostgreSQL 18, "Function Type Resolution" and "Operator Type Resolution".
"""

from functools import cache, partial
from typing import Final

from hullsound.analyze.signatures import is_null
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.load import load_engine
from hullsound.sql.tree import Call, Case, Node, Operation, Paren

_ARITHMETIC: Final = frozenset((*"+-*/%&|^~", "**", "MOD", "DIV"))
_TYPES: Final = {
    Family.TEXT: "text", Family.INTEGER: "integer", Family.NUMBER: "numeric", Family.DATE: "date", Family.TIMESTAMP: "timestamp",
    Family.TIME: "time",
}  # fmt: skip
_FLAGS_AT: Final = {"REGEXP_LIKE": 2, "REGEXP_COUNT": 3, "REGEXP_SUBSTR": 4, "REGEXP_REPLACE": 5, "REGEXP_INSTR": 5}
"""Place of the flags among the arguments: Oracle Database 19c, "SQL Language Reference", "REGEXP_SUBSTR"."""


@cache
def _null_on_null(engine: str) -> frozenset[str]:
    return load_engine(engine).null_on_null_names


def add_null_results(rewriter: Rewriter) -> None:
    """Write NULL of the type that a call or a sum would have, where one of its parts is a constant NULL."""
    strict = _null_on_null(rewriter.catalog.engine)
    made: set[Node] = set()
    for node in rewriter.subject.read.nodes:  # parts come before the whole
        if isinstance(node, Case):
            if node.subject is not None and is_null(node.subject) and node.branches:
                kind = _TYPES.get(rewriter.types.family(node.branches[0][0]), "text")
                rewriter.wrap(node.subject, partial(_null_of, kind))
            continue
        if isinstance(node, Paren):
            parts = [node.inner] if node.inner in made else []
        elif isinstance(node, Operation):
            parts = node.operands if set(node.operators) <= _ARITHMETIC else []
        elif isinstance(node, Call):
            parts = node.arguments if len(node.parts) == 1 and node.parts[0] in strict and node.over is None else []
            place = _FLAGS_AT.get(node.parts[0], -1) if rewriter.catalog.engine == "oracle" else -1
            if 0 <= place < len(parts) and is_null(parts[place]):  # NULL means no flags there
                rewriter.replace(parts[place].first, parts[place].last, "''")
                parts = [*parts[:place], *parts[place + 1 :]]
        else:
            continue
        if any(each in made or is_null(each) for each in parts) and not _is_own(node, rewriter):
            made.add(node)
            rewriter.wrap(node, partial(_null_of, _TYPES.get(rewriter.types.family(node), "")), rank=20)


def _is_own(node: Node, rewriter: Rewriter) -> bool:
    """Whether a call is one of a routine of the source's own, which may have the name of a function."""
    if not isinstance(node, Call):
        return False
    objects = rewriter.catalog.objects.values()
    return any(routine.name == node.parts[0] for item in objects for routine in item.routines)


def _null_of(kind: str, rewriter: Rewriter) -> str:
    return f"CAST(NULL AS {kind})" if kind and rewriter.target.engine == "postgresql" else "NULL"
