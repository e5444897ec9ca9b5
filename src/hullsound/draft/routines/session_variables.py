"""Variables of the session (@name) that a routine of MySQL alone uses, as variables of its draft."""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.session_values import is_kept, is_shared, session_family, session_names

from .speech import Declared, Speech

_TYPES: Final = {
    "oracle": {
        Family.TEXT: "varchar2(32767)", Family.INTEGER: "number(19)", Family.NUMBER: "number", Family.DATE: "date",
        Family.TIMESTAMP: "timestamp(6)",
    },
    "sqlserver": {
        Family.TEXT: "nvarchar(max)", Family.INTEGER: "bigint", Family.DATE: "date", Family.TIMESTAMP: "datetime2(6)",
        Family.TIME: "time(6)",
    },
}  # fmt: skip
"""Types that hold every value of a family; numbers with a fraction have none in SQL Server."""


def session_variables(speech: Speech, rewriter: Rewriter) -> dict[str, Declared]:
    """Return the variables that take the place of those of the session.

    Raises CannotDraft for one that other objects use, that may keep a value from an earlier call, or that no type holds.
    """
    if rewriter.catalog.engine not in ("mysql", "mariadb") or rewriter.target.engine not in _TYPES:
        return {}
    found = {}
    for name in session_names(rewriter):
        kind = _TYPES[rewriter.target.engine].get(session_family(name, rewriter))
        if is_shared(name, rewriter) or is_kept(name, rewriter):
            raise CannotDraft(f"the session's value {name.lower()}, which other calls or objects may have set")
        if kind is None:
            raise CannotDraft(f"the session's value {name.lower()}, for which no type is wide enough")
        found[name] = Declared(speech.variable(f"hs_{name.lstrip('@').lower()}"), kind)
    return found
