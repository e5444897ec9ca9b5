"""Files for the day of the switch: references that are validated later, positions of sequences, statistics."""

import re
from collections.abc import Callable
from typing import Final

from hullsound.assess.model import Assessment
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType
from hullsound.draft.edits.names import literal, names_of
from hullsound.draft.objects.writers import writer_for

from .model import Draft, DraftSet

_ADDED: Final = re.compile(
    r'(?is)^\s*(ALTER\s+TABLE\s+.+?)\s+ADD\s+CONSTRAINT\s+("(?:[^"]|"")+"|[^\s"]+)\s+FOREIGN\s+KEY\b[^;]*;\s*$'
)
"""A foreign key as drafts add it."""
_SOURCE_POSITIONS: Final = {
    "oracle": "SELECT sequence_owner, sequence_name, last_number FROM all_sequences ORDER BY 1, 2;",
    "sqlserver": "SELECT SCHEMA_NAME(schema_id), name, current_value, increment FROM sys.sequences ORDER BY 1, 2;",
    "postgresql": "SELECT schemaname, sequencename, last_value, increment_by FROM pg_sequences ORDER BY 1, 2;",
    "db2": "SELECT seqschema, seqname, nextcachefirstvalue FROM syscat.sequences WHERE seqtype = 'S' ORDER BY 1, 2",
}
"""What the source is asked for the positions of its sequences: Oracle 19 ALL_SEQUENCES, SQL Server 2016 sys.sequences,
PostgreSQL 14 pg_sequences, Db2 11.5 SYSCAT.SEQUENCES."""


def cutover_files(drafts: DraftSet, catalog: Catalog, assessment: Assessment) -> dict[str, str]:
    """Return the files by their names below the folder of drafts; those with nothing to say are left out."""
    maker = _Cutover(drafts, catalog, assessment)
    made: dict[str, Callable[[], str]] = {
        "cutover/references-unvalidated.sql": maker.unvalidated,
        "cutover/references-validate.sql": maker.validate,
        "cutover/source-sequences.sql": maker.source_positions,
        "cutover/sequences.sql": maker.positions,
        "cutover/statistics.sql": maker.statistics,
    }
    return {name: text for name, make in made.items() if (text := make())}


def _is_counting(column: Column) -> bool:
    return bool(column.identity) or "SERIAL" in column.type.name.upper()


class _Cutover:
    def __init__(self, drafts: DraftSet, catalog: Catalog, assessment: Assessment) -> None:
        self.drafts, self.catalog, self.engine = drafts, catalog, assessment.target.engine
        self.writer = writer_for(catalog, assessment.target, assessment.project)
        self.names = names_of(self.engine)
        self.tables = [draft.object for draft in self._finished(ObjectType.TABLE)]
        self.sequences = [draft.object for draft in self._finished(ObjectType.SEQUENCE)]

    def _finished(self, kind: ObjectType) -> list[Draft]:
        return [draft for draft in self.drafts.drafts if draft.object.type is kind and draft.is_finished and draft.text]

    def _references(self) -> list[tuple[str, re.Match[str] | None]]:
        """Return the drafts of foreign keys, with how they are added where that may be split from checking them.

        Of a partitioned table it may not before PostgreSQL 18.
        """
        whole = {draft.object.id for draft in self._finished(ObjectType.TABLE) if "PARTITION BY" in draft.text}
        found = []
        for draft in self._finished(ObjectType.CONSTRAINT):
            constraint = draft.object.constraint
            if constraint is None or constraint.form != "foreign key":
                continue
            may_wait = "NOT VALID" not in draft.text and draft.object.table not in whole
            found.append((draft.text.strip(), _ADDED.match(draft.text) if may_wait else None))
        return found

    def unvalidated(self) -> str:
        """Return the foreign keys so that they hold for new rows at once and old rows are checked later.

        PostgreSQL 14, ALTER TABLE: NOT VALID, VALIDATE CONSTRAINT.
        """
        if self.engine != "postgresql" or not (found := self._references()):
            return ""
        head = (
            "-- In place of the files of the stage `references`: NOT VALID reads no row and locks no table for long.\n"
        )
        return head + "".join(f"{text.rstrip(';')} NOT VALID;\n" if each else f"{text}\n" for text, each in found)

    def validate(self) -> str:
        if self.engine != "postgresql" or not (found := self._references()):
            return ""
        head = "-- After references-unvalidated.sql, when there is time: reads the rows, and does not stop those who write.\n"
        return head + "".join(f"{each[1].strip()} VALIDATE CONSTRAINT {each[2]};\n" for _, each in found if each)

    def source_positions(self) -> str:
        if not self.sequences or self.catalog.engine not in _SOURCE_POSITIONS:
            return ""
        return f"-- On the source, after its programs have stopped.\n{_SOURCE_POSITIONS[self.catalog.engine]}\n"

    def positions(self) -> str:
        """Return what sets counting columns behind the rows that were loaded, and sequences to what the source said."""
        if self.engine == "postgresql":
            lines = [self._postgresql_column(table, name) for table, name in self._counting()]
            lines += [self._postgresql_sequence(item) for item in self.sequences]
        elif self.engine == "sqlserver":
            lines = [f"DBCC CHECKIDENT ({literal(self.writer.name(table))}, RESEED);" for table, _ in self._counting()]
        else:
            return ""
        return (
            "-- On the target, after the rows are loaded.\n" + "".join(f"{line}\n" for line in lines) if lines else ""
        )

    def _counting(self) -> list[tuple[Object, str]]:
        return [(table, column.name) for table in self.tables for column in table.columns if _is_counting(column)]

    def _postgresql_column(self, table: Object, column: str) -> str:
        name, written = self.writer.name(table), self.names.write(column)
        sequence = f"pg_get_serial_sequence({literal(name)}, {literal(self.names.folded(column))})"
        return f"SELECT setval({sequence}, COALESCE((SELECT MAX({written}) FROM {name}), 0) + 1, false);"

    def _postgresql_sequence(self, item: Object) -> str:
        variable = re.sub(r"\W+", "_", f"{item.schema}_{item.name}".lower()).strip("_")
        name = self.writer.name(item)
        return (
            f"-- \\set {variable} N   what source-sequences.sql gives for it\n"
            f"SELECT setval({literal(name)}, :{variable}, false);"
        )

    def statistics(self) -> str:
        """Return what lets the target's optimizer know the rows."""
        if self.engine == "postgresql":
            return "VACUUM (ANALYZE);\n"
        if self.engine in ("mysql", "mariadb"):
            return "".join(f"ANALYZE TABLE {self.writer.name(table)};\n" for table in self.tables)
        if self.engine == "sqlserver":
            return "EXEC sp_updatestats;\n"
        if self.engine == "oracle":
            schemas = sorted({table.schema for table in self.tables if table.schema})
            return "".join(f"EXEC DBMS_STATS.GATHER_SCHEMA_STATS({literal(schema)})\n" for schema in schemas)
        return ""
