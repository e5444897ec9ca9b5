"""Stand-ins for whole routines of the catalogue: the right name and parameters, a body that says what is missing."""

from contextlib import suppress

from hullsound.analyze.subject import Subject
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object
from hullsound.catalog.references import Scope
from hullsound.draft.edits.reading import read_again
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.plpgsql.results import routine_shape
from hullsound.draft.plpgsql.stubs import stub_text
from hullsound.knowledge.engine_model import Target
from hullsound.sql.dialect import Grammar, load_dialect
from hullsound.sql.tree import CreateRoutine


def stub_routine(item: Object, catalog: Catalog, target: Target) -> str:
    """Write a routine that raises an error when called. Raises CannotDraft if not even its header can be read."""
    read = read_again(item, catalog.engine)
    if read is None or not isinstance(read.tree, CreateRoutine):
        raise CannotDraft("its header could not be read")
    routine = read.tree.routine
    rewriter = Rewriter(Subject(read, Scope(read), catalog.engine), catalog, target, item.id)
    results: list[str] = []
    if load_dialect(catalog.engine).grammar is not Grammar.PLSQL and routine.block is not None:
        with suppress(CannotDraft):  # what it gives out is for the person who writes it
            results = routine_shape(read, catalog, item.default_schema or item.schema).parameters()
    name = rewriter.names.qualified(item.schema, item.name)
    return stub_text(routine, name, item.text, f"not converted: {item.id}", results, rewriter)
