"""Statements of SQL/PSM inside a unit."""

from functools import partial
from itertools import zip_longest
from typing import Final

from hullsound.catalog.model import Object, ObjectType, Parameter
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.draft.plpgsql.results import (
    STATUS,
    TAKEN_STATUS,
    called_procedure,
    result_name,
    shape_of,
)
from hullsound.draft.plpgsql.shared import (
    GoBetween,
    add_partial_points,
    go_between,
    kept_size,
    sized,
    temporary_table,
    write_type,
)
from hullsound.draft.statements.session_settings import ENCODING_STATEMENTS, SESSION_WORDS, is_idle_setting
from hullsound.draft.statements.set_at_once import READS_SET, reads_what_is_set
from hullsound.sql.tree import (
    AlterTable,
    Assign,
    Block,
    Call,
    CloseCursor,
    ConditionHandler,
    CreateTable,
    CursorDeclaration,
    Delete,
    Execute,
    ExecuteImmediate,
    Fetch,
    Insert,
    Jump,
    Label,
    Loop,
    Name,
    Node,
    OpenCursor,
    OtherStatement,
    PlainStatement,
    Prepare,
    QueryStatement,
    Raise,
    Return,
    Select,
    TypeName,
    Unread,
    Update,
    ValuesInto,
)

from .blocks import COUNTS, PsmBlocks
from .cursors import declare_kept, fetch_row, open_returned
from .inserted import add_inserted
from .into import add_select_into
from .prepared import execute_statement, is_release, open_prepared, prepare_statement, prepared_name
from .signals import get_diagnostics, raise_statement

_COUNTED: Final = (Insert, Update, Delete)
_TRANSACTION: Final = frozenset(("begin", "start", "start transaction", "commit", "rollback", "savepoint", "release"))
_OWN_ALTER_WORDS: Final = frozenset(
    """AUTO_INCREMENT KEY INDEX AFTER FIRST MODIFY CHANGE ENGINE CHARSET CHARACTER COLLATE COMMENT PARTITION CONVERT ORDER ALGORITHM
    LOCK ENABLE DISABLE FORCE IMPORT DISCARD ACTIVATE REORG COMPRESS APPEND VOLATILE""".split()
)
"""Words of ALTER TABLE that PostgreSQL does not read, or reads as something else."""


