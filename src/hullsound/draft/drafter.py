"""Drafts one object: its text for the target, or a stand-in for what a person must write."""

from typing import Final

from hullsound.assess.model import Assessment, Outcome
from hullsound.assess.pair import Pair
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.objects.kin import ROWS_PASSED_OVER, KinDrafter
from hullsound.draft.objects.postgresql import writers
from hullsound.draft.objects.runs import joined_rows
from hullsound.draft.objects.stub import stub_routine
from hullsound.draft.objects.writers import writer_for
from hullsound.draft.statements.identity_rows import without_idle_switches
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import Clause

from .assumptions import told_by_types
from .code import draft_code, draft_statement
from .model import Draft

_COMMENTED: Final = frozenset((ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW))
_STATEMENT_END: Final = frozenset((ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE))


class Drafter:
    """Writes one object after the other; what it writes of one does not depend on the others that it wrote."""

    def __init__(self, catalog: Catalog, assessment: Assessment) -> None:
        self.catalog = catalog
        self.target = assessment.target
        self.project = assessment.project
        self.writer = writer_for(catalog, assessment.target, assessment.project)
        self.writers = writers(self.writer)
        pair = Pair(catalog.engine, assessment.target)
        self.kin = KinDrafter(catalog, assessment.target) if pair.is_kin else None

    def draft(self, item: Object, outcome: Outcome, stage: str = "") -> Draft:
        draft = Draft(item, outcome, stage, "", False)
        own = self.project.own_text(item.id)
        if own:
            draft.text, draft.is_finished, draft.is_own = own.strip(), True, True
            return draft
        try:
            self._write(draft)
        except CannotDraft as reason:
            draft.skipped.append(("", item.line, str(reason)))
            draft.text = ""
        except RecursionError:
            draft.skipped.append(("", item.line, "nested too deeply"))
            draft.text = ""
        except Exception as error:
            # A form that a writer did not foresee costs one draft, said aloud, and not the run.
            draft.skipped.append(("", item.line, f"a form that was not foreseen ({type(error).__name__}: {error})"))
            draft.text = ""
        if not draft.is_promised or draft.skipped or not (draft.text or draft.is_in_table):
            self.take_back(draft)
        return draft

    def take_back(self, draft: Draft) -> None:
        """Leave of a draft what a person finishes: of a table its stand-in, which rules for other drafts read; else nothing."""
        draft.is_finished, draft.text, draft.edits = False, "", []
        if draft.object.type is ObjectType.TABLE:
            draft.text = self.stand_in(draft.object)

    def _write(self, draft: Draft) -> None:
        item = draft.object
        if not draft.is_promised:
            return
        if self.kin is not None:
            code = self.kin.draft(item)
            draft.text, draft.edits, draft.is_finished = code.text, code.edits, True
            draft.written = [(e.construct, item.line) for e in code.edits if e.construct.startswith("convert.")]
            comments = self.writer.comments(item) if item.type in _COMMENTED else ""
            if comments and draft.text:
                draft.text = f"{draft.text.rstrip().rstrip(';')};{comments}"
            return
        write = self.writers.get(item.type)
        if write is not None:
            draft.text = write(item)
        elif item.type is ObjectType.DATA:
            draft.text = self._data(draft)
        else:
            code = draft_code(item, self.catalog, self.target)
            draft.edits, draft.skipped, draft.written = code.edits, code.skipped, code.written
            if code.unseen and not code.skipped:
                draft.open_types = told_by_types(code, self.catalog, item, self.target)
            draft.text = code.text + (";" if item.type in _STATEMENT_END else "")
            if item.type is ObjectType.TRIGGER:
                draft.text += self.writer.trigger_state(item)
            if item.type in (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW):
                draft.text += self.writer.comments(item)
        draft.is_finished = True

    def _data(self, draft: Draft) -> str:
        """Draft each INSERT of a run of data."""
        pieces = []
        reads = read_script(draft.object.text, load_dialect(self.catalog.engine)).statements()
        for read in joined_rows(reads):
            if any(clause.name == "rows-passed-over" for clause in read.all(Clause)):
                pieces.append(ROWS_PASSED_OVER)
                continue
            text, written = draft_statement(read, draft.object, self.catalog, self.target)
            pieces.append(f"{text};")
            draft.written += [each for each in written if each[0] not in {known for known, _ in draft.written}]
        text = "\n".join(pieces)
        return without_idle_switches(text) if self.target.engine == "sqlserver" else text

    def stand_in(self, item: Object) -> str:
        """Write what lets other objects be created while this one waits for a person; '' where nothing can be written."""
        try:
            return self._stand_in(item)
        except Exception:
            return ""

    def _stand_in(self, item: Object) -> str:
        if item.type is ObjectType.TABLE and item.columns:
            text = self.writer.stand_in_table(item)
            return text if self.kin is None else self.kin.stand_in(text, self.writer.name(item), item)
        if self.kin is not None or self.target.engine != "postgresql":
            return ""
        if item.type in (ObjectType.FUNCTION, ObjectType.PROCEDURE):
            return self._partly(item) or stub_routine(item, self.catalog, self.target)
        if item.type is ObjectType.PACKAGE_BODY:
            return self._partly(item)
        if item.type is ObjectType.PACKAGE:
            return self._partly(item) or f"CREATE SCHEMA IF NOT EXISTS {self.writer.names.write(item.name)};"
        return ""

    def _partly(self, item: Object) -> str:
        """Draft what can be drafted of a routine: the rest becomes errors. Returns '' where that leads nowhere."""
        try:
            code = draft_code(item, self.catalog, self.target, is_partial=True)
        except Exception:
            return ""
        return "" if code.skipped else code.text
