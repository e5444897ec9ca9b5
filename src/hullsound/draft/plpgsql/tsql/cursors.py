"""Cursors of Transact-SQL: those that are declared with their query, and variables that get one."""

from typing import TYPE_CHECKING, Final

from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.edits.variables import FETCH_STATUS
from hullsound.draft.plpgsql.fetches import keeping, kept_targets
from hullsound.sql.tree import CloseCursor, CursorDeclaration, Fetch, Name, Node, OpenCursor, Variable

if TYPE_CHECKING:
    from .statements import TsqlCode

_DIRECTIONS: Final = ("NEXT", "PRIOR", "FIRST", "LAST", "ABSOLUTE", "RELATIVE")


class Cursors:
    """The cursors of one body, by their names."""

    def __init__(self, code: "TsqlCode") -> None:
        self.code = code
        self.rewriter = code.rewriter
        self.declared: dict[str, list[CursorDeclaration]] = {}
        for cursor in code.rewriter.subject.all(CursorDeclaration):
            self.declared.setdefault(cursor.name, []).append(cursor)
        self.moving = {
            fetch.cursor.parts[-1]
            for fetch in code.rewriter.subject.all(Fetch)
            if isinstance(fetch.cursor, Name) and self._direction(fetch)[0] != "NEXT"
        }
        """Cursors from which rows are fetched in any order."""

    def declarations(self) -> list[str]:
        """Return the lines of DECLARE: a cursor with its query, or a variable that is opened for its query."""
        lines = []
        for name, cursors in self.declared.items():
            if name.startswith("@"):
                continue
            for query in (cursor.query for cursor in cursors):
                if query is not None:
                    scroll = "SCROLL " if name in self.moving else ""
                    written = self.rewriter.names.write(name)
                    lines.append(f"{written} {scroll}CURSOR FOR {self.rewriter.elsewhere(query)};")
        variables = (each for each in self.rewriter.subject.all(Variable) if each.type.name == "CURSOR")
        return [*lines, *(f"{self.code.variables.write(variable.name)} refcursor;" for variable in variables)]

    def declare(self, node: CursorDeclaration) -> str:
        """Write nothing: the query of a variable is read where the variable is opened, as in the source."""
        if len(self.declared[node.name]) > 1 and node.name.startswith("@"):
            raise CannotDraft("a cursor variable that gets several queries")
        return ""

    def open(self, node: OpenCursor) -> str:
        name = self._name(node.cursor)
        if not self._is_variable(node.cursor):
            return f"OPEN {name}"
        assert isinstance(node.cursor, Name)
        cursor = self.declared[node.cursor.parts[-1]][0]
        if cursor.query is None or cursor.first > node.first:
            raise CannotDraft("a cursor variable that gets its query later")
        scroll = "SCROLL " if cursor.name in self.moving else "NO SCROLL "
        return f"OPEN {name} {scroll}FOR {self.rewriter.elsewhere(cursor.query)}"

    def fetch(self, node: Fetch) -> str:
        if not node.into:
            raise CannotDraft("FETCH that gives its row to the caller")
        word, count = self._direction(node)
        direction = "" if word == "NEXT" else f"{word}{count} FROM "
        text = f"FETCH {direction}{self._name(node.cursor)} INTO {self.rewriter.nodes(node.into)}"
        kept = [self.rewriter.node(each) for each in kept_targets(node, self.rewriter)]
        text = keeping(text, kept) if kept else text
        if self.code.asks_fetch_status:
            text += f"; {FETCH_STATUS} := CASE WHEN FOUND THEN 0 ELSE -1 END"
        return text

    def close(self, node: CloseCursor) -> str:
        if self.code.words[node.first] == "DEALLOCATE":
            return ""
        return f"CLOSE {self._name(node.cursor)}"

    def _direction(self, node: Fetch) -> tuple[str, str]:
        """Return the word that says which row is fetched, and the number behind it with a blank before it."""
        words = self.code.words
        word = words[node.first + 1]
        if word not in _DIRECTIONS or words[node.first + 2] == "INTO":
            return "NEXT", ""
        if word not in ("ABSOLUTE", "RELATIVE"):
            return word, ""
        end = node.cursor.first
        while words[end - 1] in ("FROM", "GLOBAL"):
            end -= 1
        return word, f" {self.rewriter.text(node.first + 2, end)}"

    def _is_variable(self, node: Node) -> bool:
        return isinstance(node, Name) and node.parts[-1].startswith("@")

    def _name(self, node: Node) -> str:
        if not isinstance(node, Name) or node.parts[-1] not in self.declared:
            raise CannotDraft("a cursor that is declared elsewhere")
        if self._is_variable(node):
            return self.code.variables.write(node.parts[-1])
        return self.rewriter.names.write(node.parts[-1])
