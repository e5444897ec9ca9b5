"""Constraints and keys of tables, in the forms of all engines but Oracle's own."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import END, NUMBER, WORD
from hullsound.sql.parser.options import OptionParser
from hullsound.sql.parser.table_changes import TableChangeParser
from hullsound.sql.tree import Clause, ConstraintDefinition, CreateIndex, Name, Operation, OrderItem

KEY_WORDS: Final = frozenset(("INDEX", "KEY", "FULLTEXT", "SPATIAL"))
_INDEX_TAILS: Final = frozenset(
    """USING COMMENT KEY_BLOCK_SIZE WITH VISIBLE INVISIBLE IGNORED NOT INCLUDE WHERE ON ENGINE_ATTRIBUTE TABLESPACE NULLS
    FILESTREAM_ON IN""".split()
)
_INLINE_TAILS: Final = _INDEX_TAILS - {"COMMENT", "VISIBLE", "INVISIBLE", "IGNORED", "KEY_BLOCK_SIZE"}
"""Behind the key that stands in its column, these words speak of the column."""


class ConstraintParser(TableChangeParser, OptionParser):
    """Reads keys, indexes and constraints that stand in a table."""

    def _key(self) -> CreateIndex:
        """Read INDEX [name] [USING method] (keys) [options] inside a table."""
        first = self.pos
        method = ""
        while self.words[self.pos] in KEY_WORDS:
            if self.words[self.pos] in ("FULLTEXT", "SPATIAL"):
                method = self.words[self.pos].lower()
                self.clause(f"{method}-index", self.pos)
            self.pos += 1
            if self.words[self.pos - 1] in ("INDEX", "KEY"):
                break
        self.accept("IF", "NOT", "EXISTS")
        name = (self.identifier(),) if not self.at("(") and not self.at("USING") else ()
        unique = False
        while self.words[self.pos] in ("UNIQUE", "CLUSTERED", "NONCLUSTERED", "COLUMNSTORE", "HASH"):
            unique = unique or self.at("UNIQUE")
            self.pos += 1
        if self.accept("USING"):
            method = self.any_word().lower()
        keys = self.index_keys() if self.at("(") else []
        clauses: set[str] = set()
        node = CreateIndex(first, self.pos, name, (), keys, unique, method, clauses)
        self.index_tail(clauses, node)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def index_keys(self) -> list[OrderItem]:
        """Read (key [operator class] [ASC|DESC] [NULLS ...], ...)."""
        self.expect("(")
        keys: list[OrderItem] = []
        while True:
            item = self._key_part()
            if self.words[self.pos] not in (",", ")"):
                if not self.at("WITHOUT"):
                    self._operator_class()
                if self.at("("):
                    self.skip_parenthesized()
                item.descending = self.accept("DESC") or item.descending
                self.accept("ASC")
                if self.accept("NULLS"):
                    self.any_word()
                if self.accept("WITHOUT"):
                    self.expect("OVERLAPS")
            item.last = self.pos
            keys.append(item)
            if not self.accept(","):
                break
        self.expect(")")
        return keys

    def _key_part(self) -> OrderItem:
        """Read one key; a name with a number behind it is the beginning of a column, not a call."""
        first = self.pos
        if self.words[first + 1] == "(" and self.kinds[first + 2] == NUMBER and self.words[first + 3] == ")":
            name = Name(first, first + 1, (self.identifier(),))
            self.nodes.append(name)
            self.pos += 3
            item = OrderItem(first, self.pos, name, self.accept_any(("ASC", "DESC")) == "DESC")
            self.nodes.append(item)
            return item
        return self.order_item()

    def storage_place(self) -> None:
        """Read the filegroup or segment behind ON, which may be a text, or a partition scheme with its column."""
        if self.is_string():
            self.pos += 1
            return
        self.any_word()
        if self.at("("):
            self.skip_parenthesized()

    def index_tail(
        self, clauses: set[str], node: CreateIndex | ConstraintDefinition | None = None, *, is_inline: bool = False
    ) -> None:
        """Read what may stand behind the keys of an index or a key inside a table, or behind a column's own key."""
        while self.words[self.pos] in (_INDEX_TAILS if not is_inline else _INLINE_TAILS) and not (
            (self.at("ON") and self.words[self.pos + 1] in ("DELETE", "UPDATE", "CONFLICT"))
            or (self.at("NOT") and self.words[self.pos + 1] not in ("VISIBLE", "IGNORED"))
        ):
            first = self.pos
            word = self.words[first]
            self.pos += 1
            if word == "WHERE":
                condition = self.expression()
                clauses.add(self.clause("filtered-index", first))
                if isinstance(node, CreateIndex):
                    node.where = condition
            elif word == "ON":
                self.storage_place()
            elif word == "INCLUDE":
                names = self._name_list()
                clauses.add(self.clause("index-include", first))
                if isinstance(node, CreateIndex):
                    node.include = names
            elif word == "WITH":
                self._note_ignored_duplicates(node)
                if self.at("("):
                    self.skip_parenthesized()
                elif self.accept("PARSER"):
                    self.identifier()
                else:
                    self._old_index_options()
            elif word == "NULLS":
                is_not = self.accept("NOT")
                self.expect("DISTINCT")
                if node is not None:
                    node.nulls_not_distinct = is_not
            elif word == "USING":
                if self.accept("INDEX"):
                    self.expect("TABLESPACE")
                self.any_word()
            elif word not in ("VISIBLE", "INVISIBLE", "IGNORED", "NOT"):
                self.accept("=")
                self.pos += 1

    def _note_ignored_duplicates(self, node: CreateIndex | ConstraintDefinition | None) -> None:
        """Look ahead over the options of WITH for IGNORE_DUP_KEY, which must not be set to OFF."""
        words, pos = self.words, self.pos
        while words[pos] not in (")", ";", ""):
            if words[pos] == "IGNORE_DUP_KEY":
                is_off = words[pos + 1] == "=" and words[pos + 2] == "OFF"
                if node is not None and not is_off:
                    node.ignores_duplicates = True
                    self.nodes.append(Clause(pos, pos + 1, "ignore-dup-key"))
                return
            pos += 1

    def _old_index_options(self) -> None:
        """Read WITH FILLFACTOR = 80, IGNORE_DUP_KEY ..."""
        while self.kinds[self.pos] == WORD:
            self.pos += 1
            if self.accept("="):
                self.pos += 1
            if not self.accept(","):
                return

    def _exclude(self) -> None:
        self.expect("EXCLUDE")
        if self.accept("USING"):
            self.identifier()
        self.skip_parenthesized()
        clauses: set[str] = set()
        self.index_tail(clauses)
        if self.at("WHERE"):
            self.pos += 1
            self.skip_parenthesized()
        self._constraint_state(None)

    def _names_constraint(self) -> bool:
        return self.words[self.pos] not in ("PRIMARY", "UNIQUE", "CHECK", "REFERENCES", "FOREIGN")

    def table_constraint(self) -> ConstraintDefinition:
        first = self.pos
        name = self.identifier() if self.accept("CONSTRAINT") and self._names_constraint() else ""
        return self._constraint_body(first, name, [])

    def _constraint_body(self, first: int, name: str, columns: list[str]) -> ConstraintDefinition:
        node = ConstraintDefinition(first, first, name, "", columns, None, (), [], "", "", False)
        word = self.words[self.pos]
        if word in ("PRIMARY", "UNIQUE"):
            self._unique_body(node)
        elif word == "CHECK":
            node.form = "check"
            self.pos += 1
            if self.accept("NOT", "FOR", "REPLICATION"):
                self.clause("not-for-replication", self.pos - 3)
            self.expect("(")
            node.expression = self.expression()
            self.expect(")")
        elif word in ("FOREIGN", "REFERENCES"):
            self._foreign_body(node)
        elif word == "EXCLUDE":
            self._exclude()
            node.form = ""
            self.clause("exclusion-constraint", first)
        elif word == "DEFAULT":
            self.pos += 1
            node.expression = self.expression(COMPARE)
            self.expect("FOR")
            node.form = "default"
            node.columns = [self.identifier()]
            self.accept("WITH", "VALUES")
        elif self.accept("NOT", "NULL"):
            node.form = "not null"
            if self.is_name():
                node.columns = [self.identifier()]
        elif self.accept("CONNECTION"):
            self.skip_parenthesized()
            if self.accept("ON", "DELETE"):
                self._referential_action()
        else:
            self.fail("a constraint")
        self._constraint_state(node)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _unique_body(self, node: ConstraintDefinition) -> None:
        node.form = "unique" if self.words[self.pos] == "UNIQUE" else "primary key"
        self.pos += 1
        if node.form == "primary key":
            self.expect("KEY")
        if self.accept("NULLS"):
            node.nulls_not_distinct = self.accept("NOT")
            self.expect("DISTINCT")
        inline = bool(node.columns)
        while self.words[self.pos] in ("CLUSTERED", "NONCLUSTERED", "HASH", "KEY", "INDEX"):
            self.pos += 1
        if not inline and self.is_name() and self.words[self.pos] != "USING":
            node.name = node.name or self.identifier()
            if self.words[self.pos - 1] != node.name and self.is_name():
                self.identifier()
        if self.accept("USING"):
            if self.accept("INDEX"):
                self.identifier()
            else:
                self.any_word()
        if self.accept("ASC") or self.accept("DESC"):
            pass
        if self.at("(") and not inline:
            node.columns = [self._key_name(item) for item in self.index_keys()]
        elif self.at("(") and self.dialect.client is Client.BATCH:
            self.index_keys()
        self.index_tail(set(), node, is_inline=inline)

    def _key_name(self, item: OrderItem) -> str:
        """Return the column that an item of a key names, without the length of its prefix or its collation."""
        value = item.value
        if isinstance(value, Operation) and value.operators == ["COLLATE"]:
            value = value.operands[0]
        parts = getattr(value, "parts", ())
        return parts[-1] if parts else self.tokens.source(item.first, item.last)

    def _foreign_body(self, node: ConstraintDefinition) -> None:
        node.form = "foreign key"
        if self.accept("FOREIGN", "KEY"):
            self.accept("IF", "NOT", "EXISTS")
            if self.is_name():
                index = self.identifier()  # the name of the index that the key may get
                node.name = node.name or index
            if self.at("("):
                node.columns = self._name_list()
        self.expect("REFERENCES")
        self.accept("WITH", "CHECK", "OPTION") or self.accept("WITH", "NO", "CHECK", "OPTION")
        node.references = self.qualified_name()
        if self.at("("):
            node.reference_columns = self._name_list()
        while True:
            if self.accept("ON"):
                event = self.any_word()
                action = self._referential_action()
                if event == "DELETE" and action not in ("no action", "restrict"):
                    node.on_delete = action
                elif event == "UPDATE" and action not in ("no action", "restrict"):
                    node.on_update = action
                    self.clause("on-update-action", self.pos - 1)
            elif self.accept("MATCH"):
                self.any_word()
            else:
                return

    def _name_list(self) -> list[str]:
        self.expect("(")
        names = [self.any_word()]
        while self.accept(",") or self.at("PERIOD"):
            self.accept("PERIOD")
            names.append(self.any_word())
            self.accept("WITHOUT", "OVERLAPS")
        self.expect(")")
        return names

    def _referential_action(self) -> str:
        if self.accept("NO"):
            self.expect("ACTION")
            return "no action"
        if self.accept("SET"):
            word = self.any_word().lower()
            if self.at("("):
                self.skip_parenthesized()
            return f"set {word}"
        return self.any_word().lower()

    def _constraint_state(self, node: ConstraintDefinition | None) -> None:
        while True:
            first = self.pos
            word, following = self.words[first], self.words[first + 1]
            if word == "NOT" and following in ("DEFERRABLE", "VALID", "ENFORCED", "TRUSTED", "FOR"):
                self.pos += 2 if following != "FOR" else 3
                if following in ("VALID", "ENFORCED"):
                    self.clause(f"not-{following.lower()}-constraint", first)
                if node is not None:
                    node.not_validated = node.not_validated or following == "VALID"
                    node.not_enforced = node.not_enforced or following == "ENFORCED"
            elif word == "DEFERRABLE":
                self.pos += 1
                if node is not None:
                    node.deferrable = node.deferrable or "deferrable"
            elif word == "INITIALLY":
                self.pos += 2
                if node is not None:
                    node.deferrable = f"initially {following.lower()}"
            elif word in ("ENFORCED", "TRUSTED", "ENABLE", "DISABLE") and self.kinds[first] != END:
                self.pos += 1
                if word in ("ENABLE", "DISABLE") and following == "QUERY":
                    self.pos += 2
            elif word == "NO" and following == "INHERIT":
                self.pos += 2
            elif word == "ON" and following == "CONFLICT":
                self.pos += 3
                self.clause("conflict-clause", first)
            else:
                return
