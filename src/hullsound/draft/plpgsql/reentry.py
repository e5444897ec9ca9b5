"""Triggers that change their own table: in the source they do not fire for that, in PostgreSQL they would, without end.

Sources, all of which say that it is off at first: SQL Server 2022, "CREATE TRIGGER", Recursive triggers; ASE 16, "set
self_recursion"; SQLite, "PRAGMA recursive_triggers". PostgreSQL 18, "Overview of Trigger Behavior".
"""

import re
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import CreateTrigger, Delete, Insert, Merge, Name, Node, TableRef, Update

WITHOUT_REENTRY: Final = frozenset(("sqlserver", "ase", "sqlite"))
"""Engines whose triggers do not fire for what they do to their own table."""
_KINDS: Final[dict[str, type[Node]]] = {"insert": Insert, "update": Update, "delete": Delete}


def setting_of(item: Object) -> str:
    """Return the setting that says, within a transaction, that a trigger is running."""
    name = ".".join(part for part in (item.schema, item.name) if part)
    return f"hull.in_{re.sub(r'[^a-z0-9]', '_', name.lower())}"


def fires_itself(tree: CreateTrigger, item: Object, table: Object, rewriter: Rewriter) -> bool:
    """Whether a trigger makes a change of its own kind to its own table, or to one that is not known."""
    for event in tree.events:
        changes = [*rewriter.subject.all(_KINDS[event]), *rewriter.subject.all(Merge)] if event in _KINDS else []
        for change in changes:
            named = getattr(change, "table", None) or getattr(change, "target", None)
            known = rewriter.catalog.table(named.parts, item.default_schema) if isinstance(named, TableRef) else None
            if known in (table, None) and _is_fired_for(tree, event, change):
                return True
    return False


def _is_fired_for(tree: CreateTrigger, event: str, change: Node) -> bool:
    """Whether a trigger for some columns fires for an UPDATE, which it does where one of them is set."""
    if event != "update" or not tree.update_columns or not isinstance(change, Update):
        return True
    assigned = {target.parts[-1] for target, _ in change.assignments if isinstance(target, Name)}
    return not assigned.isdisjoint(tree.update_columns)


def entered(setting: str, given: str) -> str:
    """Return the statements that leave a trigger which is running already, and say that it runs; `given` is what it returns."""
    return (
        f"  IF current_setting({literal(setting)}, true) = 'yes' THEN RETURN {given}; END IF;\n"
        f"  PERFORM set_config({literal(setting)}, 'yes', true);\n"
    )


def left(setting: str) -> str:
    """Return the statement that says that a trigger runs no more."""
    return f"PERFORM set_config({literal(setting)}, '', true); "
