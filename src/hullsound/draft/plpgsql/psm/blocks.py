"""Blocks of SQL/PSM: declarations, labels, and handlers around what they guard."""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.draft.plpgsql.parameters import keep_sizes
from hullsound.draft.plpgsql.results import (
    Results,
)
from hullsound.draft.plpgsql.shared import (
    Hoisted,
    write_type,
)
from hullsound.draft.statements.named_conditions import named_conditions
from hullsound.sql.tree import (
    Assign,
    Block,
    Call,
    ConditionHandler,
    CreateRoutine,
    CursorDeclaration,
    Delete,
    Execute,
    ExecuteImmediate,
    Fetch,
    Insert,
    Label,
    Loop,
    Merge,
    Name,
    Node,
    OtherStatement,
    Parameter,
    QueryStatement,
    Return,
    Update,
    Variable,
)

from .completion import Completion
from .conditions import NOT_FOUND, by_precision, conditions_of
from .missing import MissingRows
from .session import SessionVariables

COUNTS: Final = (("ROW_COUNT",), ("ACTIVITY_COUNT",))
"""What code calls the number of rows that the last change touched: MySQL's function and Teradata's variable."""
_LEAVES: Final = (Insert, Update, Delete, Merge, QueryStatement, Execute, Assign, Fetch, ExecuteImmediate)
"""Statements whose conditions handlers answer."""


