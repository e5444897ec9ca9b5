"""CREATE, ALTER, DROP, GRANT and COMMENT for objects that hold no procedural code."""

from typing import Final

from hullsound.sql.lexer import END, QUOTED, WORD
from hullsound.sql.tree import (
    AlterTable,
    ColumnDefinition,
    CommentOn,
    ConstraintDefinition,
    CreateIndex,
    CreateSequence,
    CreateSynonym,
    CreateTable,
    CreateType,
    CreateView,
    Grant,
    OrderItem,
    OtherStatement,
    Query,
    Statement,
    TypeName,
)

from .query import QueryParser

_CONSTRAINT_WORDS: Final = frozenset(
    ("CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN", "REFERENCES", "NOT", "NULL")
)
_STATE_WORDS: Final = frozenset(("ENABLE", "DISABLE", "VALIDATE", "NOVALIDATE", "RELY", "NORELY"))
_STORAGE: Final = {
    # word -> number of words or values that follow it
    **dict.fromkeys(("LOGGING", "NOLOGGING", "CACHE", "NOCACHE", "MONITORING", "NOMONITORING", "NOPARALLEL",
                     "NOCOMPRESS", "ROWDEPENDENCIES", "NOROWDEPENDENCIES", "FILESYSTEM_LIKE_LOGGING"), 0),
    **dict.fromkeys(("PCTFREE", "PCTUSED", "INITRANS", "MAXTRANS", "TABLESPACE", "PCTTHRESHOLD", "PCTVERSION",
                     "CHUNK", "FREEPOOLS"), 1),
}  # fmt: skip
_CODE_KINDS: Final = frozenset(("PROCEDURE", "FUNCTION", "PACKAGE", "TRIGGER"))
_TWO_WORD_KINDS: Final = frozenset(
    ("DATABASE LINK", "MATERIALIZED VIEW", "MATERIALIZED ZONEMAP", "ROLLBACK SEGMENT", "TEMPORARY TABLESPACE",
     "UNDO TABLESPACE", "BIGFILE TABLESPACE", "SMALLFILE TABLESPACE", "AUDIT POLICY", "FLASHBACK ARCHIVE",
     "RESTORE POINT", "JAVA SOURCE", "JAVA CLASS", "JAVA RESOURCE", "ATTRIBUTE DIMENSION", "ANALYTIC VIEW",
     "INMEMORY JOIN", "PLUGGABLE DATABASE", "LOCKDOWN PROFILE", "PROPERTY GRAPH", "SNAPSHOT LOG", "TYPE BODY",
     "PACKAGE BODY", "PUBLIC SYNONYM", "RESOURCE COST", "DISK GROUP")
)  # fmt: skip
_CREATE_MODIFIERS: Final = frozenset(
    ("FORCE", "NO", "EDITIONABLE", "NONEDITIONABLE", "EDITIONING", "UNIQUE", "BITMAP", "MULTIVALUE", "GLOBAL", "PRIVATE",
     "TEMPORARY", "PUBLIC", "SHARED", "DUPLICATED", "SHARDED", "IMMUTABLE", "BLOCKCHAIN", "REPLACE", "COMPILE",
     "RESOLVE", "NOFORCE", "AND")
)  # fmt: skip


