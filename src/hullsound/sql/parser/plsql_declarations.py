"""Declarations of PL/SQL: variables, cursors, types, pragmas."""

from hullsound.sql.levels import COMPARE
from hullsound.sql.parser.blocks import BlockParser
from hullsound.sql.tree import (
    CursorDeclaration,
    ExceptionDeclaration,
    Node,
    Parameter,
    Pragma,
    Query,
    Row,
    Subquery,
    TypeDeclaration,
    Variable,
)


class DeclarationParser(BlockParser):
    """Reads what a block or package declares."""

    def _parameters(self) -> list[Parameter]:
        self.expect("(")
        parameters = [self._parameter()]
        while self.accept(","):
            parameters.append(self._parameter())
        self.expect(")")
        return parameters

    def _parameter(self) -> Parameter:
        first = self.pos
        name = self.identifier()
        mode = "in"
        if self.accept("IN"):
            mode = "in out" if self.accept("OUT") else "in"
        elif self.accept("OUT"):
            mode = "out"
        nocopy = self.accept("NOCOPY")
        kind = self.type_name()
        default = None
        if self.accept_any((":=", "DEFAULT")):
            default = self.expression()
        node = Parameter(first, self.pos, name, mode, kind, default, nocopy)
        self.nodes.append(node)
        return node

    def _variable(self) -> Node:
        first = self.pos
        name = self.identifier()
        node: Node
        if self.accept("EXCEPTION"):
            node = ExceptionDeclaration(first, self.pos, name)
        else:
            constant = self.accept("CONSTANT")
            kind = self.type_name()
            if self.accept("NOT"):
                self.expect("NULL")
            default = self.expression() if self.accept_any((":=", "DEFAULT")) else None
            node = Variable(first, self.pos, name, kind, constant, default)
        self.nodes.append(node)
        return node

    def _cursor(self) -> Node:
        first = self.expect("CURSOR")
        name = self.identifier()
        parameters = self._parameters() if self.at("(") else []
        if self.accept("RETURN"):
            self.type_name()
        is_at = self.pos
        query: Query | None = None
        if self.accept("IS"):
            if self.at("("):
                subquery = self.operand()
                query = subquery.query if isinstance(subquery, Subquery) else None
            else:
                query = self.query()
        node = CursorDeclaration(first, self.pos, name, parameters, query, is_at)
        self.nodes.append(node)
        return node

    def _pragma(self) -> Node:
        first = self.expect("PRAGMA")
        name = self.any_word()
        arguments: list[Node] = []
        if self.accept("("):
            while not self.at(")"):
                arguments.append(self.operand() if not self.at("DEFAULT") else self._prefix_word())
                self.accept(",")
            self.expect(")")
        node = Pragma(first, self.pos, name, arguments)
        self.nodes.append(node)
        return node

    def _prefix_word(self) -> Node:
        first = self.pos
        self.pos += 1
        return Row(first, self.pos, [])

    def _type_declaration(self) -> Node:
        first = self.expect("TYPE")
        name = self.identifier()
        self.expect("IS")
        node = TypeDeclaration(first, first, name, "", [], None)
        if self.accept("RECORD"):
            node.form = "record"
            self.expect("(")
            while True:
                field = self.identifier()
                kind = self.type_name()
                if self.accept("NOT"):
                    self.expect("NULL")
                if self.accept_any((":=", "DEFAULT")):
                    self.expression()
                node.fields.append((field, kind))
                if not self.accept(","):
                    break
            self.expect(")")
        elif self.accept("REF", "CURSOR"):
            node.form = "ref cursor"
            if self.accept("RETURN"):
                node.element = self.type_name()
        elif self.accept("TABLE", "OF"):
            node.form = "table"
            node.element = self.type_name()
            self.accept("NOT", "NULL")
            if self.accept("INDEX", "BY"):
                self.type_name()
                node.form = "associative"
        elif self.accept("VARRAY") or self.accept("VARYING", "ARRAY"):
            node.form = "varray"
            self.skip_parenthesized()
            self.expect("OF")
            node.element = self.type_name()
            self.accept("NOT", "NULL")
        else:
            self.fail("RECORD, TABLE, VARRAY or REF CURSOR")
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _subtype(self) -> Node:
        first = self.expect("SUBTYPE")
        name = self.identifier()
        self.expect("IS")
        element = self.type_name()
        if self.accept("RANGE"):
            self.expression(COMPARE)
            self.expect("..")
            self.expression(COMPARE)
        self.accept("NOT", "NULL")
        node = TypeDeclaration(first, self.pos, name, "subtype", [], element)
        self.nodes.append(node)
        return node
