"""Properties of tables and indexes: storage, organization, partitions, behaviour."""

from typing import Final

from hullsound.sql.lexer import END
from hullsound.sql.parser.change import ChangeParser

STATE_WORDS: Final = frozenset(("ENABLE", "DISABLE", "VALIDATE", "NOVALIDATE", "RELY", "NORELY"))
_STORAGE: Final = {
    # word -> number of words or values that follow it
    **dict.fromkeys(("LOGGING", "NOLOGGING", "CACHE", "NOCACHE", "MONITORING", "NOMONITORING", "NOPARALLEL",
                     "NOCOMPRESS", "ROWDEPENDENCIES", "NOROWDEPENDENCIES", "FILESYSTEM_LIKE_LOGGING"), 0),
    **dict.fromkeys(("PCTFREE", "PCTUSED", "INITRANS", "MAXTRANS", "TABLESPACE", "PCTTHRESHOLD", "PCTVERSION",
                     "CHUNK", "FREEPOOLS"), 1),
}  # fmt: skip


_COLUMN_STORAGE_WORDS: Final = frozenset(
    """NOT SUBSTITUTABLE AT ALL LEVELS STORE AS SECUREFILE BASICFILE OBJECT RELATIONAL BINARY XML CLOB LOB ELEMENT IS OF
    TYPE ONLY""".split()
)


class PropertyParser(ChangeParser):
    """Reads the properties that stand behind the columns of a table or the keys of an index."""

    def table_property(self, clauses: set[str]) -> bool:
        """Read one storage, organization or behaviour property; False if none is next."""
        first = self.pos
        word = self.words[first]
        width = _STORAGE.get(word)
        if width is not None:
            self.pos += 1 + width
            clauses.add(self.clause("tablespace" if word == "TABLESPACE" else "storage", first))
            return True
        reader = _PROPERTIES.get(word)
        if reader is None:
            return False
        name = reader(self)
        if name:
            clauses.add(self.clause(name, first))
        return self.pos > first

    def _annotations(self) -> str:
        self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        return "annotations"

    def _storage(self) -> str:
        self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        return "storage"

    def _parallel(self) -> str:
        self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        elif self.words[self.pos].isdigit():
            self.pos += 1
        return "parallel"

    def _compress(self) -> str:
        self.pos += 1
        while self.words[self.pos] in (
            "FOR",
            "BASIC",
            "ADVANCED",
            "OLTP",
            "QUERY",
            "ARCHIVE",
            "LOW",
            "HIGH",
            "ROW",
            "STORE",
        ) or (self.words[self.pos].isdigit()):
            self.pos += 1
        if self.words[self.pos - 1] in ("LOW", "HIGH") and self.accept("ROW", "LEVEL", "LOCKING"):
            pass
        return "compress"

    def _row_store(self) -> str:
        self.pos += 1
        if self.accept("STORE") or self.accept("ARCHIVAL"):
            archival = self.words[self.pos - 1] == "ARCHIVAL"
            while self.words[self.pos] in ("COMPRESS", "NOCOMPRESS", "BASIC", "ADVANCED"):
                self.pos += 1
            return "row-archival" if archival else "compress"
        self.fail("STORE or ARCHIVAL")

    def _organization(self) -> str:
        self.pos += 1
        form = self.any_word()
        if form == "EXTERNAL":
            self.skip_parenthesized()
            if self.accept("REJECT", "LIMIT"):
                self.pos += 1
            return "external-table"
        if form == "INDEX":
            while self.words[self.pos] in ("INCLUDING", "OVERFLOW", "MAPPING", "NOMAPPING"):
                self.pos += 1
                if self.words[self.pos - 1] == "INCLUDING":
                    self.identifier()
                self.accept("TABLE")
            return "organization-index"
        return "organization-heap"

    def _overflow(self) -> str:
        self.pos += 1
        return "organization-index"

    def _including(self) -> str:
        self.pos += 2
        return "organization-index"

    def _lob(self) -> str:
        self.pos += 1
        self.skip_parenthesized()
        self.expect("STORE", "AS")
        self.accept_any(("SECUREFILE", "BASICFILE"))
        if self.is_name() and not self.at("TABLESPACE"):
            self.identifier()
        if self.at("("):
            self.skip_parenthesized()
        else:
            while self.table_property(set()):
                pass
        return "lob-storage"

    def _nested_table(self) -> str:
        self.pos += 2
        self.any_word()
        self.expect("STORE", "AS")
        self.identifier()
        if self.at("("):
            self.skip_parenthesized()
        if self.accept("RETURN"):
            self.accept("AS")
            self.any_word()
        return "nested-table-storage"

    def _column_storage(self) -> str:
        """Read COLUMN name ..., VARRAY name ... and XMLTYPE [COLUMN] name STORE AS ..."""
        self.pos += 1
        self.accept("COLUMN")
        self.qualified_name()
        while self.words[self.pos] in _COLUMN_STORAGE_WORDS:
            self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        return "column-storage"

    def _object_identifier(self) -> str:
        self.expect("OBJECT", "IDENTIFIER", "IS")
        self.any_word()
        self.any_word()
        return ""

    def _row_movement(self) -> str:
        self.pos += 1
        return "row-movement" if self.accept("ROW", "MOVEMENT") else ""

    def _cluster(self) -> str:
        self.pos += 1
        self.qualified_name()
        self.skip_parenthesized()
        return "table-cluster"

    def _result_cache(self) -> str:
        self.pos += 1
        self.skip_parenthesized()
        return "table-result-cache"

    def _inmemory(self) -> str:
        self.pos += 1
        while self.words[self.pos] in ("PRIORITY", "NONE", "LOW", "MEDIUM", "HIGH", "CRITICAL", "MEMCOMPRESS", "FOR",
                                       "QUERY", "CAPACITY", "DML", "DISTRIBUTE", "AUTO", "DUPLICATE", "ALL"):  # fmt: skip
            self.pos += 1
        return "inmemory"

    def _flashback(self) -> str:
        self.pos += 1
        self.expect("ARCHIVE")
        if self.is_name() and self.words[self.pos] not in _PROPERTIES:
            self.identifier()
        return "flashback-archive"

    def _no(self) -> str:
        self.pos += 1
        self.any_word()
        self.accept("ARCHIVE") or self.accept("DROP")
        return ""

    def _segment_creation(self) -> str:
        self.pos += 2
        self.accept_any(("IMMEDIATE", "DEFERRED"))
        return "storage"

    def _read_only(self) -> str:
        self.pos += 1
        self.accept_any(("ONLY", "WRITE"))
        return "read-only-table"

    def _supplemental(self) -> str:
        while self.kinds[self.pos] != END:
            self.pos += 1
        return "supplemental-log"

    def _index_property(self) -> str:
        word = self.words[self.pos]
        self.pos += 1
        if word in ("LOCAL", "GLOBAL"):
            if self.accept("PARTITION", "BY"):
                self.pos += 1
                self.skip_parenthesized()
                if self.accept("PARTITIONS"):
                    self.pos += 1
            if self.at("("):
                self.skip_parenthesized()
            if self.accept("STORE", "IN"):
                self.skip_parenthesized()
            return f"{word.lower()}-index"
        if word == "COMPUTE":
            self.accept("STATISTICS")
            return ""
        return {"REVERSE": "reverse-key-index", "INVISIBLE": "invisible-index", "UNUSABLE": "unusable-index"}.get(
            word, ""
        )

    def _default_collation(self) -> str:
        self.pos += 1
        self.expect("COLLATION")
        return "" if self.any_word() == "USING_NLS_COMP" else "column-collation"

    def _partition(self, clauses: set[str]) -> None:
        """Read PARTITION BY with its subpartitions and the list of partitions."""
        first = self.pos
        self.pos += 2
        method = self.any_word()
        if method == "CONSISTENT":
            self.accept("HASH")
        start = self.pos
        if self.at("("):
            self.skip_parenthesized()
        clauses.add(self.clause(f"partition-by-{method.lower()}", first))
        if self.accept("AUTOMATIC"):
            clauses.add(self.clause("partition-automatic", start))
        if self.at("INTERVAL", "("):
            start = self.pos
            self.pos += 1
            self.skip_parenthesized()
            if self.accept("STORE", "IN"):
                self.skip_parenthesized()
            clauses.add(self.clause("partition-interval", start))
        if self.at("SUBPARTITION", "BY"):
            start = self.pos
            self.pos += 3
            self.skip_parenthesized()
            while self.words[self.pos] in ("SUBPARTITIONS", "SUBPARTITION", "STORE"):
                self.pos += 2
                if self.at("("):
                    self.skip_parenthesized()
            clauses.add(self.clause("subpartition", start))
        if self.accept("PARTITIONS"):
            self.pos += 1
            if self.accept("STORE", "IN"):
                self.skip_parenthesized()
        if self.at("("):
            self.skip_parenthesized()


