"""Options behind a column's type: NULL, defaults, generated values, constraints of one column."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import NUMBER, QUOTED, STRING, WORD
from hullsound.sql.parser.constraints import ConstraintParser
from hullsound.sql.tree import ColumnDefinition

_PLAIN_OPTIONS: Final = {
    # word -> clause of a column option that is one word, or that word with one value
    "AUTO_INCREMENT": "auto-increment",
    "ROWGUIDCOL": "rowguidcol",
    "SPARSE": "sparse-column",
    "FILESTREAM": "filestream-column",
    "HIDDEN": "hidden-column",
    "INVISIBLE": "invisible-column",
    "VISIBLE": "",
    "PERSISTED": "persisted-column",
    "STORED": "stored-column",
    "PERSISTENT": "stored-column",
    "VIRTUAL": "",
    "CASESPECIFIC": "case-specific",
    "CS": "case-specific",
    "UPPERCASE": "uppercase-column",
    "UC": "uppercase-column",
    "LOGGED": "",
    "COMPACT": "",
    "COMPRESSED": "column-compression",
    "CLUSTERED": "",
    "NONCLUSTERED": "",
    "ENABLE": "",
    "DISABLE": "disabled-constraint",
    "ENFORCED": "",
    "BINARY": "",
    "KEY": "",
    "MATERIALIZED": "materialized-column",
    "COLUMN_SET": "column-set",
}
_VALUE_OPTIONS: Final = {
    # word -> clause of a column option with one value behind it
    "COMMENT": "column-comment",
    "STORAGE": "column-storage",
    "COMPRESSION": "column-compression",
    "COLUMN_FORMAT": "column-format",
    "SRID": "column-srid",
    "FORMAT": "column-format",
    "TITLE": "column-title",
    "NAMED": "column-title",
    "REF_SYSTEM_ID": "column-srid",
    "ENGINE_ATTRIBUTE": "column-attribute",
    "SECONDARY_ENGINE_ATTRIBUTE": "column-attribute",
}
_COLLATED_BEHIND_DEFAULT: Final = frozenset(("sqlite", "postgresql", "mysql", "mariadb"))
"""Engines whose COLLATE behind DEFAULT is the column's, since the value is a literal or stands in parentheses."""


