"""Drafts between kin, whose engines read the same language: the text itself with the few edits that the target asks for."""

import re
from functools import cached_property
from typing import Final

import msgspec

from hullsound.analyze.subject import Subject
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType, Reference, shown
from hullsound.catalog.references import Scope
from hullsound.draft.code import CodeDraft, add_construct_points
from hullsound.draft.constructs.queries import prepare_queries
from hullsound.draft.edits.names import stored_name
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import quote_name
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.stances import stances_for
from hullsound.sql.dialect import load_dialect
from hullsound.sql.edit import Edit, apply_edits
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import Clause, CreateTable

from .kin_spelling import add_for_sqlserver, version_marks
from .table_text import TableText

ROWS_PASSED_OVER: Final = "-- Rows that the survey passed over: loading data brings them."
_PARTS_OF_TABLES: Final = (ObjectType.CONSTRAINT, ObjectType.INDEX)
_CREATE_SCHEMA: Final = re.compile(r"(?i)\s*CREATE\s+(?:SCHEMA|DATABASE)\s+(?!IF\b|AUTHORIZATION\b)")
_HEAD: Final = "CREATE TABLE t ("


class KinDrafter:
    """Drafts the objects of a catalogue for a target of the same family."""

    def __init__(self, catalog: Catalog, target: Target) -> None:
        self.catalog = catalog
        self.target = target
        rendered = {key for key, stance in stances_for(catalog, target).items() if stance.is_rendered}
        self._touched = {each.object for each in catalog.sightings if each.construct in rendered}
        self._whole: dict[str, bool] = {}
        self._has_marks = catalog.engine in ("mysql", "mariadb")
        self._is_spelled = catalog.engine == "ase"

    def draft(self, item: Object) -> CodeDraft:
        """Draft one object; '' is the text of what stands in the text of its table. Raises CannotDraft."""
        table = self.catalog.objects.get(item.table) if item.type in _PARTS_OF_TABLES else None
        if table is not None and not item.text.lstrip().upper().startswith("CREATE"):
            return self._part(item, table)
        if item.type is ObjectType.DATA:
            return CodeDraft(self._data(item), [])
        # What tools wrap into comments for versions to come loses its opening mark when it is cut out of its script.
        is_marked = self._has_marks and ("*/" in item.text or "\\\n" in item.text or "\\\r\n" in item.text)
        stays = item.id not in self._touched and not is_marked and not self._is_spelled
        if stays and item.type is not ObjectType.TABLE:
            return CodeDraft(item.text, self._repeatable(item))
        edits = []
        for read in read_script(item.text, load_dialect(self.catalog.engine)).statements():
            edits += self._edits(read, item)
            edits += version_marks(read) if is_marked else []
            if isinstance(read.tree, CreateTable) and not read.tree.query:
                key = frozenset(self._primary_key(item))
                settled = msgspec.structs.replace(item, columns=[self._converted(c, item) for c in item.columns])
                names = self._named, self.spelled(item)
                later = TableText(read, read.tree, settled, self.catalog.engine, *names, key).edits_for()
                edits = [*later, *(e for e in edits if not any(o.start <= e.start and e.end <= o.end for o in later))]
        return CodeDraft(item.text, sorted(edits, key=lambda edit: edit.start))

    def _converted(self, column: Column, item: Object) -> Column:
        """Return a column whose definition by a later statement has the edits that the target asks for."""
        if not column.definition or item.id not in self._touched:
            return column
        text = f"{_HEAD}{column.definition})"
        read = next(read_script(text, load_dialect(self.catalog.engine)).statements())
        changed = apply_edits(text, self._edits(read, item))
        return msgspec.structs.replace(column, definition=changed.removeprefix(_HEAD).removesuffix(")"))

    def _primary_key(self, table: Object) -> list[str]:
        for item in self.catalog.belonging(table.id):
            if item.constraint is not None and item.constraint.form == "primary key":
                return item.constraint.columns
        return []

    @staticmethod
    def _repeatable(item: Object) -> list[Edit]:
        """Let a schema be there already."""
        match = _CREATE_SCHEMA.match(item.text) if item.type is ObjectType.SCHEMA else None
        return [Edit(match.end(), match.end(), "IF NOT EXISTS ", "draft.heading")] if match else []

    def _data(self, item: Object) -> str:
        """Return the statements that the survey has kept whole."""
        pieces = []
        for read in read_script(item.text, load_dialect(self.catalog.engine)).statements():
            is_cut = any(clause.name == "rows-passed-over" for clause in read.all(Clause))
            text = apply_edits(read.text, self._spelled(read, item)) if self._is_spelled and not is_cut else read.text
            pieces.append(ROWS_PASSED_OVER if is_cut else f"{text.rstrip().rstrip(';')};")
        return "\n".join(pieces)

    def _part(self, item: Object, table: Object) -> CodeDraft:
        """Draft a constraint or index that is written in its table, or was added to it later."""
        is_counting_key = (
            item.constraint is not None
            and item.constraint.form == "primary key"
            and any(column.identity for column in table.columns)
        )
        # A stand-in for a table that a person finishes has its columns, and the key that counting needs.
        if item.text in table.text and (is_counting_key or self._is_whole(table)):
            return CodeDraft("", [])
        change = f"ALTER TABLE {self.spelled(table)} ADD "
        key = item.constraint
        if key is not None and key.form in ("primary key", "unique") and "(" not in item.text:  # it stands in a column
            kind = "PRIMARY KEY" if key.form == "primary key" else "UNIQUE"
            columns = ", ".join(quote_name(stored_name(column), self.catalog.engine) for column in key.columns)
            return CodeDraft("", [Edit(0, 0, f"{change}{kind} ({columns})", "draft.heading")])
        return CodeDraft(item.text, [Edit(0, 0, change, "draft.heading")])

    def _is_whole(self, table: Object) -> bool:
        """Whether the text of a table is its draft."""
        if table.id not in self._whole:
            try:
                self.draft(table)
                self._whole[table.id] = True
            except CannotDraft:
                self._whole[table.id] = False
        return self._whole[table.id]

    def spelled(self, table: Object) -> str:
        """Return the name of a table as the source writes it: on most servers of this family its case counts."""
        name = self._spelling(table) or shown(table.name)
        return ".".join(quote_name(part, self.catalog.engine) for part in (shown(table.schema), name) if part)

    def _spelling(self, table: Object) -> str:
        if self.catalog.engine not in ("mysql", "mariadb"):
            return ""
        wanted = re.compile(rf"(?i)(?<![\w$]){re.escape(table.name)}(?![\w$])")
        users = (self.catalog.objects.get(each.object) for each in self._uses.get(table.id, ()))
        for item in (table, *users):
            found = wanted.search(item.text) if item is not None else None
            if found is not None:
                return found[0]
        return ""

    @cached_property
    def _uses(self) -> dict[str, list[Reference]]:
        """References by what they lead to."""
        uses: dict[str, list[Reference]] = {}
        for reference in self.catalog.references:
            uses.setdefault(reference.target, []).append(reference)
        return uses

    def stand_in(self, text: str, written: str, table: Object) -> str:
        """Return the stand-in of a table under the name that the source spells, rather than the one `written`."""
        head = f"CREATE TABLE {written} ("
        return text.replace(head, f"CREATE TABLE {self.spelled(table)} (", 1)

    def _named(self, *names: str) -> str:
        return ".".join(quote_name(stored_name(name), self.catalog.engine) for name in names if name)

    def _edits(self, read: ReadStatement, item: Object) -> list[Edit]:
        if item.id not in self._touched and not self._is_spelled:
            return []
        if not read.is_complete or read.unread():
            raise CannotDraft("its text could not be read in full")
        return [Edit(e.start + read.start, e.end + read.start, e.new, e.construct) for e in self._spelled(read, item)]

    def _spelled(self, read: ReadStatement, item: Object) -> list[Edit]:
        """Return the edits of a statement, from its own beginning. Raises CannotDraft."""
        rewriter = Rewriter(Subject(read, Scope(read), self.catalog.engine), self.catalog, self.target, item.id)
        prepare_queries(rewriter, add_construct_points(rewriter))
        if self._is_spelled:
            add_for_sqlserver(rewriter)
        edits = rewriter.edits()
        if rewriter.skipped:
            raise CannotDraft(rewriter.skipped[0].reason)
        return edits
