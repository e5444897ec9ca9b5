"""Calls of the T-SQL family: EXECUTE with its arguments."""

from hullsound.sql.lexer import END, NUMBER, WORD
from hullsound.sql.parser.tsql_cursors import TsqlCursorParser
from hullsound.sql.tree import (
    Execute,
    NamedArgument,
    Node,
    Parts,
)


class TsqlCallParser(TsqlCursorParser):
    """Reads calls of procedures and of texts."""

    def execute(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.at("AS") and self.words[self.pos + 1] in ("USER", "LOGIN", "CALLER", "OWNER", "SELF"):
            return self.whole_statement(first, "execute as")
        if self.at("("):
            self.pos += 1
            text = self.expression()
            arguments: list[Node] = []
            while self.accept(","):
                arguments.append(self._argument())
            self.expect(")")
            if self.accept("AS"):
                self.any_word()
                self.expect("=")
                self._step()
            if self.accept("AT"):
                self.any_word()
                self.clause("execute-at", first)
            node = Execute(first, self.pos, (), arguments, text)
            self.nodes.append(node)
            return node
        if self.kinds[self.pos] == WORD and self.words[self.pos + 1] == "=" and self.words[self.pos][:1] == "@":
            self.pos += 2
        return self._call_body(first)

    def _call_body(self, first: int) -> Node:
        """Read name [arguments] [WITH options]."""
        if self.is_string():
            self.pos += 1
            routine: Parts = ()
        else:
            while self.accept("."):
                pass
            routine = self.qualified_name()
        if self.accept(";"):  # the number of a procedure in its group
            if self.kinds[self.pos] == NUMBER:
                self.pos += 1
            else:
                self.pos -= 1
        arguments: list[Node] = []
        if not self._ends_arguments():
            arguments.append(self._argument())
            while self.accept(","):
                arguments.append(self._argument())
        if self.words[self.pos] == "WITH" and self.words[self.pos + 1] in ("RECOMPILE", "RESULT"):
            self.pos += 2
            if self.accept("SETS"):
                self.skip_parenthesized() if self.at("(") else self.any_word()
            self.clause("execute-with", first)
        text = None
        if routine and routine[-1] == "SP_EXECUTESQL" and arguments:
            text = arguments[0].value if isinstance(arguments[0], NamedArgument) else arguments[0]
        node = Execute(first, self.pos, routine, arguments, text)
        self.nodes.append(node)
        return node

    def _ends_arguments(self) -> bool:
        word = self.words[self.pos]
        return (
            self.kinds[self.pos] == END or word in (";", ")") or (word in self.reserved and word not in ("NULL", "DEFAULT", "NOT"))
            or self.ends_definition()
        )  # fmt: skip

    def _argument(self) -> Node:
        first = self.pos
        name = ""
        if self.words[first + 1] == "=" and self.words[first][:1] == "@":
            name = self.identifier()
            self.pos += 1
        if self.at("DEFAULT"):
            self.pos += 1
            value: Node = self._plain(self.pos - 1, "default")
        elif self.kinds[self.pos] == WORD and self.words[self.pos][:1] not in ("@",) and self.words[self.pos] in (
            "ON", "OFF", "NONE",
        ):  # fmt: skip
            value = self._plain(self.pos, "word")
            self.pos += 1
        else:
            value = self.expression()
        self.accept_any(("OUTPUT", "OUT"))
        if not name:
            return value
        node = NamedArgument(first, self.pos, name, value)
        self.nodes.append(node)
        return node