class PsmBlocks:
    """Writes blocks and their handlers."""

    def __init__(self, rewriter: Rewriter, body: list[Node], leave_outermost: str, result_line: str = "") -> None:
        """`leave_outermost` is what leaving the outermost block becomes; `result_line` ends it and its handlers."""
        self.rewriter = rewriter
        self.body = body
        self.words = rewriter.words
        rewriter.closing.append(self.__dict__.clear)
        self.hoisted = Hoisted()
        self.parameters: list[Parameter] = []
        """Those of the routine, whose sizes count."""
        self.named = named_conditions(rewriter)
        results = Results(rewriter.subject.read, rewriter.catalog, rewriter.default_schema)
        self.result_count = results.place(body) - 1
        self.results = results.places
        self.leave_outermost = leave_outermost
        self.outermost = body[0] if len(body) == 1 and isinstance(body[0], Block) else None
        asking: list[Call | Name] = [*rewriter.subject.all(Call), *rewriter.subject.all(Name)]
        self.counts_rows = any(each.parts in COUNTS for each in asking) or any(
            "ROW_COUNT" in self.words[node.first : node.last] for node in self._diagnostics()
        )
        if self.counts_rows:
            self.hoisted.add(f"{ROW_COUNT} bigint := 0;")
        self.labels = self._labels()
        self.result_line = result_line
        tree = rewriter.subject.tree
        self.is_procedure = isinstance(tree, CreateRoutine) and tree.routine.form == "procedure"
        self.has_status = self.is_procedure and any(self._gives_status(each) for each in rewriter.subject.all(Return))
        self.session = SessionVariables(rewriter)
        self.completion = Completion(self)
        self.missing = MissingRows(self)
        self.opened: dict[Node, str] = {}
        """What stands before the beginning of a block: the label of one that is left."""
        for line in self.session.declarations():
            self.hoisted.add(line)

    def _labels(self) -> dict[str, Node]:
        """Return the statement behind each label."""
        starts: dict[int, Node] = {}
        for kind in (Block, Loop):
            for node in self.rewriter.subject.all(kind):
                starts[node.first] = node
        labels = {label.name: starts.get(label.last) for label in self.rewriter.subject.all(Label)}
        return {name: node for name, node in labels.items() if node is not None}

    def _label(self, label: Label) -> None:
        if self.labels.get(label.name) is self.outermost and self.outermost is not None:
            self.rewriter.replace(label.first, label.last, "")
        else:
            self.rewriter.replace(label.first, label.last, f"<<{self.rewriter.names.write(label.name)}>>")

    def _declarations(self, block: Block) -> tuple[list[str], list[ConditionHandler]]:
        """Return the lines of a block's DECLARE and its handlers; variables come before the cursors that use them."""
        variables: list[str] = []
        cursors: list[str] = []
        handlers: list[ConditionHandler] = []
        write = self.rewriter.names.write
        for node in block.declarations:
            if isinstance(node, Variable) and self.completion.replaces(node):
                continue
            if isinstance(node, Variable):
                for each in self.rewriter.subject.all(Variable):
                    if each.first == node.first:
                        default = f" := {self.rewriter.node(each.default)}" if each.default is not None else ""
                        variables.append(f"{write(each.name)} {write_type(each.type, self.rewriter)}{default};")
            elif isinstance(node, CursorDeclaration):
                if node.query is None and "RETURN" in self.words[node.first : node.last]:
                    continue  # the result takes its place
                if node.query is None:
                    cursors.append(f"{write(node.name)} refcursor;")
                    continue
                if "RETURN" in self.words[node.first : node.query.first]:
                    continue  # its query stands where it is opened
                cursors.append(f"{write(node.name)} CURSOR FOR {self.rewriter.node(node.query)};")
            elif isinstance(node, ConditionHandler):
                handlers.append(node)
        return variables + cursors, handlers

    def _block(self, block: Block) -> None:
        if self.words[block.begin_at] != "BEGIN":
            return  # the body of a routine that is one statement
        rewriter = self.rewriter
        for node in block.declarations:
            rewriter.replace(node.first, node.last + 1, "")
        head_end = block.begin_at + 1
        while self.words[head_end] in ("NOT", "ATOMIC", "REQUEST"):
            head_end += 1
        rewriter.add(Point(block.begin_at, head_end, partial(self._begin, block)))
        handlers = [d for d in block.declarations if isinstance(d, ConditionHandler)]
        exits = [h for h in handlers if h.action == "exit"]
        if any(h.action == "undo" for h in handlers):
            exits += [h for h in handlers if h.action == "undo"]
        if block is self.outermost:
            rewriter.add(Point(block.end_at, block.last, partial(self._end, block, exits, "", self.result_line)))
        else:
            label = next((n for n, node in self.labels.items() if node is block), "")
            rewriter.add(Point(block.end_at, block.last, partial(self._end, block, exits, label, "")))

    def _begin(self, block: Block, rewriter: Rewriter) -> str:
        lines, _ = self._declarations(block)
        if block is self.outermost:
            lines = [*self.hoisted.lines, *lines]
        section = "DECLARE\n" + "".join(f"  {line}\n" for line in lines) if lines else ""
        opening = self.opening() if block is self.outermost else ""
        section = self.opened.get(block, "") + section
        return f"{section}BEGIN\n{opening.rstrip()}" if opening else f"{section}BEGIN"

    def opening(self) -> str:
        """Return what is done before the first statement."""
        return keep_sizes(self.parameters, self.body[0].first, self.rewriter.names.parameter, self.rewriter)

    def _end(self, block: Block, exits: list[ConditionHandler], label: str, result: str, rewriter: Rewriter) -> str:
        end = f"END {rewriter.names.write(label)}" if label else "END"
        line = f"  {result}\n" if result else ""
        sections = [(self.missing.caught(h, block), h) for h in exits]
        sections = [(conditions, h) for conditions, h in sections if conditions]
        if not sections:
            return line.lstrip() + end
        sections.sort(key=lambda section: by_precision(section[0]))
        text = f"{line}EXCEPTION\n"
        for conditions, handler in sections:
            text += f"  WHEN {' OR '.join(conditions)} THEN\n    {self.handler_body(handler)}\n{line}"
        return text + end

    def handler_body(self, handler: ConditionHandler) -> str:
        text = self.rewriter.elsewhere(handler.body).strip()
        return self.completion.caught(handler) + (f"{text};" if text else "NULL;")

    def _around(self, node: Node) -> Iterator[Block]:
        """Return the blocks around a node, from the innermost."""
        blocks = [b for b in self.rewriter.subject.all(Block) if b.first <= node.first and node.last <= b.last]
        yield from sorted(blocks, key=lambda b: b.last - b.first)

    def in_handler(self, node: Node) -> ConditionHandler | None:
        """Return the handler whose body a node belongs to."""
        handlers = self.rewriter.subject.all(ConditionHandler)
        return next((h for h in handlers if h.first < node.first and node.last <= h.last), None)

    def handlers_for(self, node: Node) -> list[tuple[list[str], ConditionHandler]]:
        """Return the handlers in force at a statement, from the innermost block; none inside of a handler's own body."""
        own = self.in_handler(node)
        found = []
        for block in self._around(node):
            if own is not None and block.first <= own.first:
                break
            for handler in block.declarations:
                if isinstance(handler, ConditionHandler):
                    found.append((conditions_of(handler, self.named), handler))
        return found

    def _continue_handlers(self) -> set[Node]:
        """Put what handlers do behind or around the statements that may raise their conditions; return the latter."""
        statements: list[Node] = []
        guarded: set[Node] = set()
        for kind in _LEAVES:
            statements += self.rewriter.subject.all(kind)
        statements = [
            node
            for node in statements
            if self.words[node.last] == ";" and not (isinstance(node, QueryStatement) and node in self.results)
        ]
        for node in statements:
            going_on = [
                (conditions, h)
                for conditions, h in self.handlers_for(node)
                if h.action == "continue" and set(conditions) - {NOT_FOUND}
            ]
            if going_on and not isinstance(node, Fetch):
                guarded.add(node)
                self.rewriter.add(Point(node.first, node.last, partial(self._guarded, node, going_on), rank=3))
        self.missing.add_points(statements, guarded)
        return guarded

    def _guarded(self, node: Node, handlers: list[tuple[list[str], ConditionHandler]], rewriter: Rewriter) -> str:
        behind = f"{self.completion.behind(node)}{self.missing.behind(node)}"
        text = f"BEGIN\n      {rewriter.text(node.first, node.last)}{behind};\n    EXCEPTION\n"
        for conditions, handler in sorted(handlers, key=lambda each: by_precision(each[0])):
            named = [c for c in conditions if c != NOT_FOUND]
            text += f"      WHEN {' OR '.join(named)} THEN {self.handler_body(handler)}\n"
        return text + "    END"

    def _gives_status(self, node: Return) -> bool:
        return node.value is not None and self.rewriter.subject.source(node.value) != "0"

    def _diagnostics(self) -> list[OtherStatement]:
        return [n for n in self.rewriter.subject.all(OtherStatement) if n.words == "get diagnostics"]
