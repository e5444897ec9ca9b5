"""What our own reader of a target's language cannot read of a draft, and forms that the target refuses."""

from typing import Final

from hullsound.catalog.model import Object
from hullsound.knowledge.engine_model import Target
from hullsound.sql.script import ReadStatement

from .forms import refused_form
from .own_tables import own_table_use
from .side_effects import side_effect

_SHOWN: Final = 60


def unread_part(read: ReadStatement) -> str:
    """Return the first part of a draft that was not read, as words; '' where all was."""
    spans = read.unread()
    if not spans and read.is_complete:
        return ""
    first = spans[0].first if spans else read.first
    return f"what the target cannot read: {' '.join(read.tokens.text[read.tokens.starts[first] :].split())[:_SHOWN]}"


def refused_part(read: ReadStatement, item: Object, target: Target, source: str) -> str:
    """Return the first form of a draft that the target refuses, as words; '' where there is none. `source` is an engine."""
    form = refused_form(read, item, target, source) or own_table_use(read, target, source)
    form = form or (side_effect(read) if target.engine == "sqlserver" else "")
    return f"what the target refuses: {form}" if form else ""
