"""Constraints and generated columns of Oracle."""

from typing import Final

from hullsound.sql.lexer import WORD
from hullsound.sql.parser.properties import STATE_WORDS, PropertyParser
from hullsound.sql.parser.table_changes import TableChangeParser
from hullsound.sql.tree import (
    ColumnDefinition,
    ConstraintDefinition,
)

_STORAGE: Final = {
    # word -> number of words or values that follow it
    **dict.fromkeys(("LOGGING", "NOLOGGING", "CACHE", "NOCACHE", "MONITORING", "NOMONITORING", "NOPARALLEL",
                     "NOCOMPRESS", "ROWDEPENDENCIES", "NOROWDEPENDENCIES", "FILESYSTEM_LIKE_LOGGING"), 0),
    **dict.fromkeys(("PCTFREE", "PCTUSED", "INITRANS", "MAXTRANS", "TABLESPACE", "PCTTHRESHOLD", "PCTVERSION",
                     "CHUNK", "FREEPOOLS"), 1),
}  # fmt: skip


class OracleConstraintParser(TableChangeParser, PropertyParser):
    """Reads constraints, and values that columns generate."""

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
            node.default_on_null = True
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
            elif word in STATE_WORDS:
                self.pos += 1
                if word == "DISABLE":
                    node.disabled = True
                    self.clause("disabled-constraint", first)
                elif word == "NOVALIDATE":
                    node.not_validated = True
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
