"""Temporary tables and table variables of the T-SQL family as temporary tables of the target.

Those of MySQL and MariaDB live until the session ends, so each is dropped before it is made. Those of Oracle are there for all
sessions, each of which sees rows of its own: one is created before the routine, and emptied where the source makes it.
Sources: MySQL 8.4 Reference Manual, "CREATE TEMPORARY TABLE Statement"; MariaDB Server documentation, "CREATE TABLE"; Oracle
Database 19c, "SQL Language Reference", CREATE TABLE, GLOBAL TEMPORARY.
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

from .speech import Lines, Unit

_TSQL: Final = ("sqlserver", "ase")
_TARGETS: Final = ("mysql", "mariadb", "oracle")
_KEYS: Final = {"primary key": "PRIMARY KEY", "unique": "UNIQUE"}


def is_table_variable(node: Node) -> bool:
    return isinstance(node, Variable) and node.type is not None and node.type.name == "TABLE"


class TemporaryTables:
    """The tables that one routine makes for itself."""

    def __init__(
        self,
        rewriter: Rewriter,
        unit: Unit,
        type_text: Callable[[TypeName, Rewriter], str],
        titled: Callable[[Query], list[tuple[str, str]]],
    ) -> None:
        self.rewriter, self.unit, self.type_text, self.titled = rewriter, unit, type_text, titled
        self.is_known = rewriter.catalog.engine in _TSQL and rewriter.target.engine in _TARGETS
        self.is_shared = rewriter.target.engine == "oracle"
        """Whether the tables are created beside the routine, and only their rows belong to a session."""

    def prepare(self) -> None:
        """Write the names of the tables, before anything is written."""
        if self.is_known:
            add_temporary_names(self.rewriter, over=True, named=self._name)

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
        if self.is_shared:
            self._refuse_in_functions()
            columns = self.titled(query)
            inside = ", ".join(f"{self.rewriter.names.write(title)} {kind}" for title, kind in columns)
            titles = ", ".join(self.rewriter.names.write(title) for title, _ in columns)
            return [*self._shared(name, inside), f"INSERT INTO {name} ({titles}) {head} {rest};"]
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
        names, owner = self.rewriter.names, self.rewriter.catalog.objects.get(self.rewriter.owner)
        if not self.is_shared or owner is None:
            return names.write(local_table(name))
        return names.qualified(*((owner.schema,) if owner.schema else ()), f"{local_table(name)}_{owner.name}")

    def _dropped(self, name: str) -> str:
        return f"DELETE FROM {name};" if self.is_shared else f"DROP TEMPORARY TABLE IF EXISTS {name};"

    def _shared(self, name: str, inside: str) -> Lines:
        """Create a table beside the routine, and empty it where the source makes it."""
        made = f"CREATE GLOBAL TEMPORARY TABLE {name} ({inside}) ON COMMIT PRESERVE ROWS;"
        if any(name in each for each in self.unit.before):
            raise CannotDraft("a temporary table that is made twice")
        self.unit.before.append(made)
        self.unit.changes = True
        return [self._dropped(name)]

    def _refuse_in_functions(self) -> None:
        if self.unit.form != "procedure":
            raise CannotDraft("a temporary table in a function or trigger, where no rows may be changed")

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
        if self.is_shared:
            self._refuse_in_functions()
            return self._shared(made, ", ".join([*lines, *keys]))
        keys += [f"KEY ({write(each.name)})" for each in columns if each.identity and each.name not in keyed]
        inside = ", ".join([*lines, *keys])
        return [self._dropped(made), f"CREATE TEMPORARY TABLE {made} ({inside});"]

    def _column(self, column: ColumnDefinition) -> str:
        if column.type is None or column.generated is not None:
            raise CannotDraft("a computed column of a temporary table")
        text = f"{self.rewriter.names.write(column.name)} {self.type_text(column.type, self.rewriter)}"
        if self.is_shared and column.identity:
            raise CannotDraft("a temporary table that numbers its rows")
        default = f" DEFAULT ({self.rewriter.elsewhere(column.default)})" if column.default is not None else ""
        if self.is_shared:  # which asks for the default first
            return f"{text}{default}{'' if column.nullable else ' NOT NULL'}"
        text += "" if column.nullable else " NOT NULL"
        return f"{text} AUTO_INCREMENT" if column.identity else f"{text}{default}"

    def _key(self, constraint: ConstraintDefinition, columns: list[str], keyed: set[str]) -> str:
        kind = _KEYS.get(constraint.form)
        if kind is None:
            raise CannotDraft(f"a {constraint.form} constraint of a temporary table")
        keyed |= set(columns[:1])
        return f"{kind} ({', '.join(map(self.rewriter.names.write, columns))})"
