"""Fixers for values of JSON by their paths, as text, for targets other than PostgreSQL, all of which have JSON_VALUE.

Sources: SQL:2016, "JSON_VALUE"; Transact-SQL reference, "JSON_VALUE"; Oracle Database 19c, "JSON_VALUE"; MySQL 8.4 Reference Manual
and MariaDB 10.11, "JSON_VALUE"; PostgreSQL 18, "JSON Functions and Operators".
"""

import re
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Cast, Literal, Node, Operation, Paren

from . import call_of, fixer

_KEY: Final = re.compile(r"[A-Za-z_]\w*")
_PATH: Final = re.compile(r"\$(?:\.(?:[A-Za-z_]\w*|\"[^\"\\]+\")|\[\d+\])+")
_STEPS: Final = frozenset(("->", "->>"))
_DIGGING: Final = frozenset(("#>", "#>>"))


def _step(node: Node, rewriter: Rewriter) -> str:
    source = rewriter.subject.source(node)
    if isinstance(node, Literal) and source.isdigit():
        return f"[{source}]"
    return _named(text_value(node, rewriter))


def _named(key: str | None) -> str:
    if not key or '"' in key or "\\" in key:
        raise CannotDraft("a key of JSON that is no constant")
    return f".{key}" if _KEY.fullmatch(key) else f'."{key}"'


def _document(node: Node, rewriter: Rewriter) -> str:
    """Write a document; a cast to JSON goes, as texts are read there."""
    while isinstance(node, Paren) or (isinstance(node, Cast) and node.type.name in ("JSON", "JSONB")):
        node = node.inner if isinstance(node, Paren) else node.value
    return rewriter.node(node)


def _read(node: Node, rewriter: Rewriter) -> tuple[str, str]:
    """Return document and path of operators and calls that give a text. Raises CannotDraft for other ones, which give JSON."""
    if isinstance(node, Operation) and node.operators[-1] in ("->>", "#>>"):
        document, *steps = node.operands
        path = ""
        for sign, step in zip(node.operators, steps, strict=True):
            if sign in _DIGGING:
                keys = (text_value(step, rewriter) or "").strip("{}").split(",")
                path += "".join(f"[{key}]" if key.isdigit() else _named(key.strip()) for key in keys)
            elif sign in _STEPS and rewriter.catalog.engine == "postgresql":
                path += _step(step, rewriter)
            elif len(steps) == 1:
                path = (text_value(step, rewriter) or "").removeprefix("$")
            else:
                raise CannotDraft("several paths in a row")
        return _document(document, rewriter), f"${path}"
    if isinstance(node, Call) and node.parts[-1] == "JSON_VALUE" and len(node.arguments) == 2:
        return _document(node.arguments[0], rewriter), text_value(node.arguments[1], rewriter) or ""
    if isinstance(node, Call) and node.parts[-1] == "JSON_UNQUOTE" and len(node.arguments) == 1:
        inner = node.arguments[0]
        if isinstance(inner, Call) and inner.parts[-1] == "JSON_EXTRACT" and len(inner.arguments) == 2:
            return _document(inner.arguments[0], rewriter), text_value(inner.arguments[1], rewriter) or ""
    if rewriter.catalog.engine == "sqlite" and isinstance(node, Call) and node.parts[-1] == "JSON_EXTRACT":
        return _document(node.arguments[0], rewriter), text_value(node.arguments[1], rewriter) or ""
    raise CannotDraft("JSON that is taken out as JSON")


@fixer("json_text")
def fix_json_text(place: Found, rewriter: Rewriter) -> str:
    """JSON_VALUE(document, path) for a single value of a document."""
    if not isinstance(place.node, Node):
        raise CannotDraft("JSON in a form that is not known")
    document, path = _read(place.node, rewriter)
    if not _PATH.fullmatch(path):
        raise CannotDraft("a path that is not a row of names and places")
    return f"JSON_VALUE({document}, '{path}')"


@fixer("json_elsewhere")
def fix_json_elsewhere(place: Found, rewriter: Rewriter) -> str:
    """JSON_EXTRACT of one path, JSON_VALID and JSON_ARRAY_LENGTH of SQLite, for targets other than PostgreSQL."""
    call = call_of(place)
    engine, name = rewriter.target.engine, call.parts[-1]
    if name == "JSON_EXTRACT" and len(call.arguments) == 2:
        return fix_json_text(place, rewriter)
    text = rewriter.node(call.arguments[0])
    if name == "JSON_VALID" and len(call.arguments) == 1:
        if engine == "oracle":
            return f"(CASE WHEN {text} IS JSON THEN 1 WHEN {text} IS NOT NULL THEN 0 END)"
        return f"ISJSON({text})" if engine == "sqlserver" else f"JSON_VALID({text})"
    if name == "JSON_ARRAY_LENGTH" and len(call.arguments) == 1 and engine in ("mysql", "mariadb"):
        return f"(CASE WHEN JSON_TYPE({text}) = 'ARRAY' THEN JSON_LENGTH({text}) WHEN {text} IS NOT NULL THEN 0 END)"
    raise CannotDraft(f"{name} of SQLite")


@fixer("json_inside")
def fix_json_inside(place: Found, rewriter: Rewriter) -> str:
    """JSON_EXTRACT, which is written where JSON_UNQUOTE around it makes a text of it."""
    raise CannotDraft("JSON that is taken out as JSON")
