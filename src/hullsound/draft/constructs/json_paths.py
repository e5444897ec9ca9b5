"""JSON by paths: reaching into it, changing it, and asking what it holds.

Sources: MySQL 8.4 Reference Manual, "JSON Functions"; Transact-SQL reference, "JSON_MODIFY"; PostgreSQL 18 documentation,
"JSON Functions and Operators".
"""

import re
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Literal, Node, Operation

from . import call_of, fixer

_WHOLE: Final = "'{}'"
"""The path that means the document itself."""


def document(node: Node, rewriter: Rewriter) -> str:
    """Write a value so that it is jsonb."""
    text = rewriter.node(node)
    return (
        text if rewriter.types.family(node) is Family.JSON and not isinstance(node, Call) else f"CAST({text} AS jsonb)"
    )


@fixer("json_by_path")
def fix_json_by_path(place: Found, rewriter: Rewriter) -> str:
    """Reach into JSON by keys where the path is a constant of names and places."""
    node = place.node
    if isinstance(node, Call):
        value, path = node.arguments[0], node.arguments[1] if len(node.arguments) == 2 else None
        is_text = node.parts[-1] == "JSON_VALUE"
    elif isinstance(node, Operation) and len(node.operators) == 1:
        value, path, is_text = node.operands[0], node.operands[1], node.operators[0] == "->>"
    else:
        raise CannotDraft("several paths in a row")
    if path is not None and text_value(path, rewriter) is None:
        return _by_built_path(value, path, rewriter, is_text=is_text)
    keys = json_keys(path, rewriter)
    source = document(value, rewriter)
    return f"({source} {'#>>' if is_text else '#>'} {keys})"


def _by_built_path(value: Node, path: Node, rewriter: Rewriter, *, is_text: bool) -> str:
    """Reach into JSON by a path that code puts together."""
    source = document(value, rewriter)
    found = f"jsonb_path_query_first({source}, CAST({rewriter.node(path)} AS jsonpath))"
    return f"({found} #>> '{{}}')" if is_text else found


def json_keys(path: Node | None, rewriter: Rewriter) -> str:
    """Return a constant path of names and places as PostgreSQL's text array. Raises CannotDraft for any other path."""
    return _keys_of(text_value(path, rewriter) if path is not None else None)


def _keys_of(text: str | None) -> str:
    keys = re.fullmatch(r"(?:(?:lax|strict) )?\$((?:\.\w+|\.\"[^\"{},\\]+\"|\[\d+\])*)", text or "")
    if keys is None:
        raise CannotDraft("a path that is not a row of names")
    parts = [part.strip('."[]') for part in re.findall(r'\.\w+|\."[^"]+"|\[\d+\]', keys[1])]
    return literal("{" + ",".join(parts) + "}")


@fixer("json_build")
def fix_json_build(place: Found, rewriter: Rewriter) -> str:
    """Build an object of pairs; moments are written with a blank before the time, and CHAR without those that fill it."""
    values = []
    for argument in call_of(place).arguments:
        text = rewriter.node(argument)
        source = rewriter.types.source_type(argument)
        is_padded = source is not None and source.name in ("CHAR", "CHARACTER", "NCHAR")
        as_text = is_padded or rewriter.types.family(argument) is Family.TIMESTAMP
        values.append(f"CAST({text} AS text)" if as_text else text)
    return f"json_build_object({', '.join(values)})"


@fixer("json_unquote")
def fix_json_unquote(place: Found, rewriter: Rewriter) -> str:
    return f"({rewriter.nodes(call_of(place).arguments)} #>> '{{}}')"


@fixer("json_length")
def fix_json_length(place: Found, rewriter: Rewriter) -> str:
    """Count members of an array or object; anything else counts as one."""
    call = call_of(place)
    value = document(call.arguments[0], rewriter)
    if len(call.arguments) > 1:
        value = f"({value} #> {json_keys(call.arguments[1], rewriter)})"
    keys = f"(SELECT count(*) FROM jsonb_object_keys({value}))"
    return (
        f"(CASE jsonb_typeof({value}) WHEN 'array' THEN jsonb_array_length({value}) WHEN 'object' THEN {keys} "
        f"ELSE CASE WHEN {value} IS NOT NULL THEN 1 END END)"
    )


# --- changes ---


