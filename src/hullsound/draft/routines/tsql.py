"""Transact-SQL of SQL Server."""

import re
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .speech import MESSAGE, Caught, Handlers, Lines, OwnError, Speech, Unit, indented, lone

_OWN: Final = 51000
"""Number before the first error that a routine declares."""
_ERROR: Final = 50000
"""Number of errors that code raises; 50000 and above are free (THROW, Transact-SQL)."""
_AGAIN: Final = ";THROW;"
"""A semicolon must stand before THROW, which the END of a block does not end with."""
_VARIABLE: Final = f"@{MESSAGE}"
_FAILED: Final = "@hs_failed"
_ROWS: Final = "@hs_rows"
_JUMPED: Final = "@hs_jumped"
_VALUE: Final = re.compile(r"@\w+|N?'(?:[^']|'')*'|-?\d+(?:\.\d+)?|NULL")
_NOTHING: Final = ["SET NOCOUNT ON;"]
_NUMBERS: Final = {
    Caught.NO_ROW: "50001", Caught.SEVERAL_ROWS: "50002", Caught.DUPLICATE: "2601, 2627", Caught.DIVISION: "8134",
    Caught.CONSTRAINT: "2601, 2627, 547, 515",
}  # fmt: skip
"""Numbers of errors: two of our own, and those of the engine (Transact-SQL, "Database Engine errors")."""


