"""Transact-SQL of SQL Server."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .speech import MESSAGE, Lines, Speech, Unit, indented, lone

_ERROR: Final = 50000
"""Number of errors that code raises; 50000 and above are free (THROW, Transact-SQL)."""
_VARIABLE: Final = f"@{MESSAGE}"


class TsqlSpeech(Speech):
    """SQL Server 2016 to 2025, "Transact-SQL reference"."""

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
        text = "\n".join(body)
        if _VARIABLE in text:
            if is_function:
                raise CannotDraft("a function that raises an error, which is not allowed there")
            lines.append(f"  DECLARE {_VARIABLE} nvarchar(2048);")
        for variable in unit.variables:
            default = f" = {variable.default}" if variable.default else ""
            lines.append(f"  DECLARE {variable.name} {variable.kind}{default};")
        if unit.handlers:
            raise CannotDraft("handlers of single errors")
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
        return ["BEGIN", *indented(lone(body, ["SET NOCOUNT ON;"])), "END"]

    def repeat_while(self, condition: str, body: Lines, label: str) -> Lines:
        return [f"WHILE {condition}", *self._block(body)]

    has_row_loops = False

    def open_cursor(self, cursor: str, query: str) -> Lines:
        return [f"DECLARE {cursor} CURSOR LOCAL FAST_FORWARD FOR", f"  {query};", f"OPEN {cursor};"]

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

    def give_back(self, value: str) -> Lines:
        return [f"RETURN {value};" if value else "RETURN;"]

    def fill(self, targets: list[str], values: list[str], rest: str) -> Lines:
        pairs = ", ".join(f"{target} = {value}" for target, value in zip(targets, values, strict=True))
        return [f"SELECT {pairs} {rest};"]

    def fail(self, message: str) -> Lines:
        return [f"SET {_VARIABLE} = {message};", f"THROW {_ERROR}, {_VARIABLE}, 1;"]

    def call(self, name: str, arguments: list[tuple[str, bool]]) -> Lines:
        for text, _ in arguments:
            if not (text.startswith(("@", "'", "N'")) or text.lstrip("-").replace(".", "", 1).isdigit()):
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
        return [f"{word} TRANSACTION;"]