class DdlParser(QueryParser):
    """Reads data definition; statements with code are left to the parser built on this one."""

    def create(self) -> Statement:
        first = self.expect("CREATE")
        modifiers: set[str] = set()
        if self.accept("OR", "REPLACE"):
            modifiers.add("REPLACE")
        if self.accept("IF", "NOT", "EXISTS"):
            modifiers.add("IF NOT EXISTS")
        while self.words[self.pos] in _CREATE_MODIFIERS:
            modifiers.add(self.words[self.pos])
            self.pos += 1
        word = self.words[self.pos]
        following = self.words[self.pos + 1]
        if word in _CODE_KINDS or (word == "TYPE" and following == "BODY"):
            return self.create_code(first)
        if word == "TABLE":
            return self.create_table(first, modifiers)
        if word == "INDEX":
            return self.create_index(first, modifiers)
        if word == "VIEW":
            return self.create_view(first, modifiers)
        if word == "MATERIALIZED" and following == "VIEW":
            if self.words[self.pos + 2] == "LOG":
                return self.other_statement(first, "CREATE MATERIALIZED VIEW LOG")
            return self.create_materialized_view(first)
        if word == "SEQUENCE":
            return self.create_sequence(first)
        if word == "SYNONYM":
            return self.create_synonym(first, public="PUBLIC" in modifiers)
        if word == "TYPE":
            return self.create_type(first)
        kind = word
        if f"{word} {following}" in _TWO_WORD_KINDS:
            kind = f"{word} {following}"
            self.pos += 1
        if self.kinds[self.pos] != WORD:
            self.fail("a kind of object")
        self.pos += 1
        if modifiers & {"PUBLIC"}:
            kind = f"PUBLIC {kind}"
        return self._named_rest(first, f"CREATE {kind}")

    def create_code(self, first: int) -> Statement:
        raise NotImplementedError

    # --- tables ---

    def create_table(self, first: int, modifiers: set[str]) -> CreateTable:
        self.pos += 1
        if self.accept("IF", "NOT", "EXISTS"):
            pass
        name = self.qualified_name()
        columns: list[ColumnDefinition] = []
        constraints: list[ConstraintDefinition] = []
        clauses: set[str] = set()
        for word in ("PRIVATE", "SHARDED", "DUPLICATED", "IMMUTABLE", "BLOCKCHAIN"):
            if word in modifiers:
                clauses.add(self.clause(f"{word.lower()}-table", first))
        if self.accept("OF"):
            start = self.pos - 1
            self.qualified_name()
            clauses.add(self.clause("object-table", start))
        if self.at("("):
            self.table_elements(columns, constraints)
        temporary = "delete rows" if "TEMPORARY" in modifiers else ""
        partition: tuple[int, int] | None = None
        query: Query | None = None
        while self.kinds[self.pos] != END:
            start = self.pos
            if self.accept("ON", "COMMIT"):
                kept = self.accept_any(("PRESERVE", "DELETE", "DROP"))
                if not self.accept("ROWS"):
                    self.expect("DEFINITION")
                temporary = "preserve rows" if kept == "PRESERVE" else "delete rows"
            elif self.at("PARTITION", "BY"):
                self._partition(clauses)
                partition = (start, self.pos)
            elif self.accept("AS"):
                query = self.query()
                self.clause("create-table-as", start)
            elif not self.table_property(clauses):
                self.fail("a table property")
        node = CreateTable(first, self.pos, name, columns, constraints, temporary, query, clauses, partition)
        self.nodes.append(node)
        return node

    def table_elements(self, columns: list[ColumnDefinition], constraints: list[ConstraintDefinition]) -> None:
        """Read the list of columns and table constraints."""
        self.expect("(")
        while True:
            word = self.words[self.pos]
            following = self.words[self.pos + 1]
            if word == "CONSTRAINT" or (
                word in ("PRIMARY", "FOREIGN", "UNIQUE", "CHECK") and following in ("KEY", "(")
            ):
                constraints.append(self.table_constraint())
            elif word == "SUPPLEMENTAL" and following == "LOG":
                first = self.pos
                while self.words[self.pos] not in (",", ")", ""):
                    if self.words[self.pos] == "(":
                        self.skip_parenthesized()
                    else:
                        self.pos += 1
                self.clause("supplemental-log", first)
            elif word == "PERIOD" and following == "FOR":
                first = self.pos
                self.pos += 2
                self.identifier()
                if self.at("("):
                    self.skip_parenthesized()
                self.clause("temporal-validity", first)
            else:
                columns.append(self.column_definition())
            if not self.accept(","):
                break
        self.expect(")")

    def column_definition(self) -> ColumnDefinition:
        first = self.pos
        name = self.identifier()
        kind: TypeName | None = None
        if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in _NOT_A_TYPE:
            kind = self.type_name()
        node = ColumnDefinition(first, self.pos, name, kind, True, None, False, "", None, [])
        while self._column_option(node):
            pass
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _column_option(self, node: ColumnDefinition) -> bool:
        """Read one option of a column; False if none is next."""
        first = self.pos
        word = self.words[first]
        if word == "DEFAULT":
            self.pos += 1
            if self.accept("ON", "NULL"):
                self.accept("FOR", "INSERT", "ONLY") or self.accept("FOR", "INSERT", "AND", "UPDATE")
                node.default_on_null = True
                self.clause("default-on-null", first)
            node.default = self.expression(4)
        elif word == "GENERATED":
            self._generated(node)
        elif word == "AS" and self.words[first + 1] == "(":
            self._computed(node, first)
        elif word in ("VIRTUAL", "VISIBLE", "SORT"):
            self.pos += 1
        elif word == "INVISIBLE":
            self.pos += 1
            self.clause("invisible-column", first)
        elif word in ("NOT", "NULL", "PRIMARY", "UNIQUE", "CHECK", "REFERENCES", "CONSTRAINT"):
            constraint = self._inline_constraint(node.name)
            if constraint.form == "not null":
                node.nullable = False
            elif constraint.form:
                node.constraints.append(constraint)
        elif word == "ENCRYPT":
            self.pos += 1
            self.accept("USING") and self.expression(4)
            if self.accept("IDENTIFIED", "BY"):
                self.pos += 1
            if self.is_string():
                self.pos += 1
            self.accept("NO", "SALT") or self.accept("SALT")
            self.clause("column-encryption", first)
        elif word == "COLLATE":
            self.pos += 2
            self.clause("column-collation", first)
        elif word == "WITH" and self.words[first + 1] == "ROWID":
            self.pos += 2
        elif word == "SCOPE":
            self.pos += 2
            self.qualified_name()
        elif word in _STATE_WORDS:
            self.pos += 1
        else:
            return False
        return True

    def _generated(self, node: ColumnDefinition) -> None:
        first = self.pos
        self.pos += 1
        always = self.accept("ALWAYS")
        if not always:
            self.expect("BY", "DEFAULT")
        on_null = self.accept("ON", "NULL")
        self.expect("AS")
        if self.at("("):
            self._computed(node, first)
            return
        self.expect("IDENTITY")
        node.identity = "always" if always else "by default"
        if on_null:
            self.clause("default-on-null", first)
        if self.at("("):
            start = self.pos
            self.skip_parenthesized()
            node.identity += " " + " ".join(self.words[start + 1 : self.pos - 1])
        elif self.words[self.pos] in (
            "START",
            "INCREMENT",
            "CACHE",
            "NOCACHE",
            "MAXVALUE",
            "MINVALUE",
            "ORDER",
            "NOORDER",
        ):
            start = self.pos
            self._sequence_options()
            node.identity += " " + " ".join(self.words[start : self.pos])

    def _computed(self, node: ColumnDefinition, first: int) -> None:
        if self.words[self.pos] == "AS":
            self.pos += 1
        self.expect("(")
        node.generated = self.expression()
        self.expect(")")
        self.accept("VIRTUAL")
        self.clause("virtual-column", first)

    def _inline_constraint(self, column: str) -> ConstraintDefinition:
        first = self.pos
        name = self.identifier() if self.accept("CONSTRAINT") else ""
        return self._constraint_body(first, name, [column])

    def table_constraint(self) -> ConstraintDefinition:
        first = self.pos
        name = self.identifier() if self.accept("CONSTRAINT") else ""
        return self._constraint_body(first, name, [])

    def _constraint_body(self, first: int, name: str, columns: list[str]) -> ConstraintDefinition:
        node = ConstraintDefinition(first, first, name, "", columns, None, (), [], "", "", False)
        if self.accept("NOT", "NULL"):
            node.form = "not null"
        elif self.accept("NULL"):
            node.form = ""
        elif self.accept("PRIMARY", "KEY") or self.accept("UNIQUE"):
            node.form = "primary key" if self.words[self.pos - 1] == "KEY" else "unique"
            if self.at("("):
                node.columns = self.name_list()
        elif self.accept("CHECK"):
            node.form = "check"
            self.expect("(")
            node.expression = self.expression()
            self.expect(")")
        elif self.at("FOREIGN", "KEY") or self.at("REFERENCES"):
            node.form = "foreign key"
            if self.accept("FOREIGN", "KEY"):
                node.columns = self.name_list()
            self.expect("REFERENCES")
            node.references = self.qualified_name()
            if self.at("("):
                node.reference_columns = self.name_list()
            if self.accept("ON", "DELETE"):
                node.on_delete = "cascade" if self.accept("CASCADE") else "set null"
                if node.on_delete == "set null":
                    self.expect("SET", "NULL")
        else:
            self.fail("a constraint")
        self._constraint_state(node)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _constraint_state(self, node: ConstraintDefinition) -> None:
        while True:
            first = self.pos
            word = self.words[first]
            if word in ("DEFERRABLE", "INITIALLY") or (word == "NOT" and self.words[first + 1] == "DEFERRABLE"):
                if self.accept("NOT", "DEFERRABLE"):
                    continue
                self.pos += 1
                if word == "INITIALLY":
                    node.deferrable = "initially " + self.any_word().lower()
                else:
                    node.deferrable = node.deferrable or "deferrable"
            elif word in _STATE_WORDS:
                self.pos += 1
                if word == "DISABLE":
                    node.disabled = True
                    self.clause("disabled-constraint", first)
                elif word == "NOVALIDATE":
                    self.clause("novalidate-constraint", first)
            elif word == "USING" and self.words[first + 1] == "INDEX":
                self.pos += 2
                if self.at("("):
                    self.skip_parenthesized()
                elif self.is_name() and self.words[self.pos] not in _STORAGE and self.words[self.pos] not in (
                    "STORAGE", "LOCAL", "GLOBAL", "REVERSE", "ENABLE", "DISABLE", "COMPRESS", "PARALLEL", "COMPUTE",
                ):  # fmt: skip
                    self.qualified_name()
                while self.table_property(set()):
                    pass
            elif word == "EXCEPTIONS" and self.words[first + 1] == "INTO":
                self.pos += 2
                self.qualified_name()
            else:
                return

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
        self.pos += 2
        while self.words[self.pos] in ("NOT", "SUBSTITUTABLE", "AT", "ALL", "LEVELS", "STORE", "AS", "SECUREFILE",
                                       "BASICFILE", "OBJECT", "RELATIONAL", "BINARY", "XML", "CLOB", "LOB", "ELEMENT"):  # fmt: skip
            self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        return "column-storage"

    def _row_movement(self) -> str:
        self.pos += 1
        if self.accept("ROW", "MOVEMENT"):
            return "row-movement"
        if self.words[self.pos] in _STATE_WORDS or self.at("PRIMARY") or self.at("UNIQUE") or self.at("CONSTRAINT"):
            return ""
        return ""

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
        self.any_word()
        return "column-collation"

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

    def alter_table(self, first: int) -> AlterTable:
        self.pos += 1
        name = self.qualified_name()
        node = AlterTable(first, self.pos, name, [], [], [], [])
        while self.kinds[self.pos] != END:
            start = self.pos
            if self.accept("ADD"):
                self._alter_add(node)
            elif self.at("MODIFY"):
                self._alter_modify(node)
            else:
                self._alter_other(node, start)
            if self.pos == start:
                self.fail("an action")
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _alter_add(self, node: AlterTable) -> None:
        if self.at("("):
            self.table_elements(node.columns, node.constraints)
        elif self.words[self.pos] in ("CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN") and (
            self.words[self.pos] == "CONSTRAINT" or self.words[self.pos + 1] in ("KEY", "(")
        ):
            node.constraints.append(self.table_constraint())
        elif self.at("SUPPLEMENTAL") or self.at("PARTITION") or self.at("PERIOD"):
            first = self.pos
            name = {"SUPPLEMENTAL": "supplemental-log", "PARTITION": "add-partition"}.get(
                self.words[first], "temporal-validity"
            )
            self._skip_rest()
            self.clause(name, first)
        else:
            node.columns.append(self.column_definition())

    def _alter_modify(self, node: AlterTable) -> None:
        first = self.pos
        self.pos += 1
        if self.at("("):
            self.table_elements(node.modified, node.constraints)
        elif self.words[self.pos] in ("CONSTRAINT", "PRIMARY", "UNIQUE", "PARTITION", "LOB", "DEFAULT", "NESTED"):
            self._skip_rest()
            node.actions.append(f"modify {self.words[first + 1].lower()}")
        else:
            node.modified.append(self.column_definition())

    def _alter_other(self, node: AlterTable, first: int) -> None:
        """Step over an action such as RENAME COLUMN or ENABLE ROW MOVEMENT, keeping its words."""
        while self.kinds[self.pos] != END and self.words[self.pos] not in ("ADD", "MODIFY"):
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            else:
                self.pos += 1
        words = " ".join(self.words[first : min(first + 4, self.pos)]).lower()
        node.actions.append(words)
        if "row movement" in words:
            self.clause("row-movement", first)
        elif words.startswith("disable constraint"):
            self.clause("disabled-constraint", first)

    def _skip_rest(self) -> None:
        while self.kinds[self.pos] != END:
            self.pos += 1

    # --- indexes, views, sequences, synonyms ---

    def create_index(self, first: int, modifiers: set[str]) -> CreateIndex:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        self.expect("ON")
        clauses: set[str] = set()
        if self.accept("CLUSTER"):
            clauses.add(self.clause("table-cluster", first))
            node = CreateIndex(first, self.pos, name, self.qualified_name(), [], False, "", clauses)
            self._skip_rest()
            self.nodes.append(node)
            return node
        table = self.qualified_name()
        if self.is_name():
            self.identifier()
        self.expect("(")
        keys: list[OrderItem] = []
        while True:
            keys.append(self.order_item())
            if not self.accept(","):
                break
        self.expect(")")
        method = "bitmap" if "BITMAP" in modifiers else ""
        start = self.pos
        if self.at("FROM"):
            self._bitmap_join()
            clauses.add(self.clause("bitmap-join-index", start))
        while self.kinds[self.pos] != END:
            start = self.pos
            if self.accept("INDEXTYPE", "IS"):
                self.qualified_name()
                if self.accept("PARAMETERS"):
                    self.skip_parenthesized()
                method = "domain"
                clauses.add(self.clause("domain-index", start))
            elif not self.table_property(clauses):
                self.fail("an index property")
        if method == "bitmap":
            clauses.add(self.clause("bitmap-index", first))
        node = CreateIndex(first, self.pos, name, table, keys, "UNIQUE" in modifiers, method, clauses)
        self.nodes.append(node)
        return node

    def _bitmap_join(self) -> None:
        self.pos += 1
        self.sources()
        self.expect("WHERE")
        self.expression()

    def create_view(self, first: int, modifiers: set[str]) -> CreateView:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        clauses: set[str] = set()
        if "FORCE" in modifiers and "NO" not in modifiers:
            clauses.add(self.clause("force-view", first))
        columns = self._view_columns()
        if self.accept("OF"):
            start = self.pos - 1
            self.qualified_name()
            self._skip_to("AS")
            clauses.add(self.clause("object-view", start))
        if self.accept("BEQUEATH"):
            self.any_word()
        self.expect("AS")
        query = self.query()
        read_only = check = False
        while self.accept("WITH"):
            if self.accept("READ", "ONLY"):
                read_only = True
                clauses.add(self.clause("view-read-only", self.pos - 3))
            else:
                self.expect("CHECK", "OPTION")
                check = True
            if self.accept("CONSTRAINT"):
                self.identifier()
        node = CreateView(first, self.pos, name, columns, query, False, check, read_only, clauses)
        self.nodes.append(node)
        return node

    def _view_columns(self) -> list[str]:
        if not self.at("("):
            return []
        self.pos += 1
        columns: list[str] = []
        while True:
            if self.at("CONSTRAINT"):
                self.table_constraint()
            else:
                columns.append(self.identifier())
                while self.words[self.pos] in _CONSTRAINT_WORDS:
                    self._inline_constraint(columns[-1])
            if not self.accept(","):
                break
        self.expect(")")
        return columns

    def _skip_to(self, word: str) -> None:
        while self.words[self.pos] != word:
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            elif self.kinds[self.pos] == END:
                self.fail(word)
            else:
                self.pos += 1

    def create_materialized_view(self, first: int) -> CreateView:
        self.pos += 2
        name = self.qualified_name()
        columns = self._view_columns()
        clauses: set[str] = set()
        while not self.at("AS"):
            start = self.pos
            if self.accept("REFRESH") or self.accept("NEVER"):
                self._refresh(clauses, start)
            elif self.accept("BUILD"):
                self.any_word()
            elif self.accept("ON", "PREBUILT", "TABLE"):
                clauses.add(self.clause("prebuilt-table", start))
                self.accept("WITH") and (self.accept("REDUCED"), self.accept("PRECISION"))
            elif self.at("ENABLE", "QUERY") or self.at("DISABLE", "QUERY"):
                self.pos += 2
                self.expect("REWRITE")
                if self.words[start] == "ENABLE":
                    clauses.add(self.clause("query-rewrite", start))
            elif self.accept("FOR", "UPDATE"):
                clauses.add(self.clause("updatable-materialized-view", start))
            elif self.at("PARTITION", "BY"):
                self._partition(clauses)
            elif self.accept("USING") or self.accept("WITH"):
                self.any_word()
                self.any_word()
            elif not self.table_property(clauses):
                self.fail("a property or AS")
        self.expect("AS")
        query = self.query()
        node = CreateView(first, self.pos, name, columns, query, True, False, False, clauses)
        self.nodes.append(node)
        return node

    def _refresh(self, clauses: set[str], first: int) -> None:
        name = "refresh-on-demand"
        while True:
            start = self.pos
            if self.accept("FAST"):
                clauses.add(self.clause("refresh-fast", start))
            elif self.accept("ON", "COMMIT"):
                clauses.add(self.clause("refresh-on-commit", start))
                name = ""
            elif self.accept("START", "WITH") or self.accept("NEXT"):
                self.expression()
                name = "refresh-scheduled"
            elif self.accept("WITH"):
                self.accept("PRIMARY", "KEY") or self.accept("ROWID")
            elif (
                self.accept("ON", "DEMAND")
                or self.accept("ON", "STATEMENT")
                or self.accept_any(("COMPLETE", "FORCE", "REFRESH"))
            ):
                continue
            elif self.accept("USING"):
                while self.words[self.pos] in (
                    "DEFAULT",
                    "MASTER",
                    "LOCAL",
                    "ROLLBACK",
                    "SEGMENT",
                    "ENFORCED",
                    "TRUSTED",
                    "CONSTRAINTS",
                ):
                    self.pos += 1
            else:
                break
        if name:
            clauses.add(self.clause(name, first))

    def create_sequence(self, first: int) -> CreateSequence:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        options = self._sequence_options()
        node = CreateSequence(first, self.pos, name, options)
        self.nodes.append(node)
        return node

    def _sequence_options(self) -> dict[str, str]:
        options: dict[str, str] = {}
        while self.kinds[self.pos] == WORD:
            first = self.pos
            word = self.words[first]
            if self.accept("START", "WITH") or self.accept("INCREMENT", "BY"):
                options[word.lower()] = self._signed_number()
            elif word in ("MAXVALUE", "MINVALUE", "CACHE"):
                self.pos += 1
                options[word.lower()] = self._signed_number()
            elif word in ("NOMAXVALUE", "NOMINVALUE", "NOCACHE", "CYCLE", "NOCYCLE", "NOORDER", "KEEP", "NOKEEP", "SCALE",
                          "NOSCALE", "EXTEND", "NOEXTEND", "GLOBAL", "NOSHARD", "SHARD"):  # fmt: skip
                self.pos += 1
                options[word.lower()] = ""
            elif word == "ORDER":
                self.pos += 1
                options["order"] = ""
                self.clause("sequence-order", first)
            elif word == "SESSION":
                self.pos += 1
                options["session"] = ""
                self.clause("session-sequence", first)
            else:
                break
        return options

    def _signed_number(self) -> str:
        sign = "-" if self.accept("-") else ""
        if not self.words[self.pos][:1].isdigit() and "&" not in self.words[self.pos]:
            self.fail("a number")
        self.pos += 1
        return sign + self.words[self.pos - 1]

    def create_synonym(self, first: int, *, public: bool) -> CreateSynonym:
        self.pos += 1
        name = self.qualified_name()
        self.expect("FOR")
        target = self.qualified_name()
        link = self.database_link() if self.at("@") else ""
        node = CreateSynonym(first, self.pos, name, target, link, public)
        self.nodes.append(node)
        return node

    # --- types ---

    def create_type(self, first: int) -> CreateType:
        self.pos += 1
        name = self.qualified_name()
        node = CreateType(first, self.pos, name, "incomplete", [], None)
        self.accept("FORCE")
        if self.accept("OID"):
            self.pos += 1
        if self.accept("AUTHID"):
            self.any_word()
        if self.accept_any(("IS", "AS")):
            if self.accept("OBJECT"):
                node.form = "object"
                self._object_attributes(node)
            elif self.accept("TABLE", "OF"):
                node.form = "table"
                node.element = self.type_name()
                self.accept("NOT", "NULL")
            elif self.accept("VARRAY") or self.accept("VARYING", "ARRAY"):
                node.form = "varray"
                self.skip_parenthesized()
                self.expect("OF")
                node.element = self.type_name()
                self.accept("NOT", "NULL")
            elif self.accept("OPAQUE"):
                node.form = "opaque"
                self._skip_rest()
            else:
                self.fail("OBJECT, TABLE OF or VARRAY")
        elif self.accept("UNDER"):
            node.form = "subtype"
            self.qualified_name()
            self._object_attributes(node)
        self._type_tail()
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _type_tail(self) -> None:
        while self.words[self.pos] in ("NOT", "FINAL", "INSTANTIABLE", "PERSISTABLE"):
            self.pos += 1

    def _object_attributes(self, node: CreateType) -> None:
        """Read attributes; methods are noted as a clause and their signatures stepped over."""
        self.expect("(")
        while True:
            first = self.pos
            if self.words[first] in ("MEMBER", "STATIC", "CONSTRUCTOR", "MAP", "ORDER", "OVERRIDING", "FINAL", "NOT",
                                     "INSTANTIABLE", "PRAGMA") and self.kinds[first + 1] == WORD:  # fmt: skip
                while self.words[self.pos] not in (",", ")", ""):
                    if self.words[self.pos] == "(":
                        self.skip_parenthesized()
                    else:
                        self.pos += 1
                self.clause("object-method", first)
            else:
                name = self.identifier()
                node.attributes.append((name, self.type_name()))
            if not self.accept(","):
                break
        self.expect(")")

    # --- the rest ---

    def alter(self) -> Statement:
        first = self.expect("ALTER")
        if self.at("TABLE"):
            return self.alter_table(first)
        kind = self.any_word()
        if f"{kind} {self.words[self.pos]}" in _TWO_WORD_KINDS:
            kind = f"{kind} {self.words[self.pos]}"
            self.pos += 1
        if kind in ("SESSION", "SYSTEM", "DATABASE"):
            return self.other_statement(first, f"ALTER {kind}")
        return self._named_rest(first, f"ALTER {kind}")

    def drop(self) -> Statement:
        first = self.expect("DROP")
        kind = self.any_word()
        if f"{kind} {self.words[self.pos]}" in _TWO_WORD_KINDS:
            kind = f"{kind} {self.words[self.pos]}"
            self.pos += 1
        return self._named_rest(first, f"DROP {kind}")

    def _named_rest(self, first: int, words: str) -> OtherStatement:
        self.accept("IF", "EXISTS")
        name = self.qualified_name() if self.is_name() else ()
        return self.other_statement(first, words, name)

    def other_statement(self, first: int, words: str, name: tuple[str, ...] = ()) -> OtherStatement:
        self._skip_rest()
        node = OtherStatement(first, self.pos, words.lower(), name)
        self.nodes.append(node)
        return node

    def grant(self) -> Grant:
        first = self.pos
        revoke = self.words[first] == "REVOKE"
        self.pos += 1
        privileges: list[str] = []
        current: list[str] = []
        while self.words[self.pos] not in ("ON", "TO", "FROM"):
            if self.kinds[self.pos] == END:
                self.fail("ON or TO")
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            elif self.accept(","):
                privileges.append(" ".join(current))
                current = []
            else:
                current.append(self.words[self.pos])
                self.pos += 1
        privileges.append(" ".join(current))
        target: tuple[str, ...] = ()
        if self.accept("ON"):
            if self.at("DIRECTORY") and self.words[self.pos + 1] not in ("TO", "FROM", "."):
                self.pos += 1
            target = self.qualified_name()
        if not self.accept_any(("TO", "FROM")):
            self.fail("TO")
        grantees = [self.any_word()]
        while self.accept(","):
            grantees.append(self.any_word())
        if self.accept("IDENTIFIED", "BY"):
            self.pos += 1
        while self.words[self.pos] in (
            "WITH",
            "GRANT",
            "ADMIN",
            "HIERARCHY",
            "OPTION",
            "CASCADE",
            "CONSTRAINTS",
            "FORCE",
        ):
            self.pos += 1
        node = Grant(first, self.pos, privileges, target, grantees, revoke)
        self.nodes.append(node)
        return node

    def comment(self) -> CommentOn:
        first = self.expect("COMMENT", "ON")
        kind = self.any_word()
        if kind == "MATERIALIZED":
            self.expect("VIEW")
            kind = "MATERIALIZED VIEW"
        name = self.qualified_name()
        self.expect("IS")
        if not self.is_string():
            self.fail("a text")
        self.pos += 1
        text = self.tokens.source(self.pos - 1, self.pos)
        node = CommentOn(first, self.pos, kind.lower(), name, text)
        self.nodes.append(node)
        return node


