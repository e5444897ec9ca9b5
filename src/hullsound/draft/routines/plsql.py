"""PL/SQL of Oracle."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .speech import Caught, Handlers, Lines, Speech, Unit, indented, is_cut_short, lone

_ERROR_NUMBERS: Final = {
    -1: 2627, -1400: 515, -1407: 515, -2290: 547, -2291: 547, -2292: 547, -1476: 8134, -54: 1222, -60: 1205, -12899:
    2628, -1438: 8115,
}  # fmt: skip
"""Numbers of SQL Server by those of errors that mean the same here."""
_MODES: Final = {"in": "IN", "out": "OUT", "in out": "IN OUT"}
_NOTHING: Final = ["NULL;"]
_EXCEPTIONS: Final = {
    Caught.NO_ROW: "NO_DATA_FOUND", Caught.SEVERAL_ROWS: "TOO_MANY_ROWS", Caught.DUPLICATE: "DUP_VAL_ON_INDEX",
    Caught.DIVISION: "ZERO_DIVIDE",
}  # fmt: skip
_RESULT: Final = "hs_result"
_CAUGHT: Final = "hs_caught"
_NUMBER: Final = "hs_error"
_LONGEST_TEXT: Final = 32767
"""Bytes of a text of PL/SQL ("PL/SQL Predefined Data Types")."""
_ASKED: Final = {_CAUGHT: ("varchar2(4000)", "SQLERRM"), _NUMBER: ("number(10)", "SQLCODE")}
"""What a handler keeps of its error, with type and source: statements of SQL may ask for neither (PLS-00231)."""


class PlsqlSpeech(Speech):
    """Oracle Database 19c to 23ai, "PL/SQL Language Reference"."""

    def variable(self, name: str) -> str:
        return self.names.parameter(name)

    def unit(self, unit: Unit, body: Lines) -> str:
        parameters = ", ".join(
            f"{p.name} {_MODES[p.mode]} {unconstrained(p.kind)}"
            + (f" DEFAULT {p.default}" if p.default and p.mode == "in" else "")
            for p in unit.parameters
        )
        required = [
            f"{p.name} = {' '.join(p.default.split())}" for p in unit.parameters if p.default and p.mode != "in"
        ]
        head = f"CREATE OR REPLACE {unit.form.upper()} {unit.name}" + (f"({parameters})" if parameters else "")
        lines = [f"{head} {unit.fires}" if unit.fires else head]
        if required:  # what gives something back takes no default there (PLS-00230)
            lines.insert(0, f"-- Callers must give what had a default: {', '.join(required)}")
        if unit.form == "function":
            lines.append(f"RETURN {unconstrained(unit.returns)}")
        lines += [unit.rights] if unit.rights else []
        if unit.form != "trigger":
            lines.append("AS")
        elif unit.variables:
            lines.append("DECLARE")
        lines += [f"  {v.name} {_sized(v.kind)}{f' := {v.default}' if v.default else ''};" for v in unit.variables]
        for cursor, query in unit.cursors:
            lines += [f"  CURSOR {cursor} IS", f"    {query};"]
        text = "\n".join([*body, *(line for _, handler in unit.handlers for line in handler)])
        lines += [f"  {name} {kind};" for name, (kind, _) in _ASKED.items() if name in text]
        if any(_RESULT in line for line in body):
            lines.append(f"  {_RESULT} SYS_REFCURSOR;")
        return "\n".join([*lines, "BEGIN", *indented(lone(body, _NOTHING)), *self._handlers(unit.handlers), "END;"])

    keeps_parameters = True
    fires_for_columns = True

    fires_for_statements = True

    def fires(self, timing: str, events: list[str], columns: list[str], table: str, by_row: bool = True) -> str:
        told = [f"UPDATE OF {', '.join(columns)}" if each == "update" and columns else each.upper() for each in events]
        return f"{timing.upper()} {' OR '.join(told)} ON {table}{' FOR EACH ROW' if by_row else ''}"

    def updates(self, column: str) -> str:
        name = column.strip('"') if column.startswith('"') else column.upper()
        return f"UPDATING('{name}')"

    def row_column(self, row: str, column: str) -> str:
        return f":{row}.{column}"

    def insert_numbered(self, insert: str, column: str, target: str) -> Lines:
        return [f"{insert} RETURNING {column} INTO {target};"]

    def assign(self, target: str, value: str) -> Lines:
        return [f"{target} := {value};"]

    def assign_query(self, target: str, value: str) -> Lines:
        return [f"SELECT {value} INTO {target} FROM dual;"]

    def branch(self, branches: list[tuple[str, Lines]], otherwise: Lines) -> Lines:
        lines: Lines = []
        for place, (condition, body) in enumerate(branches):
            lines += [f"{'ELSIF' if place else 'IF'} {condition} THEN", *indented(lone(body, _NOTHING))]
        if otherwise:
            lines += ["ELSE", *indented(lone(otherwise, _NOTHING))]
        return [*lines, "END IF;"]

    def repeat_while(self, condition: str, body: Lines, label: str, end: Lines | None = None) -> Lines:
        if is_cut_short(body, self.end_round(label)):
            body = [*body, f"<<{label}_round>>"]  # before a statement, which `end` has
        inside = lone([*body, *(end or [])], _NOTHING)
        return [f"<<{label}>>", f"WHILE {condition} LOOP", *indented(inside), f"END LOOP {label};"]

    def end_round(self, label: str) -> Lines:
        return [f"GOTO {label}_round;"]

    def over_rows(self, variable: str, query: str, body: Lines, label: str) -> Lines:
        head = [f"<<{label}>>", f"FOR {self.variable(variable)} IN ({query}) LOOP"]
        return [*head, *indented(lone(body, _NOTHING)), f"END LOOP {label};"]

    has_goto = True
    integer = "number(19)"

    def open_cursor(self, cursor: str, query: str) -> Lines:
        return [f"OPEN {cursor};"]

    def fetch(self, cursor: str, targets: list[str], met: Lines, missed: Lines) -> Lines:
        test = (
            self.branch([(f"{cursor}%FOUND", met)], missed)
            if met
            else self.branch([(f"{cursor}%NOTFOUND", missed)], [])
        )
        return [f"FETCH {cursor} INTO {', '.join(targets)};", *test]

    def fail_as(self, kind: Caught) -> Lines:
        return [f"RAISE {'NO_DATA_FOUND' if kind is Caught.NO_ROW else 'TOO_MANY_ROWS'};"]

    def close_cursor(self, cursor: str) -> Lines:
        return [f"CLOSE {cursor};"]

    def leave(self, label: str) -> Lines:
        return [f"EXIT {label};"]

    def go_on(self, label: str) -> Lines:
        return [f"CONTINUE {label};"]

    def give_back(self, value: str) -> Lines:
        return [f"RETURN {value};" if value else "RETURN;"]

    def fill(self, targets: list[str], values: list[str], rest: str) -> Lines:
        query = f"SELECT {', '.join(values)} INTO {', '.join(targets)} {rest or 'FROM dual'};"
        # A query without rows is an error there alone.
        return ["BEGIN", f"  {query}", "EXCEPTION", "  WHEN NO_DATA_FOUND THEN NULL;", "END;"]

    def fill_or(self, targets: list[str], values: list[str], rest: str, missed: Lines) -> Lines:
        query = self.fill_strictly(targets, values, rest)
        return [
            "BEGIN",
            *indented(query),
            "EXCEPTION",
            "  WHEN NO_DATA_FOUND THEN",
            *indented(indented(lone(missed, _NOTHING))),
            "END;",
        ]

    def fill_strictly(self, targets: list[str], values: list[str], rest: str) -> Lines:
        return [f"SELECT {', '.join(values)} INTO {', '.join(targets)} {rest or 'FROM dual'};"]

    def fail(self, message: str, state: str = "") -> Lines:
        return [f"RAISE_APPLICATION_ERROR(-20000, {message});"]

    def fail_again(self) -> Lines:
        return ["RAISE;"]

    caught_text = _CAUGHT
    caught_number = _NUMBER
    error_numbers = _ERROR_NUMBERS
    rows_changed = "SQL%ROWCOUNT"

    def protect(self, body: Lines, handlers: Handlers) -> Lines:
        return ["BEGIN", *indented(lone(body, _NOTHING)), *self._handlers(handlers), "END;"]

    def _handlers(self, handlers: Handlers) -> Lines:
        """Write the handlers; the one for any error must come last, and stands for the others that it names."""
        lines: Lines = ["EXCEPTION"] if handlers else []
        for kinds, handler in sorted(handlers, key=lambda each: Caught.ANY in each[0]):
            if Caught.CONSTRAINT in kinds:
                raise CannotDraft("a handler of any constraint that a row does not meet")
            names = (
                ["OTHERS"] if Caught.ANY in kinds else [_EXCEPTIONS[kind] for kind in kinds if isinstance(kind, Caught)]
            )
            text = "\n".join(handler)
            kept = [f"{name} := {source};" for name, (_, source) in _ASKED.items() if name in text]
            lines += indented([f"WHEN {' OR '.join(names)} THEN", *indented(lone([*kept, *handler], _NOTHING))])
        return lines

    def call(self, name: str, arguments: list[tuple[str, bool]]) -> Lines:
        given = ", ".join(text for text, _ in arguments)
        return [f"{name}({given});" if given else f"{name};"]

    def result(self, query: str) -> Lines:
        return [f"OPEN {_RESULT} FOR {query};", f"DBMS_SQL.RETURN_RESULT({_RESULT});"]

    def nothing(self) -> Lines:
        return _NOTHING

    def say(self, text: str) -> Lines:
        return [f"DBMS_OUTPUT.PUT_LINE({text});"]

    def wait(self, seconds: str) -> Lines:
        return [f"DBMS_SESSION.SLEEP({seconds});"]

    def truncate(self, table: str) -> Lines:
        return [f"EXECUTE IMMEDIATE 'TRUNCATE TABLE {table.replace(chr(39), chr(39) * 2)}';"]

    def begin_transaction(self) -> Lines:
        return ["-- A transaction begins by itself."]


def _sized(kind: str) -> str:
    """Return a type as a variable must have it, which takes no text without a length (PLS-00215)."""
    return f"{kind}({_LONGEST_TEXT})" if kind == "varchar2" else kind


def unconstrained(kind: str) -> str:
    """Return a type without length or digits, as parameters and results must be."""
    head, opening, rest = kind.partition("(")
    return head.strip() + rest.partition(")")[2] if opening else kind