_PROPERTIES: Final = {
    "ANNOTATIONS": PropertyParser._annotations,
    "STORAGE": PropertyParser._storage,
    "PARALLEL": PropertyParser._parallel,
    "COMPRESS": PropertyParser._compress,
    "ROW": PropertyParser._row_store,
    "COLUMN": PropertyParser._column_storage,
    "ORGANIZATION": PropertyParser._organization,
    "OVERFLOW": PropertyParser._overflow,
    "INCLUDING": PropertyParser._including,
    "LOB": PropertyParser._lob,
    "NESTED": PropertyParser._nested_table,
    "VARRAY": PropertyParser._column_storage,
    "XMLTYPE": PropertyParser._column_storage,
    "ENABLE": PropertyParser._row_movement,
    "DISABLE": PropertyParser._row_movement,
    "CLUSTER": PropertyParser._cluster,
    "RESULT_CACHE": PropertyParser._result_cache,
    "INMEMORY": PropertyParser._inmemory,
    "FLASHBACK": PropertyParser._flashback,
    "NO": PropertyParser._no,
    "SEGMENT": PropertyParser._segment_creation,
    "READ": PropertyParser._read_only,
    "SUPPLEMENTAL": PropertyParser._supplemental,
    "DEFAULT": PropertyParser._default_collation,
    "OBJECT": PropertyParser._object_identifier,
    **dict.fromkeys(
        ("LOCAL", "GLOBAL", "REVERSE", "NOREVERSE", "INVISIBLE", "VISIBLE", "UNUSABLE", "USABLE", "ONLINE", "COMPUTE",
         "SORT", "NOSORT", "INDEXING"),
        PropertyParser._index_property,
    ),
}  # fmt: skip
