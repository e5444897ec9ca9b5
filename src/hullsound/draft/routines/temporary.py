"""Temporary tables that routines make, and table variables of T-SQL, as temporary tables of the target.

Those of MySQL and MariaDB live until the session ends, so each is dropped before it is made. Those of SQL Server end with the
routine. Those of Oracle are there for all sessions, each of which sees rows of its own: one is created before the routine, and
emptied where the source makes it.
Sources: MySQL 8.4 Reference Manual, "CREATE TEMPORARY TABLE Statement"; MariaDB Server documentation, "CREATE TABLE"; Oracle
Database 19c, "SQL Language Reference", CREATE TABLE, GLOBAL TEMPORARY; Transact-SQL reference, "CREATE TABLE", "Temporary
tables"; Db2 for LUW 11.5, DECLARE GLOBAL TEMPORARY TABLE; PostgreSQL 18, CREATE TABLE, TEMPORARY.
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
    Name,
    Node,
    OtherStatement,
    PlainStatement,
    Query,
    Select,
    TableRef,
    TypeName,
    Variable,
)

from .speech import Lines, Unit

_TSQL: Final = ("sqlserver", "ase")
_TARGETS: Final = ("mysql", "mariadb", "oracle", "sqlserver")
_SESSION: Final = "SESSION"
"""Schema under which Db2 names its declared tables."""
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
        self.is_tsql = rewriter.catalog.engine in _TSQL
        self.is_known = rewriter.target.engine in (_TARGETS[:3] if self.is_tsql else _TARGETS)
        self.own = (
            () if self.is_tsql else {each.name[-1] for each in rewriter.subject.all(CreateTable) if each.temporary}
        )
        """Names of the tables that the routine makes, which those of T-SQL tell by their first letter."""
        self.is_shared = rewriter.target.engine == "oracle"
        """Whether the tables are created beside the routine, and only their rows belong to a session."""

    def prepare(self) -> None:
        """Write the names of the tables, before anything is written."""
        if self.is_known and self.is_tsql:
            add_temporary_names(self.rewriter, over=True, named=self._name)
        for table in self.rewriter.subject.all(TableRef) if self.is_known and self.own else ():
            if self._is_own(table.parts):
                self.rewriter.put_over(table.first, table.first + 2 * len(table.parts) - 1, self._name(table.parts[-1]))
        for name in self.rewriter.subject.all(Name) if self.is_known and self.own else ():
            if len(name.parts) > 1 and self._is_own(name.parts[:-1]) and not self._is_alias(name.parts[0]):
                self.rewriter.put_over(name.first, name.last - 2, self._name(name.parts[-2]))

    def _is_own(self, parts: Sequence[str]) -> bool:
        """Whether a name means a table that the routine makes."""
        if self.is_tsql:
            return parts[-1][:1] == "#"
        return parts[-1] in self.own and tuple(parts[:-1]) in ((), (_SESSION,))

    def _is_alias(self, name: str) -> bool:
        return any(each.alias == name for each in self.rewriter.subject.all(TableRef))

    def create(self, node: CreateTable) -> Lines:
        if not self.is_known or not self._is_own(node.name):
            raise CannotDraft("a table that the routine makes")
        if node.if_absent and not self._is_dropped(node.name[-1]):
            raise CannotDraft("a temporary table that may still hold the rows of an earlier call")
        if node.temporary == "delete rows" and self._commits():
            raise CannotDraft("a temporary table that COMMIT empties")
        if node.query is not None and (node.columns or self.is_tsql):
            raise CannotDraft("a temporary table with both columns and a query, or of a query in Transact-SQL")
        if node.query is not None:
            return self._from_query(node.name[-1], node.query)
        return self._made(node.name[-1], node.columns, node.constraints)

    def _is_dropped(self, name: str) -> bool:
        statements = self.rewriter.subject.all(OtherStatement)
        return any(each.words == "drop table" and each.name and each.name[-1] == name for each in statements)

    def _commits(self) -> bool:
        return any(each.words == "commit" for each in self.rewriter.subject.all(PlainStatement))

    def _from_query(self, name: str, query: Query) -> Lines:
        """Write CREATE TEMPORARY TABLE name AS query."""
        made = self._name(name)
        if self.is_shared:
            return self._filled(made, query, self.rewriter.node(query).strip())
        if self.rewriter.target.engine != "sqlserver":
            return [self._dropped(made), f"CREATE TEMPORARY TABLE {made} AS {self.rewriter.node(query).strip()};"]
        self._refuse_in_functions()
        if query.common or query.order:
            raise CannotDraft("a temporary table of a query with an order or common tables")
        columns = [self.rewriter.names.write(title) for title, _ in self.titled(query)]
        text = f"SELECT {', '.join(columns)} INTO {made} FROM ({self.rewriter.node(query).strip()}) AS hs_rows;"
        return [self._dropped(made), text]

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
            return self._filled(name, query, f"{head} {rest}")
        return [self._dropped(name), f"CREATE TEMPORARY TABLE {name} AS {head} {rest};"]

    def _filled(self, name: str, query: Query, text: str) -> Lines:
        """Fill a table that is created beside the routine."""
        self._refuse_in_functions()
        columns = self.titled(query)
        inside = ", ".join(f"{self.rewriter.names.write(title)} {kind}" for title, kind in columns)
        titles = ", ".join(self.rewriter.names.write(title) for title, _ in columns)
        return [*self._shared(name, inside), f"INSERT INTO {name} ({titles}) {text};"]

    def change(self, node: OtherStatement) -> Lines | None:
        """Write DROP TABLE and TRUNCATE TABLE of such tables; None for another statement."""
        name = node.name[-1] if node.name else ""
        if not self.is_known or not node.name or not self._is_own(node.name):
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
        if self.rewriter.target.engine == "sqlserver":
            return names.write(f"#{name}")
        if not self.is_shared or owner is None:
            return names.write(local_table(name))
        return names.qualified(*((owner.schema,) if owner.schema else ()), f"{local_table(name)}_{owner.name}")

    def _dropped(self, name: str) -> str:
        if self.is_shared:
            return f"DELETE FROM {name};"
        return f"DROP {'' if self.rewriter.target.engine == 'sqlserver' else 'TEMPORARY '}TABLE IF EXISTS {name};"

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
        if self.rewriter.target.engine == "sqlserver":
            self._refuse_in_functions()
            return [self._dropped(made), f"CREATE TABLE {made} ({', '.join([*lines, *keys])});"]
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
        numbering = "IDENTITY(1,1)" if self.rewriter.target.engine == "sqlserver" else "AUTO_INCREMENT"
        return f"{text} {numbering}" if column.identity else f"{text}{default}"

    def _key(self, constraint: ConstraintDefinition, columns: list[str], keyed: set[str]) -> str:
        kind = _KEYS.get(constraint.form)
        if kind is None:
            raise CannotDraft(f"a {constraint.form} constraint of a temporary table")
        keyed |= set(columns[:1])
        return f"{kind} ({', '.join(map(self.rewriter.names.write, columns))})"
