"""Row triggers as SQL Server has them: one trigger for the statement, which goes through its rows.

Source: Transact-SQL reference, "CREATE TRIGGER" and "Use the inserted and deleted tables".
"""

from typing import Final

from hullsound.draft.edits.names import Names
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import If, Insert, Node, Subquery, Variable

from .speech import FiringTable, Lines, Unit, indented, lone
from .tsql import TsqlSpeech, declarations, raises
from .walk import Walk

ROW_TABLES: Final = {"NEW": "inserted", "OLD": "deleted"}
_ROWS_OF: Final = {"insert": ("NEW",), "update": ("NEW", "OLD"), "delete": ("OLD",)}
_CURSOR: Final = "hs_changed"
_NEXT_ROW: Final = "CONTINUE; -- with the next row"
_PAIRS, _SETS, _RAISES = "convert.trigger-pairs-rows", "convert.trigger-sets-values", "convert.trigger-error"


class TsqlTriggerSpeech(TsqlSpeech):
    """SQL Server 2016 to 2025: the columns of a row are variables that a cursor fills, or columns of a join."""

    one_event_per_trigger = True

    def __init__(self, names: Names) -> None:
        super().__init__(names)
        self.table = FiringTable("", {}, (), frozenset())
        self.event = ""
        self.as_set = False
        self.read: dict[tuple[str, str], str] = {}
        """Columns of rows that the code names, each with how it is written."""
        self.set: dict[str, str] = {}
        """Columns of the new row that the code sets, by their variables."""

    def begin(self, table: FiringTable, events: list[str], *, as_set: bool) -> None:
        """Say what the trigger belongs to, and whether it works on all rows at once or on one after the other."""
        self.table, self.event, self.as_set = table, events[0], as_set

    def fires(self, timing: str, events: list[str], columns: list[str], table: str, by_row: bool = True) -> str:
        return f"ON {table} AFTER {', '.join(events).upper()}"

    def updates(self, column: str) -> str:
        return f"UPDATE({column})"

    def row_column(self, row: str, column: str) -> str:
        written = f"hs_{row.lower()}.{column}"
        if not self.as_set:
            written = self.variable(f"hs_{row.lower()}_{column.strip('[]')}")
        if row in _ROWS_OF.get(self.event, ()):
            self.read[row, column] = written
            self.set[written] = column
        return written

    # --- the rows ---

    def rows(self, unit: Unit) -> str:
        """Write FROM with the rows that the code names, those before and after paired by the primary key."""
        rows = sorted({row for row, _ in self.read}) or [_ROWS_OF[self.event][0]]
        if len(rows) == 1:
            return f"FROM {ROW_TABLES[rows[0]]} AS hs_{rows[0].lower()}"
        self._need_key()
        unit.notes.append(_PAIRS)
        pairs = " AND ".join(f"hs_old.{each} = hs_new.{each}" for each in self.table.key)
        return f"FROM inserted AS hs_new JOIN deleted AS hs_old ON {pairs}"

    def _need_key(self) -> None:
        if not self.table.key:
            raise CannotDraft("a trigger that needs the primary key of its table, which has none")

    # --- statements ---

    def assign(self, target: str, value: str) -> Lines:
        return [*super().assign(target, value), *self._written(target)]

    def fill(self, targets: list[str], values: list[str], rest: str) -> Lines:
        return [*super().fill(targets, values, rest), *(line for each in targets for line in self._written(each))]

    def _written(self, target: str) -> Lines:
        """Write a new value of the row into the table, as AFTER triggers have no row to set."""
        column = self.set.get(target)
        if column is None:
            return []
        self._need_key()
        if column in self.table.key or (self.event == "insert" and column not in self.table.free):
            raise CannotDraft("a trigger that fills a column which every new row must give")
        keys = " AND ".join(f"{each} = {self.row_column('NEW', each)}" for each in self.table.key)
        return [f"UPDATE {self.table.name} SET {column} = {target} WHERE {keys};"]

    def give_back(self, value: str) -> Lines:
        return ["RETURN;"] if self.as_set else [_NEXT_ROW]

    def repeat_while(self, condition: str, body: Lines, label: str, end: Lines | None = None) -> Lines:
        if any(line.strip() == _NEXT_ROW for line in body):
            raise CannotDraft("a trigger that ends inside of a loop")
        return super().repeat_while(condition, body, label, end)

    # --- the whole ---

    def unit(self, unit: Unit, body: Lines) -> str:
        if unit.handlers:
            raise CannotDraft("handlers of errors in a trigger")
        unit.notes += [_RAISES] if raises(body) else []
        unit.notes += [_SETS] if any(line.strip().startswith(f"UPDATE {self.table.name} SET") for line in body) else []
        lines = ["SET NOCOUNT ON;"]
        if unit.guard:
            lines += [f"IF NOT ({unit.guard})", *indented(["RETURN;"])]
        lines += [*declarations(unit, body), *body] if self.as_set else self._row_by_row(unit, body)
        return "\n".join([f"CREATE TRIGGER {unit.name} {unit.fires}", "AS", "BEGIN", *indented(lines), "END;"])

    def _row_by_row(self, unit: Unit, body: Lines) -> Lines:
        source = self.rows(unit)
        missing = [column for _, column in self.read if column not in self.table.kinds]
        if missing:
            raise CannotDraft("a trigger that reads a column without a type of the target")
        values = [f"DECLARE {name} {self.table.kinds[column]};" for (_, column), name in self.read.items()]
        columns = [f"hs_{row.lower()}.{column}" for row, column in self.read] or ["1"]
        names = list(self.read.values()) or [self.variable("hs_row")]
        values += [] if self.read else [f"DECLARE {names[0]} int;"]
        # A variable that is declared in a loop keeps its value from one row to the next.
        again = [f"SET {each.name} = {each.default or 'NULL'};" for each in unit.variables]
        fetch = [
            f"FETCH NEXT FROM {_CURSOR} INTO {', '.join(names)};",
            *self.branch([("@@FETCH_STATUS <> 0", ["BREAK;"])], []),
        ]
        return [
            *values,
            *declarations(unit, body),
            *self.open_cursor(_CURSOR, f"SELECT {', '.join(columns)} {source}"),
            *super().repeat_while("1 = 1", [*fetch, *again, *lone(body, [])], ""),
            *self.close_cursor(_CURSOR),
        ]