class TsqlSpeech(Speech):
    """SQL Server 2016 to 2025, "Transact-SQL reference"."""

    is_function = False
    """Whether what is written stands in a function, which may neither raise errors nor catch them."""

    def variable(self, name: str) -> str:
        if not name.isidentifier():
            raise CannotDraft(f"a variable called {name[:40]}")
        return f"@{name.lower()}"

    def unit(self, unit: Unit, body: Lines) -> str:
        is_function = unit.form == "function"
        if is_function and (unit.changes or any(p.mode != "in" for p in unit.parameters)):
            raise CannotDraft("a function that changes something, which is not allowed there")
        parameters = ", ".join(
            f"{p.name} {p.kind}{f' = {p.default}' if p.default else ''}{'' if p.mode == 'in' else ' OUTPUT'}"
            for p in unit.parameters
        )
        head = f"CREATE {unit.form.upper()} {unit.name}"
        head += f"({parameters})\nRETURNS {unit.returns}" if is_function else f" {parameters}".rstrip()
        lines = [head, "AS", "BEGIN"]
        if not is_function:
            lines.append("  SET NOCOUNT ON;")
        elif raises(body):
            unit.notes.append("convert.error-in-function")
        body = self.protect(body, unit.handlers) if unit.handlers else body
        lines += indented(declarations(unit, body))
        lines += indented(lone(body, ["RETURN;"]))
        if is_function and (not body or not body[-1].startswith("RETURN ")):
            lines.append("  RETURN NULL;")
        return "\n".join([*lines, "END;"])

    def assign(self, target: str, value: str) -> Lines:
        return [f"SET {target} = {value};"]

    def branch(self, branches: list[tuple[str, Lines]], otherwise: Lines) -> Lines:
        lines: Lines = []
        for place, (condition, body) in enumerate(branches):
            lines += [f"{'ELSE IF' if place else 'IF'} {condition}", *self._block(body)]
        return [*lines, "ELSE", *self._block(otherwise)] if otherwise else lines

    def _block(self, body: Lines) -> Lines:
        return ["BEGIN", *indented(lone(body, _NOTHING)), "END"]

    def repeat_while(self, condition: str, body: Lines, label: str, end: Lines | None = None) -> Lines:
        """Write a loop; a jump from a loop inside of it goes to a label at its end, or behind it, with something to do there."""
        text = "\n".join(body)
        anew, behind = ([f"{label}_{end}: SET {_JUMPED} = 1;"] for end in ("next", "end"))
        inside = [*body, *anew] if f"GOTO {label}_next;" in text else body
        inside = [*inside, *(end or [])]
        lines = [f"WHILE {condition}", *self._block(inside)]
        return [*lines, *behind] if f"GOTO {label}_end;" in text else lines

    has_row_loops = False

    def open_cursor(self, cursor: str, query: str) -> Lines:
        # A static cursor holds the rows of the moment it is opened, as those of other engines do.
        return [f"DECLARE {cursor} CURSOR LOCAL FORWARD_ONLY STATIC FOR", f"  {query};", f"OPEN {cursor};"]

    def fetch(self, cursor: str, targets: list[str], met: Lines, missed: Lines) -> Lines:
        test = (
            self.branch([("@@FETCH_STATUS = 0", met)], missed)
            if met
            else self.branch([("@@FETCH_STATUS <> 0", missed)], [])
        )
        return [f"FETCH NEXT FROM {cursor} INTO {', '.join(targets)};", *test]

    def close_cursor(self, cursor: str) -> Lines:
        return [f"CLOSE {cursor};", f"DEALLOCATE {cursor};"]

    def leave(self, label: str) -> Lines:
        return ["BREAK;"]

    def go_on(self, label: str) -> Lines:
        return ["CONTINUE;"]

    def end_round(self, label: str) -> Lines:
        return self.go_on_outer(label)

    def leave_outer(self, label: str) -> Lines:
        return [f"GOTO {label}_end;"]

    def go_on_outer(self, label: str) -> Lines:
        return [f"GOTO {label}_next;"]

    def give_back(self, value: str) -> Lines:
        return [f"RETURN {value};" if value else "RETURN;"]

    def fill(self, targets: list[str], values: list[str], rest: str) -> Lines:
        pairs = ", ".join(f"{target} = {value}" for target, value in zip(targets, values, strict=True))
        return [f"SELECT {pairs} {rest};"]

    def fail(self, message: str, state: str = "") -> Lines:
        return self._fail(message, str(_ERROR))

    def fail_as(self, kind: Caught) -> Lines:
        """Raise the error that a query raises in the source which meets no row, or several."""
        return self._fail(f"N'{'no data found' if kind is Caught.NO_ROW else 'several rows found'}'", _NUMBERS[kind])

    def fail_own(self, error: OwnError) -> Lines:
        if self.is_function:
            raise CannotDraft("a function that raises an error of its own, which is not allowed there")
        return self._fail("N'User-Defined Exception'", str(_OWN + error.number))

    def _fail(self, message: str, number: str) -> Lines:
        lines = [f"SET {_VARIABLE} = {message};"]
        # A function may not THROW: a cast that fails tells the text.
        return [
            *lines,
            f"SET {_FAILED} = CAST({_VARIABLE} AS int);" if self.is_function else f"THROW {number}, {_VARIABLE}, 1;",
        ]

    def fail_again(self) -> Lines:
        return [_AGAIN]

    caught_text = "ERROR_MESSAGE()"
    rows_changed = "@@ROWCOUNT"
    last_number = "SCOPE_IDENTITY()"

    def protect(self, body: Lines, handlers: Handlers) -> Lines:
        if self.is_function:
            raise CannotDraft("a function that catches errors, which is not allowed there")
        caught: list[tuple[str, Lines]] = []
        otherwise = [_AGAIN]
        for kinds, handler in handlers:
            numbers = [
                str(_OWN + kind.number) if isinstance(kind, OwnError) else _NUMBERS[kind]
                for kind in kinds
                if kind is not Caught.ANY
            ]
            if Caught.ANY in kinds:
                otherwise = lone(handler, _NOTHING)
            else:
                caught.append((f"ERROR_NUMBER() IN ({', '.join(numbers)})", handler))
        inside = self.branch(caught, otherwise) if caught else otherwise
        lines = ["BEGIN TRY", *indented(lone(body, _NOTHING)), "END TRY"]
        return [*lines, "BEGIN CATCH", *indented(inside), "END CATCH"]

    def rows_met(self, missing: Lines, several: Lines) -> Lines:
        if not several:
            return self.branch([("@@ROWCOUNT = 0", missing)], [])
        count = _ROWS
        tests = self.branch([(f"{count} = 0", missing), (f"{count} > 1", several)], [])
        return [f"SET {count} = @@ROWCOUNT;", *tests]

    calls_with_values = True

    def call(self, name: str, arguments: list[tuple[str, bool]]) -> Lines:
        if not all(is_value(text) for text, _ in arguments):
            raise CannotDraft("a call with an expression as its argument")
        given = ", ".join(f"{text} OUTPUT" if gives_back else text for text, gives_back in arguments)
        return [f"EXEC {name} {given}".rstrip() + ";"]

    def result(self, query: str) -> Lines:
        return [f"{query};"]

    def say(self, text: str) -> Lines:
        return [f"PRINT {text};"]

    def begin_transaction(self) -> Lines:
        return ["BEGIN TRANSACTION;"]

    def end_transaction(self, word: str) -> Lines:
        return self.branch([("@@TRANCOUNT > 0", [f"{word} TRANSACTION;"])], [])  # without one it is an error


def is_value(text: str) -> bool:
    """Whether EXECUTE takes a text as an argument: a constant or a variable."""
    return _VALUE.fullmatch(text) is not None


def raises(body: Lines) -> bool:
    """Whether statements raise an error of their own."""
    return any(_VARIABLE in line for line in body)


def declarations(unit: Unit, body: Lines) -> Lines:
    """Declare the variables of a unit, and the one for the text of an error where the body raises one."""
    text = "\n".join(body)
    lines = [f"DECLARE {_VARIABLE} nvarchar(2048);"] if raises(body) else []
    lines += [f"DECLARE {name} int;" for name in (_FAILED, _ROWS, _JUMPED) if re.search(rf"{name}\b", text)]
    defaults = [f" = {each.default}" if each.default else "" for each in unit.variables]
    return lines + [
        f"DECLARE {each.name} {each.kind}{default};" for each, default in zip(unit.variables, defaults, strict=True)
    ]
