"""Headers and ends of routines and triggers of Transact-SQL."""

from hullsound.catalog.model import Object
from hullsound.draft.rewrite import CannotDraft, Rewriter


def add_tsql_unit(rewriter: Rewriter, item: Object) -> None:
    raise CannotDraft("not yet")