_NOT_A_TYPE: Final = frozenset(
    ("DEFAULT", "GENERATED", "AS", "NOT", "NULL", "PRIMARY", "UNIQUE", "CHECK", "REFERENCES", "CONSTRAINT", "INVISIBLE",
     "VISIBLE", "ENCRYPT", "DECRYPT")
)  # fmt: skip
_PROPERTIES: Final = {
    "STORAGE": DdlParser._storage,
    "PARALLEL": DdlParser._parallel,
    "COMPRESS": DdlParser._compress,
    "ROW": DdlParser._row_store,
    "COLUMN": DdlParser._column_storage,
    "ORGANIZATION": DdlParser._organization,
    "OVERFLOW": DdlParser._overflow,
    "INCLUDING": DdlParser._including,
    "LOB": DdlParser._lob,
    "NESTED": DdlParser._nested_table,
    "VARRAY": DdlParser._column_storage,
    "XMLTYPE": DdlParser._column_storage,
    "ENABLE": DdlParser._row_movement,
    "DISABLE": DdlParser._row_movement,
    "CLUSTER": DdlParser._cluster,
    "RESULT_CACHE": DdlParser._result_cache,
    "INMEMORY": DdlParser._inmemory,
    "FLASHBACK": DdlParser._flashback,
    "NO": DdlParser._no,
    "SEGMENT": DdlParser._segment_creation,
    "READ": DdlParser._read_only,
    "SUPPLEMENTAL": DdlParser._supplemental,
    "DEFAULT": DdlParser._default_collation,
    **dict.fromkeys(
        ("LOCAL", "GLOBAL", "REVERSE", "NOREVERSE", "INVISIBLE", "VISIBLE", "UNUSABLE", "USABLE", "ONLINE", "COMPUTE",
         "SORT", "NOSORT", "INDEXING"),
        DdlParser._index_property,
    ),
}  # fmt: skip
