"""Triggers beside a table of PostgreSQL that do what tables of the source do by themselves."""

import re
from collections.abc import Callable
from typing import Final

from hullsound.catalog.model import Column, Object
from hullsound.draft.edits.names import Names, literal
from hullsound.draft.plpgsql.shared import dollar_quote
from hullsound.draft.statements.versions import EVER, NOW, versions_of
from hullsound.knowledge.types import logical_type

_ANY_UPDATE: Final = re.compile(r"(?i)\bON\s+UPDATE\s+(?:CURRENT_TIMESTAMP|NOW|LOCALTIMESTAMP)")
_ON_UPDATE: Final = r"(?i)[`\"]?\b{}\b[`\"]?\s[^,]*?\bON\s+UPDATE\s+(?:CURRENT_TIMESTAMP|NOW|LOCALTIMESTAMP)"


def companion_triggers(item: Object, engine: str, names: Names, default: Callable[[Column], str]) -> str:
    """Return the statements behind CREATE TABLE; '' where the table does nothing by itself.

    `default` writes the default of a column.
    """
    pieces = (
        _touched(item, names),
        _versioned(item, engine, names),
        _filled(item, names, default),
        _emptied(item, names),
        _history(item, engine, names),
    )
    return "".join(pieces)


def _trigger(item: Object, suffix: str, when: str, body: str, names: Names) -> str:
    function = names.qualified(item.schema, f"{item.name}_{suffix}")
    table = names.qualified(item.schema, item.name)
    name = names.write(f"{item.name}_{suffix}")
    quote = dollar_quote(body)
    return (
        f"\n\nCREATE FUNCTION {function}()\nRETURNS trigger\nLANGUAGE plpgsql\nAS {quote}\nBEGIN\n{body}END;\n{quote};\n\n"
        + when.format(trigger=name, table=table)
        + f"\nEXECUTE FUNCTION {function}();"
    )


def touched_columns(item: Object) -> list[str]:
    """Return the columns with ON UPDATE CURRENT_TIMESTAMP."""
    if not _ANY_UPDATE.search(item.text):  # most tables have none, and a pattern for each column takes its time
        return []
    return [c.name for c in item.columns if re.search(_ON_UPDATE.format(re.escape(c.name)), item.text)]


def _touched(item: Object, names: Names) -> str:
    """Set columns with ON UPDATE CURRENT_TIMESTAMP."""
    columns = touched_columns(item)
    if not columns:
        return ""
    body = "".join(
        f"  IF NEW.{n} IS NOT DISTINCT FROM OLD.{n} THEN NEW.{n} := LOCALTIMESTAMP; END IF;\n"
        for n in map(names.write, columns)
    )
    old, new = "OLD.*", "NEW.*"
    if any(c.generated for c in item.columns):  # computed only behind such a trigger
        kept = [names.write(c.name) for c in item.columns if not c.generated]
        old, new = (f"({', '.join(f'{row}.{name}' for name in kept)})" for row in ("OLD", "NEW"))
    when = f"CREATE TRIGGER {{trigger}}\nBEFORE UPDATE ON {{table}}\nFOR EACH ROW\nWHEN ({old} IS DISTINCT FROM {new})"
    return _trigger(item, "TOUCH", when, f"{body}  RETURN NEW;\n", names)


def _versioned(item: Object, engine: str, names: Names) -> str:
    """Give each changed row a new value in its row version."""
    kinds = ((c.name, logical_type(engine, c.type)) for c in item.columns)
    name = next((name for name, kind in kinds if kind is not None and kind.kind == "row-version"), "")
    if not name:
        return ""
    counter = names.qualified(item.schema, f"{item.name}_{name}_SEQ")
    body = f"  NEW.{names.write(name)} := int8send(nextval({literal(counter)}));\n  RETURN NEW;\n"
    when = "CREATE TRIGGER {trigger}\nBEFORE INSERT OR UPDATE ON {table}\nFOR EACH ROW"
    return f"\n\nCREATE SEQUENCE {counter};" + _trigger(item, "VERSION", when, body, names)


def _filled(item: Object, names: Names, default: Callable[[Column], str]) -> str:
    """Give a column its default where a row brings NULL for it."""
    table = literal(names.qualified(item.schema, item.name))
    body = ""
    for column in item.columns:
        name = names.write(column.name)
        if column.identity and column.default_on_null:
            value = f"nextval(pg_get_serial_sequence({table}, {literal(names.folded(column.name))}))"
        elif column.default_on_null:
            value = default(column)
        else:
            continue
        body += f"  IF NEW.{name} IS NULL THEN NEW.{name} := {value}; END IF;\n"
    if not body:
        return ""
    updated = " OR UPDATE" if re.search(r"(?i)\bFOR\s+INSERT\s+AND\s+UPDATE\b", item.text) else ""
    when = f"CREATE TRIGGER {{trigger}}\nBEFORE INSERT{updated} ON {{table}}\nFOR EACH ROW"
    return _trigger(item, "FILL", when, f"{body}  RETURN NEW;\n", names)


def _emptied(item: Object, names: Names) -> str:
    """Take the rows of a transaction away when it commits, so that no other ever sees them."""
    if item.details.get("temporary") != "delete rows":
        return ""
    body = f"  DELETE FROM {names.qualified(item.schema, item.name)};\n  RETURN NULL;\n"
    when = "CREATE CONSTRAINT TRIGGER {trigger}\nAFTER INSERT ON {table}\nDEFERRABLE INITIALLY DEFERRED\nFOR EACH ROW"
    return _trigger(item, "EMPTY", when, body, names)


def _history(item: Object, engine: str, names: Names) -> str:
    """Keep older states of rows in a history table."""
    versions = versions_of(item) if engine == "sqlserver" else None
    if versions is None:
        return ""
    table, history = names.qualified(item.schema, item.name), names.qualified(versions.schema, versions.history)
    start, end = names.write(versions.start), names.write(versions.end)
    function, trigger = (names.qualified(item.schema, f"{item.name}_VERSIONS"), names.write(f"{item.name}_VERSIONS"))
    body = (
        f"  IF TG_OP <> 'INSERT' THEN\n    OLD.{end} := {NOW};\n    INSERT INTO {history} VALUES (OLD.*);\n  END IF;\n"
        f"  IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;\n"
        f"  NEW.{start} := {NOW};\n  NEW.{end} := {EVER};\n  RETURN NEW;\n"
    )
    quote = dollar_quote(body)
    return (
        f"{history_table(item, names)}\n\nCREATE FUNCTION {function}()\nRETURNS trigger\n"
        f"LANGUAGE plpgsql\nAS {quote}\nBEGIN\n{body}END;\n{quote};\n\nCREATE TRIGGER {trigger}\n"
        f"BEFORE INSERT OR UPDATE OR DELETE ON {table}\nFOR EACH ROW\nEXECUTE FUNCTION {function}();"
    )


def history_table(item: Object, names: Names) -> str:
    """Write the table that holds older states of rows; '' for a table that keeps none."""
    versions = versions_of(item)
    if versions is None:
        return ""
    table, history = names.qualified(item.schema, item.name), names.qualified(versions.schema, versions.history)
    schema = f"\nCREATE SCHEMA IF NOT EXISTS {names.write(versions.schema)};" if versions.schema else ""
    return f"{schema}\nCREATE TABLE {history} (LIKE {table});"
