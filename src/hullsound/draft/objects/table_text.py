"""Brings the text of a CREATE TABLE up to the state that later statements left, for targets that read the same language."""

import re
from collections.abc import Callable
from typing import Final

from hullsound.catalog.definitions import data_type, serial_identity
from hullsound.catalog.model import Column, Object, shown
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.sql.dialect import load_dialect
from hullsound.sql.edit import Edit
from hullsound.sql.lexer import QUOTED, WORD
from hullsound.sql.literals import string_literal
from hullsound.sql.parser.core import Core
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import ColumnDefinition, CreateTable

IDENTITY_OPTION: Final = re.compile(r"(START WITH|INCREMENT BY|MINVALUE|MAXVALUE|CACHE) (- ?)?(\d+)")
_WITH_COMMENTS: Final = frozenset(("mysql", "mariadb"))
_LATER: Final = "draft.later-change"
"""In whose name all edits are made."""
Named = Callable[..., str]
"""Writes a name, or a name with its qualifiers, as the engine quotes it."""


class TableText:
    """The edits on the text of one table."""

    def __init__(
        self, read: ReadStatement, tree: CreateTable, item: Object, engine: str, named: Named, spelled: str,
        key: frozenset[str],
    ) -> None:  # fmt: skip
        self.key = key
        """Columns of the primary key, which need no NOT NULL."""
        self.read = read
        self.tree = tree
        self.item = item
        self.engine = engine
        self.named = named
        self.spelled = spelled
        """The name of the table as the source writes it."""
        self.renamed = _pairs(item.details.get("renamed columns", ""))
        self.dropped = set(filter(None, item.details.get("dropped columns", "").split("\t")))
        self.edits: list[Edit] = []
        self._done: list[range] = []
        """Tokens whose text is settled."""

    def edits_for(self) -> list[Edit]:
        """Return the edits. Raises CannotDraft where the text cannot follow."""
        if "dropped parts" in self.item.details:
            raise CannotDraft("a later statement drops keys that the text of the table holds")
        self._rename_table()
        last = {column.name: column for column in self.item.columns}
        for node in self.tree.columns:
            if node.name in self.dropped:
                self._drop(node)
            elif (column := last.get(self.renamed.get(node.name, node.name))) is not None:
                self._settle(node, column)
        self._other_places()
        self._check_order()
        self._add_columns()
        return sorted(self.edits, key=lambda edit: edit.start)

    def _replace(self, first: int, last: int, text: str) -> None:
        starts, ends = self.read.tokens.starts, self.read.tokens.ends
        self._done.append(range(first, last))
        self.edits.append(Edit(starts[first], ends[last - 1], text, _LATER))

    def _rename_table(self) -> None:
        if self.tree.name[-1] == self.item.name:
            return
        words = self.read.tokens.words
        first = next(i for i in range(self.tree.first, self.tree.last) if words[i] == "TABLE") + 1
        while words[first] in ("IF", "NOT", "EXISTS"):
            first += 1
        self._replace(first, first + 2 * len(self.tree.name) - 1, self.spelled)

    def _drop(self, node: ColumnDefinition) -> None:
        words = self.read.tokens.words
        first, last = node.first, node.last
        if words[last] == ",":
            last += 1
        elif words[first - 1] == ",":
            first -= 1
        self._replace(first, last, "")

    def _settle(self, node: ColumnDefinition, column: Column) -> None:
        is_same_type = str(data_type(node.type)) == str(column.type)
        default = self.read.tokens.source(node.default.first, node.default.last) if node.default is not None else ""
        is_same_null = node.nullable == column.nullable or column.name in self.key or bool(column.identity)
        own_identity = node.identity or serial_identity(node.type, self.engine)
        is_same_identity = bool(own_identity) == bool(column.identity)
        if column.definition:
            self._replace(node.first, node.last, column.definition + self._own_keys(node, column))
        elif not (is_same_type and default == column.default and is_same_null and is_same_identity):
            if node.constraints or node.identity or node.generated is not None:
                raise CannotDraft(f"a later statement changes its column {shown(column.name)}")
            self._replace(node.first, node.last, self.definition(column))
        elif column.name != node.name:
            self._replace(node.first, node.first + 1, self.named(column.name))

    def _own_keys(self, node: ColumnDefinition, column: Column) -> str:
        """Return the keys that a column's definition holds, which one that replaces it does not take away."""
        keys = ""
        for constraint in node.constraints:
            if constraint.form not in ("primary key", "unique"):
                raise CannotDraft(
                    f"a later statement changes its column {shown(column.name)}, which has a {constraint.form}"
                )
            text = "PRIMARY KEY" if constraint.form == "primary key" else "UNIQUE"
            keys += f" {text}" if text not in column.definition.upper() else ""
        return keys

    def _other_places(self) -> None:
        """Follow changed names in keys, checks and parts; text that names a dropped column cannot stay."""
        names = {*self.renamed, *self.dropped}
        if not names:
            return
        tokens = self.read.tokens
        reader = Core(tokens, load_dialect(self.engine), 0)
        for at in range(self.tree.first, self.tree.last):
            if tokens.kinds[at] not in (WORD, QUOTED) or any(at in done for done in self._done):
                continue
            reader.pos = at
            name = reader.any_word()
            if name in self.dropped:
                raise CannotDraft(f"a later statement drops its column {shown(name)}, which a key or check names")
            if name in names:
                self._replace(at, at + 1, self.named(self.renamed[name]))

    def _add_columns(self) -> None:
        written = {self.renamed.get(column.name, column.name) for column in self.tree.columns}
        added = [column for column in self.item.columns if column.name not in written]
        if not added:
            return
        clauses = ", ".join(
            f"ADD COLUMN {column.definition or self.definition(column)}{self._place(column, written)}"
            for column in added
        )
        end = len(self.item.text.rstrip().rstrip(";"))
        change = f";\nALTER TABLE {self.spelled} {clauses};"
        self.edits.append(Edit(end, len(self.item.text), change, _LATER))

    def _check_order(self) -> None:
        """Raise CannotDraft where a later statement moves a column that the text of the table has."""
        written = [
            name for node in self.tree.columns if (name := self.renamed.get(node.name, node.name)) not in self.dropped
        ]
        if written != [column.name for column in self.item.columns if column.name in written]:
            raise CannotDraft("a later statement moves one of its columns")

    def _place(self, column: Column, written: set[str]) -> str:
        """Return where an added column stands, if it is not at the end; only MySQL and MariaDB can say so."""
        at = self.item.columns.index(column)
        if not any(each.name in written for each in self.item.columns[at + 1 :]) or self.engine not in (
            "mysql",
            "mariadb",
        ):
            return ""
        return f" AFTER {self.named(self.item.columns[at - 1].name)}" if at else " FIRST"

    def definition(self, column: Column) -> str:
        """Write a column from the catalogue. Raises CannotDraft for one that counts by itself."""
        default = f" DEFAULT {column.default}" if column.default else ""
        if column.identity and self.engine != "postgresql":
            raise CannotDraft(f"a later statement changes or adds its identity column {shown(column.name)}")
        if column.identity:
            options = " ".join(f"{m[1]} {'-' if m[2] else ''}{m[3]}" for m in IDENTITY_OPTION.finditer(column.identity))
            when = "ALWAYS" if column.identity.startswith("always") else "BY DEFAULT"
            default = f" GENERATED {when} AS IDENTITY" + (f" ({options})" if options else "")
        if column.generated:
            default = f" GENERATED ALWAYS AS ({column.generated}) STORED"
        is_said = column.comment and self.engine in _WITH_COMMENTS
        comment = f" COMMENT {string_literal(column.comment, self.engine)}" if is_said else ""
        return f"{self.named(column.name)} {column.type}{'' if column.nullable else ' NOT NULL'}{default}{comment}"


def _pairs(text: str) -> dict[str, str]:
    """Read names before and after, following those that were changed several times."""
    pairs: dict[str, str] = {}
    for line in filter(None, text.split("\n")):
        old, _, new = line.partition("\t")
        first = next((key for key, value in pairs.items() if value == old), old)
        pairs[first] = new
    return pairs
