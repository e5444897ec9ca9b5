"""Temporary tables and table variables of the T-SQL family as temporary tables of MySQL and MariaDB.

There they live until the session ends, so each is dropped before it is made. Sources: MySQL 8.4 Reference Manual, "CREATE TEMPORARY
TABLE Statement"; MariaDB Server documentation, "CREATE TABLE".
"""

from collections.abc import Callable, Sequence
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.change_parts import add_temporary_names, local_table
from hullsound.sql.tree import (
    ColumnDefinition,
    Comparison,
    ConstraintDefinition,
    CreateTable,
    If,
    Literal,
    Node,
    OtherStatement,
    Query,
    Select,
    TableRef,
    TypeName,
    Variable,
)

from .speech import Lines

_TSQL: Final = ("sqlserver", "ase")
_TARGETS: Final = ("mysql", "mariadb")
_KEYS: Final = {"primary key": "PRIMARY KEY", "unique": "UNIQUE"}


def is_table_variable(node: Node) -> bool:
    return isinstance(node, Variable) and node.type is not None and node.type.name == "TABLE"


class TemporaryTables:
    """The tables that one routine makes for itself."""

    def __init__(self, rewriter: Rewriter, type_text: Callable[[TypeName, Rewriter], str]) -> None:
        self.rewriter, self.type_text = rewriter, type_text
        self.is_known = rewriter.catalog.engine in _TSQL and rewriter.target.engine in _TARGETS

    def prepare(self) -> None:
        """Write the names of the tables, before anything is written."""
        if self.is_known:
            add_temporary_names(self.rewriter, over=True)

    def create(self, node: CreateTable) -> Lines:
        if not self.is_known or node.name[-1][:1] != "#" or node.query is not None:
            raise CannotDraft("a table that the routine makes")
        return self._made(node.name[-1], node.columns, node.constraints)

    def declare(self, node: Variable) -> Lines:
        """Make the table that a table variable is, where it is declared."""
        if not self.is_known:
            raise CannotDraft("a table variable")
        subject = self.rewriter.subject
        columns = subject.read.inside(ColumnDefinition, node.first, node.last)
        own = {each for column in columns for each in column.constraints}
        constraints = [
            each for each in subject.read.inside(ConstraintDefinition, node.first, node.last) if each not in own
        ]
        return self._made(node.name, columns, constraints)

    def fill(self, query: Query, block: Select) -> Lines | None:
        """Write SELECT ... INTO #table; None for a query that fills no such table."""
        into = block.into[0] if len(block.into) == 1 else None
        if not isinstance(into, TableRef) or into.parts[-1][:1] != "#":
            return None
        if not self.is_known:
            raise CannotDraft("a table that the routine makes")
        name = self._name(into.parts[-1])
        head = self.rewriter.text(query.first, into.first - 1).strip()
        rest = self.rewriter.text(into.last, query.last).strip()
        return [self._dropped(name), f"CREATE TEMPORARY TABLE {name} AS {head} {rest};"]

    def change(self, node: OtherStatement) -> Lines | None:
        """Write DROP TABLE and TRUNCATE TABLE of such tables; None for another statement."""
        name = node.name[-1] if node.name else ""
        if not self.is_known or name[:1] != "#":
            return None
        if node.words == "drop table":
            return [self._dropped(self._name(name))]
        return [f"DELETE FROM {self._name(name)};"] if node.words == "truncate table" else None

    def guards(self, node: If) -> bool:
        """Whether an IF does nothing but drop a temporary table that may be there, as dropping it does by itself."""
        (condition, body), *more = node.branches
        asked = condition.operands[0] if isinstance(condition, Comparison) and condition.operator == "IS NULL" else None
        argument = next(iter(getattr(asked, "arguments", [])), None)
        is_lookup = getattr(asked, "parts", ()) == ("OBJECT_ID",) and isinstance(argument, Literal)
        if more or node.otherwise or not is_lookup or not self.is_known:
            return False
        inner = [each for statement in body for each in getattr(statement, "body", [statement])]
        return all(isinstance(each, OtherStatement) and self.change(each) is not None for each in inner)

    def _name(self, name: str) -> str:
        return self.rewriter.names.write(local_table(name))

    def _dropped(self, name: str) -> str:
        return f"DROP TEMPORARY TABLE IF EXISTS {name};"

    def _made(
        self, name: str, columns: Sequence[ColumnDefinition], constraints: Sequence[ConstraintDefinition]
    ) -> Lines:
        write, made = self.rewriter.names.write, self._name(name)
        keyed: set[str] = set()
        lines, keys = [], []
        for column in columns:
            lines.append(self._column(column))
            keys += [self._key(each, [column.name], keyed) for each in column.constraints]
        keys += [self._key(each, list(each.columns), keyed) for each in constraints]
        keys += [f"KEY ({write(each.name)})" for each in columns if each.identity and each.name not in keyed]
        inside = ", ".join([*lines, *keys])
        return [self._dropped(made), f"CREATE TEMPORARY TABLE {made} ({inside});"]

    def _column(self, column: ColumnDefinition) -> str:
        if column.type is None or column.generated is not None:
            raise CannotDraft("a computed column of a temporary table")
        text = f"{self.rewriter.names.write(column.name)} {self.type_text(column.type, self.rewriter)}"
        text += "" if column.nullable else " NOT NULL"
        if column.identity:
            return f"{text} AUTO_INCREMENT"
        return text if column.default is None else f"{text} DEFAULT ({self.rewriter.elsewhere(column.default)})"

    def _key(self, constraint: ConstraintDefinition, columns: list[str], keyed: set[str]) -> str:
        kind = _KEYS.get(constraint.form)
        if kind is None:
            raise CannotDraft(f"a {constraint.form} constraint of a temporary table")
        keyed |= set(columns[:1])
        return f"{kind} ({', '.join(map(self.rewriter.names.write, columns))})"
