"""What DROP, RENAME, ALTER, ENABLE and DISABLE do to objects that other statements make, beside ALTER TABLE."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.lexer import QUOTED, WORD
from hullsound.sql.parser.core import Core, Unreadable
from hullsound.sql.tree import Parts, SchemaChange

_KINDS: Final = {
    "PROC": "procedure", "PACKAGE BODY": "package body", "TYPE BODY": "type body", "MATERIALIZED VIEW": "materialized view",
    "SPECIFIC FUNCTION": "function", "SPECIFIC PROCEDURE": "procedure", "ALIAS": "synonym",
    **{word: word.lower() for word in
       "TABLE VIEW INDEX SEQUENCE SYNONYM PROCEDURE FUNCTION PACKAGE TRIGGER TYPE EVENT MACRO DOMAIN RULE POLICY".split()},
}  # fmt: skip
_NUMBERS: Final = frozenset(("START", "INCREMENT", "MINVALUE", "MAXVALUE", "CACHE", "RESTART"))
_FLAGS: Final = frozenset(("CYCLE", "NOCYCLE", "NOCACHE", "NOMAXVALUE", "NOMINVALUE", "ORDER", "NOORDER"))


def read_schema_changes(parser: Core, first: int, last: int) -> list[SchemaChange]:
    """Return what the statement of the tokens [first, last) changes; nothing where its words are not known.

    The parser stands afterwards where it stood before.
    """
    reader = _READERS.get(parser.words[first])
    if reader is None:
        return []
    before, parser.pos = parser.pos, first + 1
    try:
        return [change for change in reader(parser, first) if change.last <= last]
    except Unreadable:
        return []
    finally:
        parser.pos = before


def _kind(parser: Core) -> str:
    """Step over the words of a kind of object; return its name, or '' where the kind is none of the catalogue's."""
    words = parser.words
    while words[parser.pos] in ("PUBLIC", "FOREIGN", "ONLINE") and parser.kinds[parser.pos + 1] == WORD:
        parser.pos += 1
    two = f"{words[parser.pos]} {words[parser.pos + 1]}"
    kind = _KINDS.get(two) or _KINDS.get(words[parser.pos], "")
    parser.pos += 2 if two in _KINDS else 1
    return kind


def _change(
    parser: Core, first: int, form: str, kind: str, name: Parts, new: Parts = (), on: Parts = ()
) -> SchemaChange:
    return SchemaChange(first, parser.pos, form, kind, name, new, on)


def _drop(parser: Core, first: int) -> list[SchemaChange]:
    kind = _kind(parser)
    if not kind:
        return []
    parser.accept("CONCURRENTLY")
    parser.accept("IF", "EXISTS")
    changes: list[SchemaChange] = []
    while True:
        name = parser.qualified_name()
        if parser.at("("):
            parser.skip_parenthesized()
        on = parser.qualified_name() if parser.accept("ON") and _is_named(parser) else ()
        changes.append(_change(parser, first, "drop", kind, name, (), on))
        if not parser.accept(","):
            return changes


def _is_named(parser: Core) -> bool:
    return parser.kinds[parser.pos] in (WORD, QUOTED) and not parser.at("ALL")


def _rename(parser: Core, first: int) -> list[SchemaChange]:
    kind = "table"
    if parser.words[parser.pos] == "USER":
        return []
    if parser.words[parser.pos] in _KINDS and parser.words[parser.pos + 1] not in ("TO", "AS", "."):
        kind = _kind(parser)
        parser.accept("IF", "EXISTS")
    changes: list[SchemaChange] = []
    while True:
        name = parser.qualified_name()
        if not parser.accept_any(("TO", "AS")):
            parser.fail("TO")
        changes.append(_change(parser, first, "rename", kind, name, parser.qualified_name()))
        if not parser.accept(","):
            return changes


def _alter(parser: Core, first: int) -> list[SchemaChange]:
    if parser.accept("SCHEMA"):
        return _transfer(parser, first)
    kind = _kind(parser)
    if not kind or kind == "table":
        return []
    parser.accept("IF", "EXISTS")
    name = parser.qualified_name()
    if parser.at("("):
        parser.skip_parenthesized()
    on = parser.qualified_name() if parser.accept("ON") and _is_named(parser) else ()
    if parser.accept("RENAME", "TO"):
        return [_change(parser, first, "rename", kind, name, parser.qualified_name(), on)]
    if parser.accept("SET", "SCHEMA"):
        return [_change(parser, first, "move", kind, name, (parser.any_word(),), on)]
    if kind in ("trigger", "index") and parser.words[parser.pos] in ("ENABLE", "DISABLE", "REBUILD"):
        form = "disable" if parser.accept("DISABLE") else "enable"
        return [_change(parser, first, form, kind, name, (), on)]
    if kind == "sequence":
        change = _change(parser, first, "alter", kind, name)
        change.options = _sequence_options(parser)
        return [change] if change.options else []
    return []


def _sequence_options(parser: Core) -> dict[str, str]:
    """Read the options of ALTER SEQUENCE, with or without the small words."""
    options: dict[str, str] = {}
    while parser.kinds[parser.pos] == WORD:
        word = parser.words[parser.pos]
        parser.pos += 1
        if word in _NUMBERS:
            parser.accept_any(("WITH", "BY", "="))
            options[word.lower()] = parser.signed_number()
        elif word == "OWNED" and parser.accept("BY"):
            options["owned by"] = ".".join(parser.qualified_name())
        elif word == "NO":
            options[f"no {parser.any_word().lower()}"] = ""
        elif word in _FLAGS:
            options[word.lower()] = ""
        else:
            parser.pos -= 1
            break
    return options


def _transfer(parser: Core, first: int) -> list[SchemaChange]:
    """Read ALTER SCHEMA schema TRANSFER [kind ::] object, of the T-SQL family."""
    schema = parser.any_word()
    if not parser.accept("TRANSFER"):
        return []
    if parser.words[parser.pos + 1] == "::" or (parser.words[parser.pos + 1] == ":" == parser.words[parser.pos + 2]):
        parser.pos += 2 if parser.words[parser.pos + 1] == "::" else 3
    return [_change(parser, first, "move", "object", parser.qualified_name(), (schema,))]


def _switch(parser: Core, first: int) -> list[SchemaChange]:
    """Read ENABLE TRIGGER and DISABLE TRIGGER of the T-SQL family."""
    form = parser.words[first].lower()
    parser.expect("TRIGGER")
    names: list[Parts] = []
    while True:
        names.append((parser.any_word(),) if parser.at("ALL") else parser.qualified_name())
        if not parser.accept(","):
            break
    parser.expect("ON")
    on = parser.qualified_name() if _is_named(parser) else ()
    return [_change(parser, first, form, "trigger", name, (), on) for name in names]


_READERS: Final[dict[str, Callable[[Core, int], list[SchemaChange]]]] = {
    "DROP": _drop, "RENAME": _rename, "ALTER": _alter, "ENABLE": _switch, "DISABLE": _switch,
}  # fmt: skip
