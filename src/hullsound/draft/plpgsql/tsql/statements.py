"""Statements of Transact-SQL inside a unit: each ends with a semicolon, declarations move to the head."""

from collections.abc import Callable
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.conversions.sums import moved
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import FETCH_STATUS, ROW_COUNT, Variables
from hullsound.draft.plpgsql.fetches import KEPT, kept_targets
from hullsound.draft.plpgsql.jumps import Jumps
from hullsound.draft.plpgsql.reentry import left
from hullsound.draft.plpgsql.results import STATUS, Results, called_procedure, output_clause
from hullsound.draft.plpgsql.shared import guarded, kept_size, sized, temporary_table, write_type
from hullsound.draft.statements.change_parts import add_temporary_names, local_table
from hullsound.sql.tree import (
    Assign,
    Block,
    Call,
    Clause,
    CloseCursor,
    ColumnDefinition,
    ConstraintDefinition,
    CreateIndex,
    CreateTable,
    CursorDeclaration,
    Delete,
    Execute,
    Fetch,
    If,
    Insert,
    Jump,
    Label,
    Loop,
    Merge,
    Name,
    Node,
    OpenCursor,
    Operation,
    OtherStatement,
    PlainStatement,
    QueryStatement,
    Raise,
    Return,
    TryCatch,
    TypeName,
    Unread,
    Update,
    Variable,
)

from .calls import call_statement
from .cursors import Cursors
from .errors import asks_for_error, caught, error_number, kept_for_called, raise_statement, write_print
from .filling import insert_from_procedure
from .output import give_out_changes
from .queries import collecting_columns, query_statement
from .rows import add_row_parameters, restarted_identity, row_type, table_of_type
from .settings import setting
from .transactions import ERROR, Transactions
from .transactions import WORDS as TRANSACTION_WORDS

_CHANGES: Final = (Insert, Update, Delete, Merge)
_ERROR_FUNCTIONS: Final = frozenset(
    ("ERROR_MESSAGE", "ERROR_NUMBER", "ERROR_SEVERITY", "ERROR_STATE", "ERROR_LINE", "ERROR_PROCEDURE")
)
_TRANSACTION_STATE: Final = frozenset(("@@TRANCOUNT", "XACT_STATE"))


