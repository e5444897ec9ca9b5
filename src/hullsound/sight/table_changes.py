"""Changes of ALTER TABLE that the reader steps over and of which no construct speaks: they are told, not passed over."""

from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sql.tree import Clause

from .detector import Found
from .rows import Hit

_STORAGE: Final = frozenset(
    """ACCESS ALGORITHM ALLOCATE APPEND AUTOVACUUM_ENABLED AVG_ROW_LENGTH BUFFER_POOL CACHE CHARACTER CHARSET CHECKSUM
    CLUSTER COALESCE COMPRESS DEALLOCATE DELAY_KEY_WRITE FILLFACTOR FREESPACE ILM INITRANS INMEMORY KEY_BLOCK_SIZE LOCK
    LOCKSIZE LOCK_ESCALATION LOGGED LOGGING MAX_ROWS MINIMIZE MIN_ROWS MONITORING MOVE NOCACHE NOCOMPRESS NOLOGGING
    NOMONITORING NOPARALLEL PACK_KEYS PARALLEL PCTFREE PCTUSED REBUILD ROW_FORMAT SHRINK STATISTICS STATS_PERSISTENT
    STORAGE TABLESPACE UNLOGGED UPGRADE VOLATILE""".split()
)
"""Words of changes that say how rows are kept or written, not what they are."""
_OF_DUMPS: Final = ("OWNER", "VALIDATE")
"""First words of what dumps say of every table, beside ENABLE and DISABLE KEYS and SET WITHOUT OIDS."""
_OF_ROWS: Final = ("DISCARD", "IMPORT", "EXCHANGE", "SWITCH", "ATTACH", "DETACH")
"""First words of changes that bring rows or take them away."""
_LOOKED_AT: Final = 4
"""Words of a change that tell its kind, and that a finding shows."""


def add_table_changes(subject: Subject, hits: list[Hit]) -> None:
    """Add a hit for each change in which nothing else was seen."""
    for clause in subject.all(Clause):
        if clause.name != "table-change" or any(clause.first <= hit.found.first < clause.last for hit in hits):
            continue
        words = subject.words[clause.first : clause.last][:_LOOKED_AT]
        if words[0] in _OF_DUMPS or words[1:2] == ["KEYS"] or words[:2] == ["SET", "WITHOUT"]:
            continue
        is_storage = words[0] not in _OF_ROWS and not _STORAGE.isdisjoint(words)
        key = "assess.table-storage" if is_storage else "assess.table-change"
        hits.append(Hit(key, Found(clause, clause.first, clause.last, " ".join(words).lower())))