class PsmCode(PsmBlocks):
    """Adds the points of one body of compound statements."""

    def add(self) -> None:
        """Add the points of all statements."""
        self._declare_passing()
        add = self.rewriter.subject.all
        for assign in add(Assign):
            self._assign(assign)
        for loop in add(Loop):
            self._loop(loop)
        for label in add(Label):
            self._label(label)
        for jump in add(Jump):
            self._point(jump, partial(self._jump, jump))
        for cursor in add(OpenCursor):
            declared = next((c for c in add(CursorDeclaration) if isinstance(cursor.cursor, Name)
                             and c.name == cursor.cursor.parts[-1] and c.query is None), None)  # fmt: skip
            if cursor in self.results:
                self._point(cursor, partial(open_returned, self, cursor))
            elif declared is not None:
                self._point(cursor, partial(open_prepared, self, cursor, declared))
            elif cursor.query is not None or cursor.using:
                self._point(cursor, _refuse("a cursor over a text built at run time"))
        declare_kept(self)
        for fetch in add(Fetch):
            self._point(fetch, partial(fetch_row, self, fetch))
        for given in add(ValuesInto):
            self._point(given, partial(self._values_into, given))
        for returning in add(Return):
            if returning.value is not None:
                self._point(returning, partial(self._return, returning))
        for raising in add(Raise):
            self._point(raising, partial(self._raise, raising))
        for closing in add(CloseCursor):
            if self.words[closing.last - 1] == "RELEASE":
                self.rewriter.replace(closing.cursor.last, closing.last, "")
        for call in add(Execute):
            self._point(call, partial(self._call, call))
        for prepare in add(Prepare):
            self.hoisted.add(f"{prepared_name(prepare.name, self)} text;")
            self._point(prepare, partial(prepare_statement, self, prepare))
        for execute in add(ExecuteImmediate):
            self._point(execute, partial(execute_statement, self, execute))
        for table in add(CreateTable):
            self._point(table, partial(self._create_table, table))
        for alter in add(AlterTable):
            if alter.changes or alter.indexes or not _OWN_ALTER_WORDS.isdisjoint(self.words[alter.first : alter.last]):
                self._point(alter, _refuse("a change of a table in words of the source"))
        for plain in add(PlainStatement):
            self._plain(plain)
        for other in add(OtherStatement):
            self._point(other, partial(self._other, other))
        for query, place in self.results.items():
            if not isinstance(query, QueryStatement):
                continue
            text = partial(self._open_result, query, place)
            self.rewriter.add(Point(query.first, query.last, text, rank=2))
        inserted = add_inserted(self)
        for select in add(Select):
            if select.into and not any(select in query.blocks for query in inserted):
                add_select_into(self, select)
        for unread in add(Unread):
            self._point(unread, _refuse("a statement that could not be read"))
        counting: list[Call | Name] = [*add(Call), *add(Name)]
        for counted in counting:
            if counted.parts in COUNTS:
                self.rewriter.replace(counted.first, counted.last, ROW_COUNT)
        self.session.add_points()
        for kind in add(TypeName):
            self.rewriter.add(Point(kind.first, kind.last, partial(self._type, kind)))
        self.completion.add_points(self._continue_handlers())
        self._row_counts()
        if self.rewriter.is_partial:
            add_partial_points(self.body, self.rewriter)
        for block in add(Block):
            self._block(block)

    def _point(self, node: Node, render: "partial[str]") -> None:
        self.rewriter.add(Point(node.first, node.last, lambda r: render(), getattr(node, "construct", "")))

    def _type(self, node: TypeName, rewriter: Rewriter) -> str:
        return write_type(node, rewriter)

    # --- blocks and handlers ---

    # --- flow ---

    def _loop(self, loop: Loop) -> None:
        rewriter, words = self.rewriter, self.words
        end = next(i for i in range(loop.last - 1, loop.first, -1) if words[i] == "END")
        if loop.form == "while":
            rewriter.replace(loop.loop_at - 1, loop.loop_at, "LOOP")
        elif loop.form == "repeat":
            rewriter.replace(loop.first, loop.first + 1, "LOOP")
            until = loop.bounds[0].first - 1
            rewriter.add(Point(until, loop.last, partial(self._until, loop)))
            return
        elif loop.form in ("query", "range"):
            rewriter.add(Point(loop.first, loop.loop_at + 1, partial(self._for, loop)))
            if loop.form == "query":
                self.hoisted.add(f"{rewriter.names.write(loop.variable)} record;")
            self._loop_names(loop)
        rewriter.replace(end, loop.last, "END LOOP")

    def _until(self, loop: Loop, rewriter: Rewriter) -> str:
        return f"EXIT WHEN {rewriter.node(loop.bounds[0])};\n  END LOOP"

    def _for(self, loop: Loop, rewriter: Rewriter) -> str:
        name = rewriter.names.write(loop.variable)
        if loop.form == "range":
            return f"FOR {name} IN {rewriter.node(loop.bounds[0])}..{rewriter.node(loop.bounds[1])} LOOP"
        return f"FOR {name} IN {rewriter.node(loop.bounds[0])} LOOP"

    def _loop_names(self, loop: Loop) -> None:
        """Columns of a loop's query stand without the loop's name in the source."""
        query = loop.bounds[0] if loop.form == "query" else None
        block = query.blocks[0] if query is not None and query.blocks else None  # type: ignore[attr-defined]
        if not isinstance(block, Select):
            return
        columns = {item.title for item in block.items} - {""}
        declared = self.rewriter.subject.scope.declared
        for name in self.rewriter.subject.all(Name):
            inside = loop.loop_at < name.first < loop.last
            bare = len(name.parts) == 1 and name.parts[0] in columns and name.parts[0] not in declared
            if inside and bare and not self._is_target(name):
                write = self.rewriter.names.write
                self.rewriter.replace(name.first, name.last, f"{write(loop.variable)}.{write(name.parts[0])}")

    def _is_target(self, name: Name) -> bool:
        """Whether a bare name is a column that a statement changes."""
        subject = self.rewriter.subject
        targets: list[Node] = [column for insert in subject.all(Insert) for column in insert.columns]
        targets += [target for update in subject.all(Update) for target, _ in update.assignments]
        return any(target is name for target in targets)

    def _jump(self, jump: Jump) -> str:
        target = self.labels.get(jump.label)
        if jump.form == "goto":
            raise CannotDraft("GOTO")
        if target is not None and target is self.outermost:
            return self.leave_outermost
        word = "EXIT" if jump.form == "exit" else "CONTINUE"
        return f"{word} {self.rewriter.names.write(jump.label)}" if jump.label else word

    def _values_into(self, node: ValuesInto) -> str:
        into = [self.target(each) if isinstance(each, Name) else self.rewriter.node(each) for each in node.into]
        if len(into) == 1:
            return f"{into[0]} := {self.rewriter.node(node.values[0])}"
        return f"SELECT {self.rewriter.nodes(node.values)} INTO {', '.join(into)}"

    def _return(self, node: Return) -> str:
        assert node.value is not None
        if self.is_procedure:
            return f"{STATUS} := {self.rewriter.node(node.value)}; RETURN" if self.has_status else "RETURN"
        return f"RETURN {sized(node.value, self.rewriter)}"

    # --- statements ---

    def _assign(self, node: Assign) -> None:
        """Write SET a = b, c = d as assignments of their own."""
        target = node.target
        words = self.words
        before = target.first - 1
        if is_idle_setting(target, self.rewriter):
            start = before - (words[before] in SESSION_WORDS)
            self.rewriter.add(Point(start, node.last, lambda _: "; NULL" if words[start] == "," else "NULL"))
            return
        if isinstance(target, Name) and target.parts[0].startswith("@@"):
            self._point(node, _refuse("a setting of the server"))
            return
        if words[target.first] == "(":
            self._point(node, _refuse("several variables that one row fills"))
            return
        if reads_what_is_set(node, self.rewriter):
            self._point(node, _refuse(READS_SET))
            return
        if words[before] in ("GLOBAL", "SESSION", "LOCAL", "PERSIST"):
            self._point(node, _refuse("a setting of the server"))
            return
        start, link = (
            (before, "") if words[before] == "SET" else (before, "; ") if words[before] == "," else (target.first, "")
        )
        self.rewriter.add(Point(start, node.value.first, partial(self._assigned, node, link)))
        self.rewriter.wrap(node.value, lambda r: kept_size(target, r.node(node.value), r), rank=8)

    def _assigned(self, node: Assign, link: str, rewriter: Rewriter) -> str:
        text = rewriter.node(node.target)
        if isinstance(node.target, Name) and node.target.parts[0].startswith("@"):
            text = self.session.name(node.target.parts[0])
        return f"{link}{text} := "

    def target(self, name: Name) -> str:
        return self.session.name(name.parts[0]) if name.parts[0].startswith("@") else self.rewriter.node(name)

    def _open_result(self, query: QueryStatement, place: int, rewriter: Rewriter) -> str:
        return f"OPEN {result_name(place)} FOR {rewriter.text(query.first, query.last)}"

    def _raise(self, node: Raise) -> str:
        """Raise an error. One that a CONTINUE handler of the routine takes would have to go on behind it."""
        state = next((w.strip("'") for w in self.words[node.first : node.last] if w[:1] == "'"), "")
        own = self.named.get(node.name[0], "") if node.name else state
        for conditions, handler in self.handlers_for(node):
            taken = any(own and own in condition for condition in conditions)
            if handler.action == "continue" and (taken or "SQLEXCEPTION" in handler.conditions):
                raise CannotDraft("an error that a CONTINUE handler of the same routine takes")
        return raise_statement(self, node)

    def _call(self, call: Execute) -> str:
        if not call.routine:
            return execute_statement(self, call)
        item = called_procedure(call, self.rewriter)
        if item is None:
            raise CannotDraft(f"the procedure {'.'.join(call.routine).lower()} is not in the source")
        arguments, between = [], []
        for each, parameter in zip_longest(call.arguments, item.routines[0].parameters if item.routines else ()):
            passing = self._passing(each, parameter, item) if each is not None and parameter is not None else None
            if passing is not None:
                between.append(passing)
            if each is not None:
                arguments.append(passing.name if passing is not None else self.rewriter.node(each))
        if item.type is ObjectType.PROCEDURE:
            shape = shape_of(item, self.rewriter.catalog)
            count = shape.results
            if shape.has_status:
                arguments.append(f"{STATUS} => {TAKEN_STATUS}")
            if count and call not in self.results:
                raise CannotDraft("a result set that nothing takes")
            arguments += [f"{result_name(i + 1)} => {result_name(self.results[call] + i)}" for i in range(count)]
        text = f"CALL {self.rewriter.names.qualified(item.schema, item.name)}({', '.join(arguments)})"
        return "".join(each.before for each in between) + text + "".join(each.behind for each in between)

    def _passing(self, argument: Node, parameter: Parameter, item: Object) -> GoBetween | None:
        """Return the variable that stands between an argument and a parameter of another type that gives something back."""
        if parameter.mode == "in" or not isinstance(argument, Name):
            return None
        return go_between(parameter, argument, self.target(argument), item, self.rewriter)

    def _declare_passing(self) -> None:
        for call in self.rewriter.subject.all(Execute):
            item = called_procedure(call, self.rewriter)
            for each, parameter in zip(
                call.arguments, item.routines[0].parameters if item and item.routines else (), strict=False
            ):
                passing = self._passing(each, parameter, item) if item is not None else None
                if passing is not None:
                    self.hoisted.add(passing.declaration)
            is_procedure = item is not None and item.type is ObjectType.PROCEDURE
            if item is not None and is_procedure and shape_of(item, self.rewriter.catalog).has_status:
                self.hoisted.add(f"{TAKEN_STATUS} integer;")

    def _plain(self, node: PlainStatement) -> None:
        if node.words in _TRANSACTION:
            self._transaction(node)
        elif node.words == "do":
            self.rewriter.replace(node.first, node.first + 1, "PERFORM")
        elif node.words in ("declare condition", "declare statement"):
            self.rewriter.replace(node.first, node.last + 1, "")
        elif node.words != "declare":
            self._point(node, _refuse(f"the statement {node.words}"))

    def _transaction(self, node: PlainStatement) -> None:
        """Leave transactions to the caller: the whole call stands or falls, and a handler's block is undone."""
        if node.words == "rollback" and self.in_handler(node) is None and not self._raises_behind(node):
            self._point(node, _refuse("ROLLBACK outside of a handler"))
        elif node.words in ("savepoint", "rollback to", "release"):
            self._point(node, _refuse("a savepoint"))
        else:
            alone = (
                any(h.body is node for h in self.rewriter.subject.all(ConditionHandler)) or self.words[node.last] != ";"
            )
            self.rewriter.replace(node.first, node.last if alone else node.last + 1, "NULL" if alone else "")

    def _raises_behind(self, node: Node) -> bool:
        return self.words[node.last + 1 : node.last + 2] in (["SIGNAL"], ["RESIGNAL"])

    def _other(self, node: OtherStatement) -> str:
        words = self.words
        if node.words == "get diagnostics":
            return get_diagnostics(self, node)
        if node.words.startswith("truncate"):
            return f"TRUNCATE TABLE {self.rewriter.text(node.last - 1, node.last)}"
        if node.words.startswith("drop temporary") or node.words == "drop table":
            guard = "IF EXISTS " if "EXISTS" in words[node.first : node.last] else ""
            if self.result_count:
                # A cursor that gives the rows out still needs them; the end of the transaction drops the table.
                return "NULL"
            return f"DROP TABLE {guard}{self.rewriter.names.write(node.name[-1]) if node.name else ''}".rstrip()
        if is_release(node, words):
            return "NULL"
        if node.words.split(" ")[0] in ("analyze", "optimize", "check", "flush") or node.words in ENCODING_STATEMENTS:
            return "NULL"
        raise CannotDraft(f"the statement {node.words}")

    def _create_table(self, node: CreateTable) -> str:
        if not node.temporary and "TEMPORARY" not in self.words[node.first : node.first + 4]:
            raise CannotDraft("a table that code creates")
        before = ""
        guard = "IF NOT EXISTS " if "EXISTS" in self.words[node.first : node.first + 7] else ""
        end = " ON COMMIT DROP" if self._drops(node) and self.result_count else ""
        if (
            node.name[0] == "SESSION"
        ):  # rows go at COMMIT where nothing else is said, and REPLACE drops the table before
            end = end or (" ON COMMIT DELETE ROWS" if node.temporary != "preserve rows" else "")
            if "REPLACE" in self.words[node.first : node.last]:
                before = f"DROP TABLE IF EXISTS pg_temp.{self.rewriter.names.write(node.name[-1])};\n"
        if node.query is not None:
            name = self.rewriter.names.write(node.name[-1])
            return f"{before}CREATE TEMP TABLE {guard}{name}{end} AS {self.rewriter.node(node.query)}"
        table = temporary_table(node.name[-1], node.columns, node.constraints, self.rewriter)
        return f"{before}CREATE TEMP TABLE {guard}{table}{end}"

    def _drops(self, node: CreateTable) -> bool:
        """Whether the unit itself drops a table that it creates."""
        return any(
            other.name[-1:] == node.name[-1:] and other.words.startswith("drop")
            for other in self.rewriter.subject.all(OtherStatement)
        )

    def _row_counts(self) -> None:
        """Take the row count behind each change in a unit that asks for it."""
        for kind in _COUNTED if self.counts_rows else ():
            for node in self.rewriter.subject.all(kind):
                if self.words[node.last] == ";":
                    self.rewriter.replace(node.last, node.last + 1, f"; GET DIAGNOSTICS {ROW_COUNT} = ROW_COUNT;")


def _refuse(reason: str) -> "partial[str]":
    def refuse() -> str:
        raise CannotDraft(reason)

    return partial(refuse)