@fixer("json_change")
def fix_json_change(place: Found, rewriter: Rewriter) -> str:
    """Write JSON_SET, JSON_INSERT, JSON_REPLACE, JSON_REMOVE and JSON_ARRAY_APPEND, one step for each path."""
    call = call_of(place)
    text = document(call.arguments[0], rewriter)
    name = call.parts[-1]
    if name == "JSON_REMOVE":
        return "".join([f"({text}", *(f" #- {_inner(path, rewriter)}" for path in call.arguments[1:]), ")"])
    rest = call.arguments[1:]
    if not rest or len(rest) % 2:
        raise CannotDraft(f"{name} with a path that has no value")
    for path, value in zip(rest[::2], rest[1::2], strict=True):
        keys, new = _inner(path, rewriter), _as_json(value, rewriter)
        if name == "JSON_ARRAY_APPEND":
            text = f"jsonb_set({text}, {keys}, ({text} #> {keys}) || jsonb_build_array({new}))"
        elif name == "JSON_INSERT":
            text = f"(CASE WHEN {text} #> {keys} IS NULL THEN jsonb_set({text}, {keys}, {new}) ELSE {text} END)"
        else:
            text = f"jsonb_set({text}, {keys}, {new}{', false' if name == 'JSON_REPLACE' else ''})"
    return text


@fixer("json_modify")
def fix_json_modify(place: Found, rewriter: Rewriter) -> str:
    """Write JSON_MODIFY: NULL takes a member away, append adds to an array; the result is text again."""
    source, path, value = call_of(place).arguments
    whole = document(source, rewriter)
    text = text_value(path, rewriter) or ""
    if text.startswith("append "):
        keys = _keys_of(text.removeprefix("append "))
        changed = f"jsonb_set({whole}, {keys}, coalesce({whole} #> {keys}, '[]') || jsonb_build_array({_as_json(value, rewriter)}))"
        return f"CAST({changed} AS text)"
    keys = _keys_of(text)
    if isinstance(value, Literal) and value.form == "null":
        return f"CAST({whole} #- {keys} AS text)"
    new = _as_json(value, rewriter)
    kept = f"jsonb_set({whole}, {keys}, {new})"
    return f"CAST(CASE WHEN {rewriter.node(value)} IS NULL THEN {whole} #- {keys} ELSE {kept} END AS text)"


def _inner(path: Node, rewriter: Rewriter) -> str:
    """Return a constant path into a document. Raises CannotDraft for the document itself and for other paths."""
    keys = json_keys(path, rewriter)
    if keys == _WHOLE:
        raise CannotDraft("a change of the whole document")
    return keys


def _as_json(node: Node, rewriter: Rewriter) -> str:
    """Write a value as a part of JSON: texts in quotes, moments as texts, documents as they are."""
    text = rewriter.node(node)
    if isinstance(node, Literal) and node.form in ("true", "false", "null"):
        return f"CAST('{node.form}' AS jsonb)"
    kind = rewriter.types.family(node)
    if kind is Family.JSON:
        return f"to_jsonb({text})"
    if kind in (Family.INTEGER, Family.NUMBER, Family.BOOLEAN):
        return f"coalesce(to_jsonb({text}), 'null')"
    return f"coalesce(to_jsonb(CAST({text} AS text)), 'null')"


# --- questions ---


@fixer("json_question")
def fix_json_question(place: Found, rewriter: Rewriter) -> str:
    """Write JSON_CONTAINS, JSON_CONTAINS_PATH and JSON_KEYS."""
    call = call_of(place)
    whole = document(call.arguments[0], rewriter)
    match call.parts[-1]:
        case "JSON_CONTAINS":
            part = whole if len(call.arguments) < 3 else f"({whole} #> {json_keys(call.arguments[2], rewriter)})"
            return f"CAST(({part} @> {document(call.arguments[1], rewriter)}) AS integer)"
        case "JSON_CONTAINS_PATH":
            word = {"one": " OR ", "all": " AND "}.get((text_value(call.arguments[1], rewriter) or "").lower())
            if word is None:
                raise CannotDraft("JSON_CONTAINS_PATH that asks neither for one nor for all")
            tests = [f"{whole} #> {json_keys(path, rewriter)} IS NOT NULL" for path in call.arguments[2:]]
            return f"CAST(({word.join(tests)}) AS integer)"
        case "JSON_KEYS":
            part = whole if len(call.arguments) < 2 else f"({whole} #> {json_keys(call.arguments[1], rewriter)})"
            return f"(SELECT jsonb_agg(k) FROM jsonb_object_keys({part}) AS k)"
    raise CannotDraft("a question about JSON in a form that is not known")
