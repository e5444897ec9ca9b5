"""Triggers of Transact-SQL on definitions and logons, as event triggers.

Sources: Transact-SQL reference, "DDL events" and "EVENTDATA"; PostgreSQL 18 documentation, "Event triggers" (login events
since 17).
"""

from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.shared import dollar_quote, shares_line, trigger_function
from hullsound.sql.tree import Block, Call, CreateTrigger

from .filling import prepare_executes
from .statements import TsqlCode, outer_statements

_KINDS: Final = ("TABLE", "VIEW", "PROCEDURE", "FUNCTION", "INDEX", "SCHEMA", "TRIGGER", "SEQUENCE", "TYPE")
"""Kinds of objects on whose definition event triggers fire."""
_VERBS: Final = ("CREATE", "ALTER", "DROP")
_GROUPS: Final = {f"DDL_{kind}_EVENTS": (kind,) for kind in _KINDS} | {
    "DDL_TABLE_VIEW_EVENTS": ("TABLE", "VIEW", "INDEX"),
    "DDL_DATABASE_LEVEL_EVENTS": _KINDS,
}
_LOGIN_SINCE: Final = 17
_OBJECT: Final = """\
  IF TG_EVENT = 'sql_drop' THEN
    SELECT schema_name, object_name, object_type INTO hs_schema, hs_object, hs_kind
    FROM pg_event_trigger_dropped_objects() WHERE original LIMIT 1;
  ELSE
    SELECT schema_name, split_part(object_identity, '.', -1), object_type INTO hs_schema, hs_object, hs_kind
    FROM pg_event_trigger_ddl_commands() LIMIT 1;
  END IF;
"""
_ELEMENTS: Final = (
    ("EventType", "replace(TG_TAG, ' ', '_')"),
    ("PostTime", "to_char(LOCALTIMESTAMP, 'YYYY-MM-DD\"T\"HH24:MI:SS.MS')"),
    ("SPID", "CAST(pg_backend_pid() AS text)"),
    ("LoginName", "CAST(session_user AS text)"),
    ("UserName", "CAST(current_user AS text)"),
    ("DatabaseName", "CAST(current_database() AS text)"),
    ("SchemaName", "hs_schema"),
    ("ObjectName", "hs_object"),
    ("ObjectType", "upper(hs_kind)"),
)


def add_definition_trigger(tree: CreateTrigger, item: Object, rewriter: Rewriter) -> None:
    """Add the points of a trigger on definitions or logons. Raises CannotDraft for events that have no like."""
    if not isinstance(tree.block, Block):
        raise CannotDraft("a trigger without statements")
    statements, around = outer_statements(tree.block, rewriter.words)
    code = TsqlCode(rewriter, statements, item.name.lower(), "trigger")
    code.is_for_event = True
    asked = [call for call in rewriter.subject.all(Call) if call.parts == ("EVENTDATA",)]
    if code.result_count or (asked and "logon" in tree.events):
        raise CannotDraft("a trigger that gives out a result, or asks what a logon was like")
    for call in asked:
        rewriter.add(Point(call.first, call.last, lambda r: _event_as_xml()))
    if asked:
        code.lines += ["hs_schema text;", "hs_object text;", "hs_kind text;"]
    prepare_executes(code)
    code.add()
    function = rewriter.names.qualified(item.schema, trigger_function(item.name))
    quote = dollar_quote(rewriter.subject.read.text)
    start = around.begin_at + 1 if around is not None else tree.block.first

    def head(rewriter: Rewriter) -> str:
        text = f"CREATE OR REPLACE FUNCTION {function}()\nRETURNS event_trigger\nLANGUAGE plpgsql\nAS {quote}\n"
        text += f"{code.declare()}BEGIN\n{_OBJECT if asked else ''}"
        return text if shares_line(start, rewriter) else text.rstrip("\n")

    rewriter.add(Point(tree.first, start, head))
    tail = f"END;\n{quote};\n{_triggers(tree, item, function, rewriter)}"
    end = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    if around is not None:
        rewriter.replace(around.end_at, max(end, around.last), tail)
    else:
        rewriter.add(Point(end, end, lambda r: f"\n{tail}", behind=0, is_last=True))


def _triggers(tree: CreateTrigger, item: Object, function: str, rewriter: Rewriter) -> str:
    """Write the triggers that call the function: what is dropped is told to one of its own."""
    write = rewriter.names.write
    if tree.events == ["logon"]:
        if rewriter.target.version < _LOGIN_SINCE:
            raise CannotDraft("a trigger on logons, which come with version 17")
        name = write(item.name)
        return (
            f"\nCREATE EVENT TRIGGER {name} ON login EXECUTE FUNCTION {function}();\n"
            "-- Enable it when it has been tried: an error in it keeps everybody out.\n"
            f"ALTER EVENT TRIGGER {name} DISABLE;"
        )
    tags = _tags(tree.events)
    drops = [tag for tag in tags if tag.startswith("DROP ")]
    others = [tag for tag in tags if not tag.startswith("DROP ")]
    text = ""
    for event, chosen, name in (("ddl_command_end", others, item.name), ("sql_drop", drops, f"{item.name}_DROP")):
        if chosen:
            own = name if others else item.name
            text += (
                f"\nCREATE EVENT TRIGGER {write(own)} ON {event}\nWHEN TAG IN ({', '.join(map(literal, chosen))})\n"
                f"EXECUTE FUNCTION {function}();"
            )
    return text


def _tags(events: list[str]) -> list[str]:
    """Return the command tags that stand for events and groups of events."""
    tags: list[str] = []
    for event in (each.upper() for each in events):
        verb, _, kind = event.partition("_")
        if event in _GROUPS:
            tags += [f"{verb} {kind}" for kind in _GROUPS[event] for verb in _VERBS]
        elif verb in _VERBS and kind in _KINDS:
            tags.append(f"{verb} {kind}")
        elif event == "RENAME":
            tags.append("ALTER TABLE")
        else:
            raise CannotDraft(f"a trigger on {event.lower()}")
    return list(dict.fromkeys(tags))


def _event_as_xml() -> str:
    """Write what EVENTDATA() gives, as far as PostgreSQL knows of it."""
    elements = "".join(f" || '<{name}>' || coalesce({value}, '') || '</{name}>'" for name, value in _ELEMENTS)
    query = "replace(replace(replace(current_query(), '&', '&amp;'), '<', '&lt;'), '>', '&gt;')"
    command = f"'<TSQLCommand><CommandText>' || {query} || '</CommandText></TSQLCommand></EVENT_INSTANCE>'"
    return f"CAST('<EVENT_INSTANCE>'{elements} || {command} AS xml)"
