"""What the target would reject in a draft by its rules of names and types, so that such drafts are not promised.

Drafts are read again as the target's own text, beside the tables as they are drafted. No engine takes names of columns that a
table has not. PostgreSQL compares and keeps values of different families only where a cast is implicit, which other engines
do by themselves (PostgreSQL 18, "Type Conversion"); only pairs of which both kinds are known count.
"""

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import closing
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.catalog.settle import settle
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.model import Draft, DraftSet
from hullsound.draft.write import WORTH
from hullsound.knowledge.engine_model import Target
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import Insert
from hullsound.survey.files import ScriptFile
from hullsound.survey.scripts import ScriptSurvey
from hullsound.timing import step
from hullsound.workers import Workers

from .row_keys import RowKeys
from .unknown_columns import unknown_columns
from .unlike_types import ENGINE, unlike_types

_ALONE: Final = Workers()
_READ_AGAIN: Final = ("postgresql", "mysql", "mariadb")
"""Targets whose drafts are read again."""
_CHECKED: Final = frozenset(
    (ObjectType.TABLE, ObjectType.INDEX, ObjectType.CONSTRAINT, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.DATA,
     ObjectType.CHANGE, ObjectType.QUERY, ObjectType.PROCEDURE, ObjectType.FUNCTION, ObjectType.TRIGGER,
     ObjectType.PACKAGE_BODY, ObjectType.BLOCK, ObjectType.EVENT)
)  # fmt: skip
_WITH_ROWS: Final = (ObjectType.DATA, ObjectType.CHANGE)


@step("check drafts")
def take_back_rejected(made: DraftSet, catalog: Catalog, target: Target, workers: Workers = _ALONE) -> None:
    """Note in each promised draft why its target would reject it."""
    if target.engine not in _READ_AGAIN or catalog.engine == target.engine == ENGINE:
        return
    tables = [
        (d.object.id, d.object.default_schema or d.object.schema, d.text)
        for d in made.drafts
        if d.object.type is ObjectType.TABLE and d.text
    ]
    rejections = Rejections(target, RowKeys(catalog))
    rejections.add_tables(tables)
    rejections.partly_known = frozenset(
        item.name.lower() for item in catalog.objects.values() if "not created" in item.details
    )
    promised = [draft for draft in made.drafts if draft.is_promised and draft.is_finished and not draft.is_own]

    def rejected(draft: Draft) -> str:
        try:
            return rejections.find(draft.object, draft.text)
        except Exception as error:  # a form that a rule did not foresee costs one promise, said aloud, and not the run
            return f"a form that was not foreseen ({type(error).__name__}: {error})"

    take_back([draft for draft in promised if draft.object.type not in _WITH_ROWS], rejected, workers)
    # Rows are looked at one after the other, since their keys are those of all rows before them.
    take_back([draft for draft in promised if draft.object.type in _WITH_ROWS], rejected, _ALONE)


def take_back(promised: Sequence[Draft], why: Callable[[Draft], str], workers: Workers) -> None:
    """Note in each draft why it cannot be promised; '' leaves the promise."""
    reasons = workers.map(
        lambda place: why(promised[place]),
        [len(draft.text) for draft in promised],
        WORTH,
        names=lambda place: promised[place].object.id,
    )
    for draft, reason in zip(promised, reasons, strict=True):
        if reason:
            draft.skipped.append(("", draft.object.line, reason))


class Rejections:
    """What the columns of drafted tables are, and which drafts do not fit them."""

    def __init__(self, target: Target, row_keys: RowKeys) -> None:
        self.target = target
        self.row_keys = row_keys
        self.partly_known: frozenset[str] = frozenset()
        """Names of tables that the source never creates: only those of their columns are known that it adds."""
        self.catalog = Catalog(target.engine)
        self.dialect = load_dialect(target.engine)

    def add_tables(self, tables: Iterable[tuple[str, str, str]]) -> None:
        """Take the drafts of all tables as (id, schema that names without one mean, text)."""
        by_schema: dict[str, dict[str, ScriptFile]] = {}
        for name, schema, text in tables:
            by_schema.setdefault(schema, {})[name] = ScriptFile(name, f"{text}\n", "")
        for schema, files in by_schema.items():
            ScriptSurvey(self.catalog, self.dialect, files, lambda _: None, schema).run()
        settle(self.catalog)

    def find(self, item: Object, text: str) -> str:
        """Return why the target would reject the draft of an object, '' where nothing speaks against it."""
        if item.type not in _CHECKED or (item.type is ObjectType.TABLE and " DEFAULT " not in text):
            return ""
        for read in read_script(f"{text}\n", self.dialect).statements():
            with closing(
                Rewriter(Subject(read, Scope(read), self.target.engine), self.catalog, self.target, "")
            ) as rewriter:
                rewriter.columns.default_schema = item.default_schema or item.schema
                reason = next(self._reasons(read, rewriter), "")
            if reason:
                return f"the target rejects {reason}"
            for insert in read.all(Insert):
                name = insert.table.parts[-1].strip('"').lower() if insert.table is not None else ""
                if name in self.partly_known and not insert.columns:
                    return (
                        f"values without the names of their columns, of a table that the source never creates: {name}"
                    )
            repeated = self.row_keys.repeated(read) if item.type in _WITH_ROWS else ""
            if repeated:
                return f"an earlier row has the same key: {repeated}"
        return ""

    def _reasons(self, read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
        yield from unknown_columns(read, rewriter)
        if self.target.engine == ENGINE:
            yield from unlike_types(read, rewriter)