class TsqlCode:
    """Adds the points of one body of statements."""

    def __init__(self, rewriter: Rewriter, body: list[Node], unit: str, kind: str) -> None:
        """`unit` is the name that errors give; `kind` is procedure, function or trigger."""
        self.rewriter = rewriter
        self.body = body
        self.unit = unit
        self.kind = kind
        self.words = rewriter.words
        self.variables = Variables(rewriter)
        self.results = Results(rewriter.subject.read, rewriter.catalog, rewriter.default_schema)
        self.result_count = self.results.place(body) - 1
        self.sites = rewriter.sites
        self.transactions = Transactions(self)
        self.jumps = Jumps(rewriter, self.end_of)
        rewriter.closing.append(self.__dict__.clear)
        self.collected: dict[str, str] = {}
        """Columns of a query that collects values row by row, by their text, while its assignments are written."""
        words = set(self.words[rewriter.subject.read.first : rewriter.subject.read.last])
        self.counts_rows = "@@ROWCOUNT" in words or "ROWCOUNT_BIG" in words
        self.asks_fetch_status = bool(words & {"@@FETCH_STATUS", "@@SQLSTATUS"})
        self.cursors = Cursors(self)
        self.lines: list[str] = []
        """Lines of DECLARE that are known at once; cursors follow them."""
        self.returned_table = ""
        """Table variable that a function gives back."""
        self.has_status = False
        self.is_for_event = False
        """Whether it is the code of a trigger on definitions, which returns nothing."""
        self.entered = ""
        """Setting that says that a trigger is at work, for one whose own changes must not fire it again."""

    # --- declarations ---

    def declare(self) -> str:
        """Return the lines of DECLARE: variables in their order, then cursors."""
        lines = list(self.lines)
        lines += [line for line in self.cursors.declarations() if line not in lines]
        return "DECLARE\n" + "".join(f"  {line}\n" for line in lines) if lines else ""

    def hoist(self, line: str) -> None:
        """Add a line to DECLARE, once."""
        if line not in self.lines:
            self.lines.append(line)

    def add(self) -> None:
        """Add the points of all statements."""
        rewriter = self.rewriter
        if self.counts_rows and self.kind != "trigger":
            self.hoist(f"{ROW_COUNT} bigint := 0;")
        if self.asks_fetch_status:
            self.hoist(f"{FETCH_STATUS} integer := -1;")
        if any(kept_targets(fetch, rewriter) for fetch in rewriter.subject.all(Fetch)):
            self.hoist(f"{KEPT} record;")
        for variable in rewriter.subject.all(Variable):
            if variable.type.name not in ("TABLE", "CURSOR") and row_type(variable.type, rewriter) is None:
                self.hoist(f"{self.variables.write(variable.name)} {write_type(variable.type, rewriter)};")
        for name in collecting_columns(self):
            rewriter.wrap(name, partial(self._collected, name), rank=4)
        self.transactions.prepare()
        self._statements(self.body)
        self._drop_stray_semicolons()
        for name in rewriter.subject.all(Name):
            if name.parts[0].startswith("@"):
                rewriter.add(Point(name.first, name.last, partial(self._variable, name)))
        add_row_parameters(self)
        add_temporary_names(rewriter)
        for call in rewriter.subject.all(Call):
            if call.parts[-1] in _ERROR_FUNCTIONS:
                rewriter.add(Point(call.first, call.last, partial(caught, call, self.unit)))
        for kind in (each for each in rewriter.subject.all(TypeName) if each.name != "TABLE"):
            rewriter.add(Point(kind.first, kind.last, partial(self._type, kind)))

    def _drop_stray_semicolons(self) -> None:
        """Take away semicolons before statements, such as that of ;WITH."""
        read = self.rewriter.subject.read
        ends = {n.last for n in read.nodes if self.end_of(n) > n.last}
        ends |= {self.end_of(n) - 1 for n in read.nodes}
        for at in range(read.first, read.last):
            if self.words[at] == ";" and at not in ends:
                self.rewriter.replace(at, at + 1, "")

    def _collected(self, name: Name, rewriter: Rewriter) -> str:
        text = rewriter.node(name)
        return self.collected.get(text, text)

    def _type(self, node: TypeName, rewriter: Rewriter) -> str:
        return write_type(node, rewriter)

    def _variable(self, name: Name, rewriter: Rewriter) -> str:
        word = name.parts[0]
        if not word.startswith("@@"):
            return self.variables.write(word)
        if word == "@@ERROR":
            return error_number() if self.transactions.is_caught(name) else ERROR if self.transactions.asked else "0"
        known = {"@@ROWCOUNT": ROW_COUNT, "@@FETCH_STATUS": FETCH_STATUS, "@@SQLSTATUS": FETCH_STATUS,
                 "@@IDENTITY": "lastval()", "@@SPID": "pg_backend_pid()", "@@VERSION": "version()"}  # fmt: skip
        if word not in known:
            raise CannotDraft(f"{word.lower()}")
        return known[word]

    # --- flow ---

    def _statements(self, statements: list[Node]) -> None:
        self.jumps.add(statements)
        for each in statements:
            self._statement(each)

    def end_of(self, node: Node) -> int:
        """Return the place behind a statement, its semicolon included; one on a line of its own begins what follows."""
        if self.words[node.last] != ";":
            return node.last
        tokens = self.rewriter.tokens
        return (
            node.last if "\n" in tokens.text[tokens.ends[node.last - 1] : tokens.starts[node.last]] else node.last + 1
        )

    def _statement(self, node: Node) -> None:
        match node:
            case Block():
                self.rewriter.replace(node.end_at, self.end_of(node), "END;")
                self._statements(node.body)
            case If():
                self._if(node)
            case Loop():
                self._insert_behind(node.bounds[0].last, " LOOP", node)
                self._branch(node.body[0], "END LOOP;", node)
            case TryCatch():
                self._try(node)
            case _:
                self.rewriter.add(Point(node.first, self.end_of(node), partial(self._leaf, node), rank=2))

    def _insert_behind(self, at: int, text: str, owner: Node) -> None:
        self.rewriter.add(Point(at, at, lambda r: text, behind=owner.first))

    def _branch(self, node: Node, closing: str, owner: Node) -> None:
        """Add the points of the statement that a condition governs: its BEGIN and END become what closes it."""
        if isinstance(node, Block):
            self.rewriter.replace(node.begin_at, node.begin_at + 1, "")
            self.rewriter.replace(node.end_at, self.end_of(node), closing)
            self._statements(node.body)
        else:
            self._statement(node)
            if closing:
                self._insert_behind(self.end_of(node), f" {closing}", owner)

    def _if(self, node: If, closing: str = "END IF;") -> None:
        """Add the points of a condition; ELSE IF goes on the chain, whose last branch closes it."""
        condition, (statement,) = node.branches[0]
        if self._is_about_transactions(node):
            self.rewriter.take(node)
            self.rewriter.replace(node.first, self.end_of(node), "")
            return
        self._insert_behind(condition.last, " THEN", node)
        if not node.otherwise:
            self._branch(statement, closing, node)
            return
        self._branch(statement, "", node)
        other = node.otherwise[0]
        if isinstance(other, If) and self._is_about_transactions(other):
            self.rewriter.take(other)
            self.rewriter.replace(other.first - 1, self.end_of(other), closing)
        elif isinstance(other, If):
            self.rewriter.replace(other.first - 1, other.first + 1, "ELSIF")
            self._if(other, closing)
        else:
            self._branch(other, closing, node)

    def _is_about_transactions(self, node: If) -> bool:
        """Whether a condition asks for the state of the transaction, and decides over nothing but its begin and end."""
        condition, statements = node.branches[0]
        asks = _TRANSACTION_STATE.intersection(self.words[condition.first : condition.last])
        return bool(asks) and all(map(self._only_transaction, [*statements, *node.otherwise]))

    def _only_transaction(self, node: Node) -> bool:
        """Whether a statement only ends a transaction, and one that the code around undoes anyway."""
        body = node.body if isinstance(node, Block) else [node]
        return all(
            isinstance(each, PlainStatement)
            and each.words in TRANSACTION_WORDS
            and self.transactions.leaves_nothing(each)
            for each in body
        )

    def _try(self, node: TryCatch) -> None:
        words, rewriter = self.words, self.rewriter
        rewriter.replace(node.first, node.first + 2, "BEGIN")
        at = self.end_of(node.body[-1]) if node.body else node.first + 2
        while words[at : at + 2] != ["END", "TRY"]:
            at += 1
        start = at
        while words[at : at + 2] != ["BEGIN", "CATCH"]:
            at += 1
        calls = [e for e in rewriter.subject.all(Execute) if at <= e.first < node.last]
        called = [item for e in calls if (item := called_procedure(e, rewriter)) is not None]
        kept = kept_for_called(self.unit) if any(asks_for_error(item.text) for item in called) else ""
        rewriter.replace(start, at + 2, f"EXCEPTION WHEN OTHERS THEN\n{kept}".rstrip("\n" if not kept else ""))
        self._statements(node.body)
        self._statements(node.handler)
        rewriter.replace(node.last - 2, self.end_of(node), "END;")

    # --- statements ---

    def _leaf(self, node: Node, rewriter: Rewriter) -> str:
        if rewriter.is_partial:
            text = guarded(node, lambda: self._write(node), rewriter)
        else:
            text = self._write(node)
        text = self.transactions.around(node, text)
        opens = isinstance(node, Label | PlainStatement) and text.rstrip().endswith(("LOOP", "BEGIN"))
        return f"{text};" if text and not opens else text

    def _write(self, node: Node) -> str:
        """Return a statement without its semicolon; '' for one that nothing takes the place of."""
        writers: dict[type[Node], Callable[..., str]] = {
            Assign: self._assign, QueryStatement: partial(query_statement, self),
            Execute: partial(call_statement, self), Raise: self._raise, Return: self._return, Jump: self._jump,
            Fetch: self.cursors.fetch, OpenCursor: self.cursors.open, CloseCursor: self.cursors.close,
            CreateTable: self._create_table, CreateIndex: self._create_index,
            PlainStatement: self._plain, OtherStatement: self._other, CursorDeclaration: self.cursors.declare,
            Label: self._label, Unread: self._unread,
        }  # fmt: skip
        writer = writers.get(type(node))
        if writer is not None:
            return writer(node)
        if isinstance(node, _CHANGES):
            return self._change(node)
        raise CannotDraft("a statement that code of the target cannot hold")

    def _unread(self, node: Unread) -> str:
        raise CannotDraft("a statement that could not be read")

    def _label(self, node: Label) -> str:
        return self.jumps.label_texts.get(node, "")

    def _change(self, node: Node) -> str:
        filled = insert_from_procedure(self, node)
        if filled:
            return filled
        place = self.results.places.get(node)
        if place is not None:
            if self.kind != "procedure":
                raise CannotDraft("OUTPUT to the caller")
            return give_out_changes(self, node, place)
        if output_clause(node, self.rewriter.subject.all(Clause), self.words) is not None:
            raise CannotDraft("OUTPUT to the caller")
        return self.rewriter.text(node.first, node.last) + self.counted()

    def counted(self) -> str:
        """Return what keeps the number of rows behind a statement, where the code asks for it."""
        return f"; GET DIAGNOSTICS {ROW_COUNT} = ROW_COUNT" if self.counts_rows else ""

    def _assign(self, node: Assign) -> str:
        write = self.rewriter.node
        if not isinstance(node.target, Name):
            raise CannotDraft("an assignment to something that is no variable")
        target, value = write(node.target), node.value
        if isinstance(value, Operation) and value.first == node.first:  # SET @x += value
            self.rewriter.take(node)
            left, right = value.operands
            if self.rewriter.types.family(left) in MOMENTS:
                return f"{target} := {moved(target, Family.TIMESTAMP, value.operators[0], right, self.rewriter)[0]}"
            changed = f"{target} {self._joined(left, right, value.operators[0])} ({write(right)})"
            return f"{target} := {kept_size(node.target, changed, self.rewriter)}"
        return f"{target} := {kept_size(node.target, write(value), self.rewriter)}"

    def _joined(self, left: Node, right: Node, operator: str) -> str:
        texts = Family.TEXT in (self.rewriter.types.family(left), self.rewriter.types.family(right))
        return "||" if operator == "+" and texts else {"^": "#"}.get(operator, operator)

    def _plain(self, node: PlainStatement) -> str:
        if node.words == "declare":
            return self._declare(node)
        if node.words == "print" and node.value is not None:
            return write_print(node, self.rewriter)
        if node.words in TRANSACTION_WORDS:
            return self.transactions.write(node)
        if node.words == "waitfor":
            return self.rewriter.text(node.first, node.last)
        raise CannotDraft(f"the statement {node.words}")

    def _declare(self, node: PlainStatement) -> str:
        """Give variables their values where the declaration stood; make table variables there."""
        texts = []
        for variable in self.rewriter.subject.all(Variable):
            if not (node.first <= variable.first and variable.last <= node.last):
                continue
            made = row_type(variable.type, self.rewriter)
            if made is not None:
                texts.append(table_of_type(variable.name, made, self))
            elif variable.type.name == "TABLE":
                texts.append(self._table_variable(variable))
            elif variable.default is not None:
                texts.append(f"{self.variables.write(variable.name)} := {self.rewriter.node(variable.default)}")
        return ";\n".join(texts)

    def _table_variable(self, variable: Variable) -> str:
        inside = range(variable.first, variable.last)
        columns = [c for c in self.rewriter.subject.all(ColumnDefinition) if c.first in inside]
        return self._temporary(variable.name, columns, self._constraints(variable, columns))

    def _constraints(self, node: Node, columns: list[ColumnDefinition]) -> list[ConstraintDefinition]:
        """Return the constraints of a table that stand beside its columns."""
        inside = range(node.first, node.last)
        own = [c for column in columns for c in column.constraints]
        return [c for c in self.rewriter.subject.all(ConstraintDefinition) if c.first in inside and c not in own]

    def _temporary(self, name: str, columns: list[ColumnDefinition], constraints: list[ConstraintDefinition]) -> str:
        table = self.rewriter.names.write(local_table(name))
        body = temporary_table(name, columns, constraints, self.rewriter)
        return f"DROP TABLE IF EXISTS pg_temp.{table};\nCREATE TEMP TABLE {body} ON COMMIT DROP"

    def _create_table(self, node: CreateTable) -> str:
        if not node.name[-1].startswith("#") or node.query is not None:
            raise CannotDraft("a table that code creates")
        return self._temporary(node.name[-1], node.columns, node.constraints)

    def _create_index(self, node: CreateIndex) -> str:
        if not node.table[-1].startswith("#") or not all(isinstance(key.value, Name) for key in node.keys):
            raise CannotDraft("an index that code creates")
        return (
            f"CREATE {'UNIQUE ' if node.unique else ''}INDEX ON {self._table_name(node.table[-1:])}"
            f" ({self.rewriter.nodes(node.keys)})"
        )

    def _other(self, node: OtherStatement) -> str:
        written = setting(node, self.rewriter)
        if written is not None:
            return written
        if node.words == "checkpoint":
            return ""
        if node.words == "dbcc":
            return restarted_identity(self, node)
        if node.words == "truncate table" and node.name:
            return f"TRUNCATE TABLE {self._table_name(node.name)}"
        if node.words == "drop table" and node.name and node.name[-1].startswith("#"):
            # A cursor that gives the rows out still needs them; the end of the transaction drops the table.
            return "" if self.result_count else f"DROP TABLE IF EXISTS pg_temp.{self._table_name(node.name)}"
        raise CannotDraft(f"the statement {node.words}")

    def _table_name(self, parts: tuple[str, ...]) -> str:
        return self.rewriter.names.qualified(*parts[:-1], local_table(parts[-1]))

    def _jump(self, node: Jump) -> str:
        if node.form == "goto":
            if node not in self.jumps.texts:
                raise CannotDraft("GOTO to a label that is not there")
            return self.jumps.texts[node]
        return "EXIT" if node.form == "break" else "CONTINUE"

    def _return(self, node: Return) -> str:
        if self.kind == "trigger":
            return self.trigger_return()
        if self.kind == "procedure":
            if self.has_status and node.value is not None:
                return f"{STATUS} := {self.rewriter.node(node.value)}; RETURN"
            return "RETURN"
        if self.returned_table:
            return f"RETURN QUERY SELECT * FROM {self.returned_table}; RETURN"
        return f"RETURN {sized(node.value, self.rewriter)}" if node.value is not None else "RETURN NULL"

    def trigger_return(self) -> str:
        """Return what ends a trigger: nothing more is done to the row."""
        if self.is_for_event:
            return "RETURN"
        return f"{left(self.entered) if self.entered else ''}RETURN NULL"

    def _raise(self, node: Raise) -> str:
        return raise_statement(node, self.rewriter)


def outer_statements(block: Block, words: list[str]) -> tuple[list[Node], Block | None]:
    """Return the statements of a body and the one BEGIN ... END around all of them, if there is one."""
    body = block.body
    # The block of a natively compiled routine opens with BEGIN ATOMIC WITH (...).
    if len(body) == 1 and isinstance(body[0], Block) and words[body[0].begin_at] in ("BEGIN", ")"):
        return body[0].body, body[0]
    return body, None
