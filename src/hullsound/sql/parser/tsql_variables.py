"""Variables of the T-SQL family: declared, set, and settings of the session."""

from hullsound.sql.lexer import NUMBER, STRING, WORD
from hullsound.sql.parser.tsql_calls import TsqlCallParser
from hullsound.sql.tree import (
    Assign,
    ColumnDefinition,
    Node,
    Operation,
    PlainStatement,
    TypeName,
    Variable,
)


class TsqlVariableParser(TsqlCallParser):
    """Reads DECLARE and SET."""

    def _declare(self) -> Node:
        first = self.expect("DECLARE")
        if self.words[self.pos][:1] != "@":
            return self._declare_cursor(first)
        node: Node = self._variable()
        while self.accept(","):
            node = self._variable()
        declaration = PlainStatement(first, self.pos, "declare", node)
        self.nodes.append(declaration)
        return declaration

    def _variable(self) -> Variable:
        first = self.pos
        name = self.identifier()
        self.accept("AS")
        default = None
        if self.at("TABLE"):
            start = self.pos
            self.pos += 1
            kind = TypeName(start, self.pos, "TABLE")
            columns: list[ColumnDefinition] = []
            self.table_elements(columns, [], [])
            self.nodes.append(kind)
            self.clause("table-variable", first)
        else:
            kind = self.type_name()
            if self.accept("="):
                default = self.expression()
        node = Variable(first, self.pos, name, kind, False, default)
        self.nodes.append(node)
        return node

    def _set(self) -> Node:
        first = self.expect("SET")
        is_own = self.words[self.pos][:2] == "@@" and self.words[self.pos + 1][-1:] == "="
        if self.words[self.pos][:1] == "@" and (self.words[self.pos][:2] != "@@" or is_own):
            return self._assignment(first)
        start = self.pos
        while self.kinds[self.pos] == WORD and self.words[self.pos] not in ("ON", "OFF") and not self.ends_definition():
            self.pos += 1
            if self.words[self.pos] == ",":
                self.pos += 1
            if self.words[self.pos] == ".":
                self.pos += 2
        if self.pos == start:
            self.fail("an option")
        name = " ".join(self.words[start : min(self.pos, start + 3)]).lower()
        while self.words[self.pos] in ("ON", "OFF", ",", "-", "+") or self.kinds[self.pos] in (NUMBER, STRING):
            self.pos += 1
        if self.words[self.pos][:1] == "@" and self.pos == start + 1:
            self.pos += 1
        return self.other_statement(first, f"set {name}")

    def _assignment(self, first: int) -> Node:
        target = self.operand()
        if self.at("=", "CURSOR"):
            self.pos += 2
            cursor = self._cursor_body(first, self.words[first + 1], self.pos - 1)
            self.clause("cursor-variable", first)
            return cursor
        operator = self.accept_any(("=", "+=", "-=", "*=", "/=", "%=", "&=", "|=", "^="))
        if operator:
            value = self.expression()
            if operator != "=":
                value = Operation(first, self.pos, [operator[0]], [target, value])
                self.nodes.append(value)
            if self.accept(","):  # ASE sets several at once
                self._assignment(self.pos)
        else:
            value = target
        node = Assign(first, self.pos, target, value)
        self.nodes.append(node)
        return node
