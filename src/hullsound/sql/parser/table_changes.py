"""Actions of ALTER TABLE that change what is there already: DROP, RENAME, ENABLE, DISABLE, and changes of one column."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import NUMBER, QUOTED, WORD
from hullsound.sql.parser.change import ChangeParser
from hullsound.sql.tree import AlterTable, Node, Parts, SchemaChange

_NO_COLUMN: Final = frozenset(
    """PARTITION SUBPARTITION PERIOD SYSTEM SUPPLEMENTAL EXPRESSION RESTRICT VERSIONING CLUSTERING DISTRIBUTION SECURITY STORAGE
    MATERIALIZED ORGANIZE DATA LOB ROW INMEMORY INDEXING""".split()
)
"""Words behind DROP that name no column."""
_DROPPED: Final = {
    "CONSTRAINT": "constraint", "CHECK": "constraint", "COLUMN": "column", "INDEX": "index", "KEY": "index",
}  # fmt: skip
_DROP_TAILS: Final = frozenset(("CASCADE", "RESTRICT", "CONSTRAINTS", "ONLINE", "INVALIDATE"))
_MEMBERS_OF_LISTS: Final = frozenset(
    ("ADD", "MODIFY", "CHANGE", "ALTER", "DROP", "RENAME", "SET", "WITH", "ENABLE", "DISABLE")
)
_STATES: Final = {"ENABLE": "enable", "DISABLE": "disable", "CHECK": "enable", "NOCHECK": "disable"}


class TableChangeParser(ChangeParser):
    """Reads one action; every reader returns False, and stands where it stood, where its words mean something else."""

    def table_change(self, node: AlterTable) -> bool:
        """Read a DROP, RENAME, SET SCHEMA, ENABLE or DISABLE that changes a column, key, index, trigger or the table."""
        word = self.words[self.pos]
        if word == "DROP":
            return self._drop_parts(node)
        if word == "RENAME":
            return self._rename_part(node)
        if word in _STATES:
            return self._switch(node)
        if word in ("COMMENT", "AUTO_INCREMENT"):
            return self._table_option(node)
        if word == "SET" and self.words[self.pos + 1] == "SCHEMA":
            first = self.pos
            self.pos += 2
            self._add_change(node, first, "move", "table", (), (self.any_word(),))
            return True
        return False

    def _add_change(
        self,
        node: AlterTable,
        first: int,
        form: str,
        kind: str,
        name: Parts,
        new: Parts = (),
        value: Node | None = None,
    ) -> None:
        change = SchemaChange(first, self.pos, form, kind, name, new, node.name, value)
        self.nodes.append(change)
        node.changes.append(change)

    def _table_option(self, node: AlterTable) -> bool:
        """Read COMMENT = text and AUTO_INCREMENT = number."""
        first = self.pos
        word = self.words[first]
        self.pos += 1
        self.accept("=")
        if not (self.is_string() if word == "COMMENT" else self.kinds[self.pos] == NUMBER):
            self.pos = first
            return False
        self.pos += 1
        value = self.tokens.source(self.pos - 1, self.pos)
        self._add_change(node, first, "comment" if word == "COMMENT" else "restart", "table", (), (value,))
        return True

    # --- DROP ---

    def _drop_parts(self, node: AlterTable) -> bool:
        first = self.pos
        self.pos += 1
        if not self._drop_part(node, first):
            self.pos = first
            return False
        while self._goes_on():
            self.pos += 1
            if not self._drop_part(node, self.pos):
                self.fail("what is dropped")
        return True

    def _goes_on(self) -> bool:
        """Whether the T-SQL family names a further column or constraint of the same DROP."""
        following = self.words[self.pos + 1]
        return self.dialect.client is Client.BATCH and self.at(",") and following not in _MEMBERS_OF_LISTS

    def _drop_part(self, node: AlterTable, first: int) -> bool:
        word, following = self.words[self.pos], self.words[self.pos + 1]
        if word in ("PRIMARY", "FOREIGN") and following == "KEY":
            self.pos += 2
            key: Parts = (self.identifier(),) if word == "FOREIGN" and self.is_name() else ()
            self._add_change(node, first, "drop", "constraint" if key else "primary key", key)
        elif word == "UNIQUE":
            self.pos += 1
            if self.at("("):
                self._add_change(node, first, "drop", "unique", tuple(self.name_list()))
            else:
                self._add_change(node, first, "drop", "constraint", (self.identifier(),))
        elif word == "(":
            for column in self.name_list():
                self._add_change(node, first, "drop", "column", (column,))
        elif word == "PARTITION" or (word in _NO_COLUMN and self.kinds[self.pos + 1] in (WORD, QUOTED)):
            return False
        else:
            # A name alone is a constraint in the T-SQL family, but not in ASE.
            kind = "constraint" if self.dialect.engine == "sqlserver" else "column"
            if word in _DROPPED and (self.kinds[self.pos + 1] in (WORD, QUOTED) or following == "("):
                kind = _DROPPED[word]
                self.pos += 1
            self.accept("IF", "EXISTS")
            if self.at("("):
                for name in self.name_list():
                    self._add_change(node, first, "drop", kind, (name,))
            elif self.kinds[self.pos] in (WORD, QUOTED):
                name = self.any_word()
                self._add_change(node, first, "drop", kind, (name,))
            else:
                return False
        self._drop_tail()
        return True

    def _drop_tail(self) -> None:
        while self.accept_any(_DROP_TAILS) or self.accept("DROP", "INDEX") or self.accept("KEEP", "INDEX"):
            pass
        if self.accept("WITH"):
            self.skip_parenthesized()

    # --- RENAME ---

    def _rename_part(self, node: AlterTable) -> bool:
        first = self.pos
        self.pos += 1
        kind = "table"
        word = self.words[self.pos]
        if word in ("COLUMN", "INDEX", "KEY", "CONSTRAINT") and self.kinds[self.pos + 1] in (WORD, QUOTED):
            kind = {"KEY": "index"}.get(word, word.lower())
            self.pos += 1
        elif word in ("PARTITION", "SUBPARTITION"):
            self.pos = first
            return False
        old: Parts = ()
        if word not in ("TO", "AS", "="):
            self.accept("IF", "EXISTS")
            old = (*self.qualified_name(),) if kind == "table" else (self.any_word(),)
        if not self.accept_any(("TO", "AS", "=")):
            # RENAME new, of MySQL
            self._add_change(node, first, "rename", "table", (), old)
            return True
        new = (*self.qualified_name(),) if not old else (self.any_word(),)
        self._add_change(node, first, "rename", "column" if old and kind == "table" else kind, old, new)
        return True

    # --- ENABLE, DISABLE, CHECK, NOCHECK ---

    def _switch(self, node: AlterTable) -> bool:
        first = self.pos
        form = _STATES[self.words[first]]
        self.pos += 1
        while self.accept_any(("VALIDATE", "NOVALIDATE", "ALWAYS", "REPLICA")):
            pass
        if self.accept("ALL", "TRIGGERS"):
            self._add_change(node, first, form, "trigger", ("ALL",))
        elif self.accept("PRIMARY", "KEY"):
            self._add_change(node, first, form, "primary key", ())
        elif self.at("UNIQUE", "("):
            self.pos += 1
            self._add_change(node, first, form, "unique", tuple(self.name_list()))
        elif self.words[self.pos] in ("CONSTRAINT", "TRIGGER"):
            kind = self.words[self.pos].lower()
            self.pos += 1
            self._switched(node, first, form, kind)
            while self._goes_on():
                self.pos += 1
                self._switched(node, first, form, kind)
        else:
            self.pos = first
            return False
        return True

    def _switched(self, node: AlterTable, first: int, form: str, kind: str) -> None:
        name = self.any_word()
        self._add_change(node, first, form, kind, ("ALL",) if name in ("ALL", "USER") else (name,))
        while self.accept_any(("CASCADE", "KEEP", "DROP", "INDEX")):
            pass

    # --- one column ---

    def column_change(self, node: AlterTable, column: str, first: int) -> bool:
        """Read SET DEFAULT, DROP DEFAULT, SET NOT NULL, DROP NOT NULL or RESTART behind the name of a column."""
        name = (column,)
        if self.accept("SET", "DEFAULT") or self.accept("SET", "WITH", "DEFAULT"):
            self._add_change(node, first, "set default", "column", name, value=self.expression(COMPARE))
        elif self.accept("DROP", "DEFAULT"):
            self._add_change(node, first, "drop default", "column", name)
        elif self.accept("SET", "NOT", "NULL"):
            self._add_change(node, first, "set not null", "column", name)
        elif self.accept("DROP", "NOT", "NULL"):
            self._add_change(node, first, "set null", "column", name)
        elif self.accept("RESTART"):
            self.accept("WITH")
            value = self.words[self.pos] if self.kinds[self.pos] == NUMBER else ""
            self.pos += 1 if value else 0
            self._add_change(node, first, "restart", "column", name, (value,))
        else:
            return False
        return True