def inserts_alone(statements: list[Node], rewriter: Rewriter) -> bool:
    """Whether code does nothing but write a row of values each time, so that it can do so for all rows at once."""
    if rewriter.subject.all(Subquery) or len(rewriter.subject.all(Variable)):
        return False
    for node in statements:
        if isinstance(node, If):
            if len(node.branches) > 1 or node.otherwise or not inserts_alone(node.branches[0][1], rewriter):
                return False
        elif not isinstance(node, Insert) or node.query is not None or _values(node, rewriter) is None:
            return False
    return bool(statements)


def _values(node: Insert, rewriter: Rewriter) -> tuple[int, int] | None:
    """Return the tokens between the brackets of VALUES (...); None for several rows and for DEFAULT."""
    words = rewriter.words[node.first : node.last]
    if "VALUES" not in words or "DEFAULT" in words:
        return None
    at = node.first + words.index("VALUES") + 1
    depth = 0
    for place in range(at, node.last):
        depth += (rewriter.words[place] == "(") - (rewriter.words[place] == ")")
        if depth == 0:
            return (at + 1, place) if place == node.last - 1 else None
    return None


def written_inserts(statements: list[Node], conditions: list[str], walk: Walk, speech: TsqlTriggerSpeech) -> Lines:
    """Write each INSERT of values as one of a query over the rows that fired the trigger."""
    lines: Lines = []
    rewriter = walk.rewriter
    for node in statements:
        if isinstance(node, If):
            condition, inner = node.branches[0]
            written = walk.condition(condition)
            if written == "(1 = 0)":
                continue
            more = [] if written == "(1 = 1)" else [written]
            lines += written_inserts(inner, [*conditions, *more], walk, speech)
        elif isinstance(node, Insert) and (span := _values(node, rewriter)) is not None:
            head = rewriter.text_elsewhere(node.first, span[0] - 2).strip()
            lines += [head, f"SELECT {rewriter.text_elsewhere(*span).strip()}", speech.rows(walk.unit)]
            lines += [f"WHERE {' AND '.join(f'({each})' for each in conditions)}"] if conditions else []
            lines[-1] += ";"
    return lines
