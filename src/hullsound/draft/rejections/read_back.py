"""Drafts for targets that do not run here, read back by our own reader of their engine: what it cannot read is not promised."""

import re
from collections.abc import Set
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.draft.model import Draft, DraftSet
from hullsound.draft.routines.speech import CODE_ENDS
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.targets import functions_everywhere, target_functions
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import Call
from hullsound.timing import step
from hullsound.workers import Workers

from .find import take_back
from .forms import refused_form

_QUERIES_ALONE: Final = ("mysql", "mariadb")
_QUERIES: Final = (ObjectType.VIEW, ObjectType.QUERY, ObjectType.CHANGE)
_NO_VALUES: Final = re.compile(r"^INSERT INTO [^\s(]+ DEFAULT VALUES", re.MULTILINE)
"""INSERT of a row of defaults, which Oracle, MySQL and MariaDB do not read."""
_SHOWN: Final = 60


@step("check drafts")
def take_back_unread(made: DraftSet, catalog: Catalog, target: Target, workers: Workers) -> None:
    """Note in each promised draft what the target cannot read or does not have, where no engine is here to say so."""
    end = CODE_ENDS.get(target.engine, "")
    dialect = load_dialect(target.engine)
    routines = {item.name.upper() for item in catalog.objects.values() if item.routines or item.type in CODE_TYPES}
    known = target_functions(target.engine) | functions_everywhere() | routines
    for draft in made.drafts if target.engine in ("oracle", *_QUERIES_ALONE) else ():
        if draft.object.type is ObjectType.DATA and draft.is_promised and _NO_VALUES.search(draft.text):
            draft.skipped.append(("", draft.object.line, "what the target refuses: INSERT ... DEFAULT VALUES"))
    # Code of MySQL and MariaDB holds statements that our reader passes over.
    kinds = set(ObjectType) - {ObjectType.DATA} if end else _QUERIES if target.engine in _QUERIES_ALONE else ()
    promised = [
        draft
        for draft in made.drafts
        if draft.is_promised and draft.is_finished and not draft.is_own and draft.object.type in kinds
    ]

    def unread(draft: Draft) -> str:
        found = (
            _unread(read)
            or (end and _missing(read, known, catalog, target))
            or _refused(read, draft.object, target, catalog.engine)
            for read in read_script(f"{draft.text}{end}", dialect).statements()
        )
        return next(filter(None, found), "")

    take_back(promised, unread, workers)


def _unread(read: ReadStatement) -> str:
    spans = read.unread()
    if not spans and read.is_complete:
        return ""
    first = spans[0].first if spans else read.first
    return f"what the target cannot read: {' '.join(read.tokens.text[read.tokens.starts[first] :].split())[:_SHOWN]}"


def _refused(read: ReadStatement, item: Object, target: Target, source: str) -> str:
    form = refused_form(read, item, target, source)
    return f"what the target refuses: {form}" if form else ""


def _missing(read: ReadStatement, known: Set[str], catalog: Catalog, target: Target) -> str:
    """Return which routine a draft calls that the target has not: a function of the source, or what a package holds."""
    declared = Scope(read).declared
    for call in read.all(Call):
        name = call.parts[-1].upper()
        if len(call.parts) == 1 and name not in known and name not in declared:
            return f"a call of {name.lower()}, which the target does not have"
        packages = catalog.with_name(call.parts[-2]) if len(call.parts) > 1 and target.engine != "oracle" else []
        if any(item.type is ObjectType.PACKAGE for item in packages):
            return f"a call into the package {call.parts[-2].lower()}"
    return ""
