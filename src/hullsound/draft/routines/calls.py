"""Calls of other routines: arguments by place or name, those left out, and the status that T-SQL procedures return."""

from collections.abc import Callable, Collection
from functools import lru_cache
from typing import Final

from hullsound.draft.edits.reading import read_object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.packages import member_name, member_of
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import CreateRoutine, Literal, Name, NamedArgument, Node, Parameter, Return, Routine

from .cursor_results import is_cursor_type
from .speech import Declared, Lines, Speech, Unit
from .tsql import is_value
from .types import type_text

STATUS: Final = "p_status"
"""Parameter that gives back the status of a procedure."""
_TSQL: Final = frozenset(("sqlserver", "ase"))
_LATE: Final = frozenset(("mysql", "mariadb", "oracle"))
"""Targets that look up a procedure as code runs, and write OUT arguments like others."""


def returns_status(read: ReadStatement, engine: str) -> bool:
    """Whether a procedure of the T-SQL family returns another status than 0."""
    if engine not in _TSQL or not isinstance(read.tree, CreateRoutine) or read.tree.routine.form != "procedure":
        return False
    given = [node.value for node in read.all(Return) if node.value is not None]
    return any(read.tokens.source(value.first, value.last) != "0" for value in given)


def returns_nothing(routine: Routine) -> bool:
    """Whether a function of PostgreSQL returns void, so that it becomes a procedure."""
    return routine.form == "function" and routine.returns is not None and routine.returns.name == "VOID"


@lru_cache(maxsize=64)
def head_of(text: str, engine: str) -> Routine:
    """Return the head of a routine of the catalogue. Raises CannotDraft for text that is not read as one."""
    read = read_object(text, engine)
    if read is None or not isinstance(read.tree, CreateRoutine):
        raise CannotDraft("a call of a routine that could not be read")
    return read.tree.routine


@lru_cache(maxsize=64)
def _head(text: str, engine: str) -> tuple[tuple[Parameter, ...], bool]:
    """Return the parameters of a routine, and whether it returns a status."""
    read = read_object(text, engine)
    if read is None or not isinstance(read.tree, CreateRoutine):
        raise CannotDraft("a call of a routine that could not be read")
    return tuple(read.tree.routine.parameters), returns_status(read, engine)


class Calls:
    """Writes the calls of one routine."""

    def __init__(
        self,
        rewriter: Rewriter,
        speech: Speech,
        unit: Unit,
        variables: dict[str, str],
        value: Callable[[Node], str],
        cursors: Collection[str],
    ) -> None:
        self.before: Lines = []
        """What gives the variables of the call that is written their values."""
        self.cursors = cursors
        """Cursors that the routine hands to its caller, whose rows a call gives out by itself."""
        self.rewriter, self.speech, self.unit, self.variables, self.value = rewriter, speech, unit, variables, value
        self.engine = rewriter.catalog.engine

    def write(self, routine: tuple[str, ...], arguments: list[Node], node: Node) -> Lines:
        """Write one call, and before it what it is given. Raises CannotDraft for a routine of which too little is known."""
        self.before = []
        lines = self._called(routine, arguments, node)
        return self.before + lines

    def _called(self, routine: tuple[str, ...], arguments: list[Node], node: Node) -> Lines:
        member = member_of(routine, self.rewriter) if routine and self.engine == "oracle" else None
        if member is not None:
            self.unit.changes = True
            given = self._arguments(arguments, tuple(member.routine.parameters), member.package.text)
            return self.speech.call(member_name(member, self.rewriter), given)
        item = self.rewriter.catalog.resolve(routine, self.rewriter.default_schema) if routine else None
        status = self._status(node)
        if item is None and len(routine) == 1 and not status and self.rewriter.target.engine in _LATE:
            # Nothing surveyed tells what it takes, which a finding says.
            self.unit.changes = True
            name = self.rewriter.names.write(routine[0])
            return self.speech.call(name, [(self.value(each), False) for each in arguments])
        if item is None or not item.routines:
            raise CannotDraft(f"the procedure {'.'.join(routine).lower() or 'of a text'} is not in the source")
        self.unit.changes = True
        parameters, has_status = _head(item.text, self.engine)
        given = self._arguments(arguments, parameters, item.text)
        if has_status:
            given.append((status or self._ignored(), True))
        elif status:
            return [*self.speech.call(self._name(item.schema, item.name), given), *self.speech.assign(status, "0")]
        return self.speech.call(self._name(item.schema, item.name), given)

    def _name(self, schema: str, name: str) -> str:
        return self.rewriter.names.qualified(*((schema,) if schema else ()), name)

    def _status(self, node: Node) -> str:
        """Return the variable that takes the status of a call: EXEC @status = procedure."""
        words = self.rewriter.words[node.first : node.first + 3]
        if len(words) < 3 or words[2] != "=" or self.engine not in _TSQL:
            return ""
        if words[1] not in self.variables:
            raise CannotDraft("a status that goes into something that is no variable")
        return self.variables[words[1]]

    def _ignored(self) -> str:
        """Return a variable for a status that the caller does not ask for."""
        unused = Declared(self.speech.variable("hs_status"), self.speech.integer)
        if unused not in self.unit.variables:
            self.unit.variables.append(unused)
        return unused.name

    def _arguments(self, arguments: list[Node], parameters: tuple[Parameter, ...], text: str) -> list[tuple[str, bool]]:
        """Bring the arguments into the order of the parameters; a constant default stands for one that is left out."""
        named = {each.name: each.value for each in arguments if isinstance(each, NamedArgument)}
        placed = [each for each in arguments if not isinstance(each, NamedArgument)]
        if len(placed) + len(named) > len(parameters) or set(named) - {each.name for each in parameters}:
            raise CannotDraft("a call with other arguments than the routine takes")
        given: list[tuple[str, bool]] = []
        for place, parameter in enumerate(parameters):
            value = placed[place] if place < len(placed) else named.get(parameter.name)
            gives_back = parameter.mode != "in"
            if is_cursor_type(parameter.type, self.rewriter):
                if not isinstance(value, Name) or value.parts[0] not in self.cursors:
                    raise CannotDraft("a call that opens a cursor for the routine itself")
                continue
            if value is not None:
                given.append((self._taken(self.value(value), parameter, gives_back=gives_back), gives_back))
            elif isinstance(parameter.default, Literal) and not gives_back:
                given.append((self._constant(parameter.default, text), False))
            else:
                raise CannotDraft("a call that leaves out arguments")
        return given

    def _taken(self, text: str, parameter: Parameter, *, gives_back: bool) -> str:
        """Return a value as a call takes it: one that is calculated goes into a variable of the parameter's type first."""
        if gives_back or not self.speech.calls_with_values or is_value(text):
            return text
        name = self.speech.variable(f"hs_given{len(self.unit.variables) + 1}")
        self.unit.variables.append(Declared(name, type_text(parameter.type, self.rewriter)))
        self.before += self.speech.assign(name, text)
        return name

    def _constant(self, default: Literal, text: str) -> str:
        read = read_object(text, self.engine)
        source = read.tokens.source(default.first, default.last) if read is not None else ""
        if default.form == "number" or default.form == "null":
            return source.upper()
        if default.form == "string" and source[:1] in ("'", "N") and "\\" not in source:
            return source.removeprefix("N")
        raise CannotDraft("a call that leaves out an argument whose default is no plain constant")
