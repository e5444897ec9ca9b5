"""What the target would reject in a draft by its rules of names, types and forms, so that such drafts are not promised.

Drafts are read again as the target's own text, beside the tables as they are drafted. No engine takes names of columns that a
table has not. PostgreSQL compares and keeps values of different families only where a cast is implicit, which other engines
do by themselves (PostgreSQL 18, "Type Conversion"); only pairs of which both kinds are known count.
"""

import re
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
from hullsound.draft.routines.speech import CODE_ENDS
from hullsound.draft.write import WORTH
from hullsound.knowledge.engine_model import Target, version_number
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import Insert
from hullsound.survey.files import ScriptFile
from hullsound.survey.scripts import ScriptSurvey
from hullsound.timing import step
from hullsound.workers import Workers

from .newer import may_be_newer, newer_part
from .read_back import refused_part, unread_part
from .row_keys import RowKeys
from .unknown_columns import unknown_columns
from .unknown_names import UnknownNames
from .unlike_types import ENGINE, unlike_types

_ALONE: Final = Workers()
_WITH_ROWS: Final = (ObjectType.DATA, ObjectType.CHANGE)
_ROWS_ALONE: Final = (ObjectType.DATA,)
_NO_VALUES: Final = re.compile(r"^(?:INSERT|REPLACE) (?:\w+ )?INTO [^\s(]+ DEFAULT VALUES", re.MULTILINE)
_WITHOUT_DEFAULT_ROWS: Final = ("oracle", "mysql", "mariadb")
"""Targets that do not read INSERT and REPLACE of a row of defaults."""


@step("check drafts")
def take_back_rejected(
    made: DraftSet, catalog: Catalog, target: Target, workers: Workers = _ALONE, is_kin: bool = False
) -> None:
    """Note in each promised draft why its target would reject it. Between kin texts stay, and only names and types are asked."""
    if catalog.engine == target.engine:
        _take_back_newer(made, catalog, target, workers)
        return
    tables = [
        (d.object.id, d.object.default_schema or d.object.schema, d.text)
        for d in made.drafts
        if d.object.type is ObjectType.TABLE and d.text
    ]
    rejections = Rejections(target, RowKeys(catalog), catalog, is_kin)
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


def _take_back_newer(made: DraftSet, catalog: Catalog, target: Target, workers: Workers) -> None:
    """Note in each promised draft of a move within an engine what the target has not yet, at its line."""
    if not may_be_newer(target):
        return
    dialect, end = load_dialect(target.engine), CODE_ENDS.get(target.engine, "\n")
    is_known = version_number(catalog.engine, catalog.version) > target.version

    def newer(draft: Draft) -> tuple[int, str]:
        text = draft.text or draft.object.text
        for read in read_script(f"{text}{end}", dialect).statements():
            at, reason = newer_part(read, target, catalog)
            if reason:
                reason = f"what the target refuses: {reason}"
                return draft.object.line + text.count("\n", 0, read.tokens.starts[at]), reason
            reason = refused_part(read, draft.object, target, catalog.engine) if is_known else ""
            if reason:
                return draft.object.line, reason
        return 0, ""

    promised = [
        each for each in made.drafts if each.is_promised and not each.is_own and each.object.type not in _ROWS_ALONE
    ]
    found = workers.map(
        lambda place: newer(promised[place]),
        [len(draft.object.text) for draft in promised],
        WORTH,
        names=lambda place: promised[place].object.id,
    )
    for draft, (line, reason) in zip(promised, found, strict=True):
        if reason:
            draft.skipped.append(("", line, reason))


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

    def __init__(self, target: Target, row_keys: RowKeys, source: Catalog | None = None, is_kin: bool = False) -> None:
        self.target = target
        self.row_keys = row_keys
        self.partly_known: frozenset[str] = frozenset()
        """Names of tables that the source never creates: only those of their columns are known that it adds."""
        self.catalog = Catalog(target.engine)
        self.dialect = load_dialect(target.engine)
        self.source = source.engine if source is not None else ""
        self.names = UnknownNames(source, target, is_kin) if source is not None else None
        self.is_kin = is_kin
        """Whether texts stay as they are but for a few edits."""

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
        is_data = item.type is ObjectType.DATA
        if is_data and self.target.engine in _WITHOUT_DEFAULT_ROWS and _NO_VALUES.search(text):
            return "what the target refuses: DEFAULT VALUES in the place of a row"
        end = CODE_ENDS.get(self.target.engine, "\n")
        reads = [*read_script(f"{text}{end}", self.dialect).statements()]
        if self.names is not None and not self.is_kin and not is_data:
            unread = next(filter(None, map(unread_part, reads)), "")
            if unread:
                return unread
        return next((reason for read in reads if (reason := next(self._reasons(read, item), ""))), "")

    def _reasons(self, read: ReadStatement, item: Object) -> Iterator[str]:
        with closing(
            Rewriter(Subject(read, Scope(read), self.target.engine), self.catalog, self.target, "")
        ) as rewriter:
            schema = item.default_schema or item.schema
            rewriter.columns.default_schema = schema
            if item.table:
                rewriter.columns.fired_by = self.catalog.table((item.table.rpartition(".")[2].upper(),), item.schema)
            found = [*unknown_columns(read, rewriter)][:1]
            if not found and self.target.engine == ENGINE:
                found = [*unlike_types(read, rewriter)][:1]
        yield from (f"the target rejects {each}" for each in found)
        for insert in read.all(Insert):
            name = insert.table.parts[-1].strip('"').lower() if insert.table is not None else ""
            if name in self.partly_known and not insert.columns:
                yield f"values without the names of their columns, of a table that the source never creates: {name}"
        repeated = self.row_keys.repeated(read) if item.type in _WITH_ROWS else ""
        if repeated:
            yield f"an earlier row has the same key: {repeated}"
        if self.names is not None and item.type is not ObjectType.DATA:
            yield from filter(None, (self.names.first(read),))
            yield from (f"what the target refuses: {each}" for each in newer_part(read, self.target, None)[1:] if each)
            if not self.is_kin:
                yield from filter(None, (refused_part(read, item, self.target, self.source),))