class ColumnOptionParser(ConstraintParser):
    """Reads the options of one column."""

    def column_options(self, node: ColumnDefinition) -> None:
        """Read all options of a column."""
        while True:
            first = self.pos
            word = self.words[first]
            reader = _COLUMN_OPTIONS.get(word)
            if reader is not None and reader(self, node):
                continue
            if self.pos != first:
                continue
            clause = _PLAIN_OPTIONS.get(word)
            if clause is not None:
                self.pos += 1
                if clause == "column-set":
                    self.expect("FOR", "ALL_SPARSE_COLUMNS")
                if clause == "auto-increment":
                    node.identity = "by default"
                if clause:
                    self.clause(clause, first)
                continue
            clause = _VALUE_OPTIONS.get(word)
            if clause is None:
                return
            self.pos += 1
            self.accept("=")
            if word == "NAMED":
                self.any_word()
            else:
                if word == "COMMENT" and self.is_string():
                    node.comment = self.tokens.source(self.pos, self.pos + 1)
                self._step()
            self.clause(clause, first)

    def _nullability(self, node: ColumnDefinition) -> bool:
        word, following = self.words[self.pos], self.words[self.pos + 1]
        if word == "NULL":
            self.pos += 1
            node.states_null = True
        elif following == "NULL":
            self.pos += 2
            node.nullable = False
            self.accept("ENABLE")
            if self.accept("NO"):
                self.expect("INHERIT")
        elif following in ("CASESPECIFIC", "CS"):
            self.pos += 2
            self.clause("not-case-specific", self.pos - 2)
        elif following == "FOR":
            self.pos += 2
            self.expect("REPLICATION")
            self.clause("not-for-replication", self.pos - 3)
        elif following in ("LOGGED", "COMPACT", "PERSISTED", "HIDDEN", "ENFORCED", "DEFERRABLE", "VALID", "SECURED"):
            self.pos += 2
        else:
            return False
        return True

    def _default(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.accept("WITH")
        self.expect("DEFAULT")
        opens_value = self.kinds[self.pos] in (WORD, QUOTED, STRING, NUMBER) or self.words[self.pos] in (
            "(",
            "-",
            "+",
            "{",
        )
        is_option = self.words[self.pos] in _COLUMN_OPTIONS and not self.at("NULL")
        if opens_value and not is_option:
            if self.dialect.engine in _COLLATED_BEHIND_DEFAULT:
                self.not_collated = self.pos
            node.default = self.expression(COMPARE)
            self.not_collated = -1
            if self.words[first] == "WITH" and self.at("VALUES"):
                self.pos += 1
        elif self.dialect.engine == "db2":
            node.system_default = True
        if self.accept("FOR"):
            self.identifier()
        if self.at("WITH", "VALUES"):
            self.pos += 2
        return True

    def _with(self, node: ColumnDefinition) -> bool:
        following = self.words[self.pos + 1]
        if following == "DEFAULT":
            return self._default(node)
        if following == "TIME":
            return False
        if following in ("SYSTEM", "OPTIONS", "JOB"):
            self.pos += 2
            self.accept("VERSIONING")
            return True
        if following == "(":
            self.pos += 1
            self.skip_parenthesized()
            return True
        return False

    def _without(self, node: ColumnDefinition) -> bool:
        return self.accept("WITHOUT", "SYSTEM", "VERSIONING")

    def _identity(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.pos += 1
        node.identity = "always"
        if self.at("("):
            start = self.pos
            self.skip_parenthesized()
            node.identity += " " + " ".join(self.words[start + 1 : self.pos - 1])
        self.clause("identity-column", first)
        return True

    def _generated(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.pos += 1
        always = self.accept("ALWAYS")
        if not always:
            self.expect("BY", "DEFAULT")
            if self.accept("ON"):
                self.any_word()
        if self.accept("FOR"):
            self.expect("EACH", "ROW", "ON", "UPDATE")
        if not self.accept("AS"):
            return True
        if self.accept("IDENTITY"):
            node.identity = "always" if always else "by default"
            if self.at("("):
                start = self.pos
                self.skip_parenthesized()
                node.identity += " " + " ".join(self.words[start + 1 : self.pos - 1])
        elif self.accept("ROW"):
            self.accept("CHANGE")
            self.any_word()
            self.accept("HIDDEN")
            self.clause("generated-row-time", first)
        elif self.accept("TRANSACTION") or self.accept("TRANSACTION_ID") or self.accept("SEQUENCE_NUMBER"):
            while self.accept_any(("START", "END", "ID")):
                pass
            self.accept("HIDDEN")
            self.clause("generated-row-time", first)
        else:
            self._computed(node)
        return True

    def _computed(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.accept("AS")
        self.expect("(") if self.at("(") else None
        inside = self.words[self.pos - 1] == "("
        node.generated = self.expression()
        if inside:
            self.expect(")")
            # AS (a) * b: what looked like the whole was its first operand.
            if self.words[self.pos] in self.levels and not self.words[self.pos][0].isalpha():
                self.pos = first + 1 if self.words[first] == "AS" else first
                node.generated = self.expression()
        self.clause("computed-column", first)
        return True

    def _on(self, node: ColumnDefinition) -> bool:
        """Read ON UPDATE value, ON NULL, and the filegroup of an inline constraint."""
        first = self.pos
        if self.at("ON", "CONFLICT"):
            self.pos += 3
            self.clause("conflict-clause", first)
            return True
        if self.at("ON", "UPDATE"):
            self.pos += 2
            self.operand()
            self.clause("on-update-column", first)
            return True
        if self.dialect.client is Client.BATCH:
            self.pos += 1
            self.storage_place()
            return True
        return False

    def _collate(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.pos += 1
        self.accept("=")
        if self.is_string():
            self.pos += 1
        else:
            self.any_word()
            while self.accept("."):
                self.any_word()
        self.clause("column-collation", first)
        return True

    def _inline_index(self, node: ColumnDefinition) -> bool:
        """Read INDEX name [options] behind a column."""
        if self.words[self.pos] == "UNIQUE" and self.words[self.pos + 1] != "INDEX":
            return self._inline_constraint(node)
        first = self.pos
        while self.words[self.pos] in ("UNIQUE", "INDEX"):
            self.pos += 1
        self.identifier()
        while self.words[self.pos] in ("UNIQUE", "CLUSTERED", "NONCLUSTERED", "HASH"):
            self.pos += 1
        self.index_tail(set())
        self.clause("inline-index", first)
        return True

    def _inline_constraint(self, node: ColumnDefinition) -> bool:
        first = self.pos
        name = self.identifier() if self.accept("CONSTRAINT") and self._names_constraint() else ""
        if self.words[self.pos] in ("NOT", "NULL"):
            return self._nullability(node)
        if self.words[self.pos] == "DEFAULT":
            node.default_name = name
            return self._default(node)
        if self.words[self.pos] == "GENERATED":
            return self._generated(node)
        if self.words[self.pos] == "WITH":
            return self._with(node)
        if self.words[self.pos] == "COLLATE":
            return self._collate(node)
        constraint = self._constraint_body(first, name, [node.name])
        if constraint.form == "primary key":
            node.nullable = False
        node.constraints.append(constraint)
        return True

    def _compress(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        elif self.accept("USING"):
            self.qualified_name()
            if self.accept("DECOMPRESS"):
                self.expect("USING")
                self.qualified_name()
        elif not self.accept("SYSTEM", "DEFAULT") and (self.kinds[self.pos] in (STRING, NUMBER) or self.at("NULL")):
            self.pos += 1
        self.clause("column-compress", first)
        return True

    def _inline_length(self, node: ColumnDefinition) -> bool:
        if not self.accept("INLINE", "LENGTH"):
            return False
        self.pos += 1
        return True

    def _implicitly_hidden(self, node: ColumnDefinition) -> bool:
        if not self.accept("IMPLICITLY", "HIDDEN"):
            return False
        self.clause("hidden-column", self.pos - 2)
        return True

    def _masked(self, node: ColumnDefinition) -> bool:
        first = self.pos
        self.pos += 1
        if not self.accept("WITH"):
            self.accept("FOR")
        self.skip_parenthesized()
        self.clause("masked-column" if self.words[first] == "MASKED" else "encrypted-column", first)
        return True

    def _column_word_options(self, node: ColumnDefinition) -> bool:
        """Read OPTIONS (...) and SECURED WITH label."""
        first = self.pos
        self.pos += 1
        if self.accept("WITH"):
            self.any_word()
        else:
            self.skip_parenthesized()
        self.clause("column-options", first)
        return True

    def _autoincrement(self, node: ColumnDefinition) -> bool:
        self.pos += 1
        node.identity = "by default"
        self.clause("autoincrement", self.pos - 1)
        return True

    def _off_row(self, node: ColumnDefinition) -> bool:
        """Read IN ROW (n) and OFF ROW."""
        if self.words[self.pos + 1] != "ROW":
            return False
        self.pos += 2
        if self.at("("):
            self.skip_parenthesized()
        return True


_COLUMN_OPTIONS: Final[dict[str, Callable[[ColumnOptionParser, ColumnDefinition], bool]]] = {
    "NOT": ColumnOptionParser._nullability,
    "NULL": ColumnOptionParser._nullability,
    "DEFAULT": ColumnOptionParser._default,
    "WITH": ColumnOptionParser._with,
    "WITHOUT": ColumnOptionParser._without,
    "IDENTITY": ColumnOptionParser._identity,
    "GENERATED": ColumnOptionParser._generated,
    "AS": ColumnOptionParser._computed,
    "ON": ColumnOptionParser._on,
    "COLLATE": ColumnOptionParser._collate,
    "INDEX": ColumnOptionParser._inline_index,
    "UNIQUE": ColumnOptionParser._inline_index,
    "COMPRESS": ColumnOptionParser._compress,
    "INLINE": ColumnOptionParser._inline_length,
    "IMPLICITLY": ColumnOptionParser._implicitly_hidden,
    "MASKED": ColumnOptionParser._masked,
    "ENCRYPTED": ColumnOptionParser._masked,
    "OPTIONS": ColumnOptionParser._column_word_options,
    "SECURED": ColumnOptionParser._column_word_options,
    "AUTOINCREMENT": ColumnOptionParser._autoincrement,
    "IN": ColumnOptionParser._off_row,
    "OFF": ColumnOptionParser._off_row,
    **dict.fromkeys(
        ("CONSTRAINT", "PRIMARY", "CHECK", "REFERENCES", "FOREIGN"), ColumnOptionParser._inline_constraint
    ),
}  # fmt: skip
