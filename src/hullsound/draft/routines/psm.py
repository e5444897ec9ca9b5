"""Compound statements of MySQL and MariaDB."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .speech import MESSAGE, Caught, Handlers, Lines, OwnError, Speech, Unit, indented, is_cut_short, lone

_BODY: Final = "hs_body"
"""Label of the outermost block, which takes the place of RETURN in a procedure."""
_MODES: Final = {"in": "IN", "out": "OUT", "in out": "INOUT"}
NOTHING: Final = ["DO 0;"]
_OWN_STATE: Final = "45000"
"""SQLSTATE of an unhandled exception of the user (8.4 Reference Manual, "SIGNAL Statement")."""
_CAUGHT: Final = "hs_caught"
"""Variable for the text of a caught error, which GET DIAGNOSTICS alone gives."""
_NUMBER: Final = "hs_error"
"""Variable for the number of a caught error."""
_ASKED: Final = {_CAUGHT: ("text", "MESSAGE_TEXT"), _NUMBER: ("int", "MYSQL_ERRNO")}
"""Type and source of what a handler may ask of its error."""
_ERROR_NUMBERS: Final = {
    1062: 2627, 1048: 515, 1364: 515, 1451: 547, 1452: 547, 3819: 547, 4025: 547, 1365: 8134, 1205: 1222, 1213: 1205,
    1406: 2628, 1264: 8115,
}  # fmt: skip
"""Numbers of SQL Server by those of errors that mean the same here."""
_CONDITIONS: Final = {
    Caught.NO_ROW: "NOT FOUND", Caught.SEVERAL_ROWS: "1172", Caught.DUPLICATE: "1062", Caught.ANY: "SQLEXCEPTION",
    Caught.CONSTRAINT: "SQLSTATE '23000'",
}  # fmt: skip


class PsmSpeech(Speech):
    """MySQL 8.0 Reference Manual, "Compound Statement Syntax"; MariaDB Server documentation, "Programmatic Compound Statements"."""

    has_row_loops = False
    one_event_per_trigger = True
    guard_note = "convert.update-of"

    def updates(self, column: str) -> str:
        return f"NOT ({self.row_column('NEW', column)} <=> {self.row_column('OLD', column)})"

    def variable(self, name: str) -> str:
        return self.names.parameter(name)

    def unit(self, unit: Unit, body: Lines) -> str:
        is_function = unit.form == "function"
        parameters = ", ".join(
            f"{'' if is_function else _MODES[p.mode] + ' '}{p.name} {p.kind}" for p in unit.parameters
        )
        if is_function and any(p.mode != "in" for p in unit.parameters):
            raise CannotDraft("a function whose parameters give something back")
        is_trigger = unit.form == "trigger"
        if unit.guard:
            body = self.branch([(unit.guard, body)], [])
        lines = [f"CREATE {unit.form.upper()} {unit.name}{f' {unit.fires}' if is_trigger else f'({parameters})'}"]
        defaults = [f"{p.name} = {' '.join(p.default.split())}" for p in unit.parameters if p.default]
        if defaults:
            lines.insert(0, f"-- Callers must give what had a default: {', '.join(defaults)}")
        if is_function:
            lines.append(f"RETURNS {unit.returns}")
        if not is_trigger:
            lines += [unit.rights] if unit.rights else []
            lines.append("MODIFIES SQL DATA" if unit.changes else "READS SQL DATA" if unit.reads else "NO SQL")
        lines.append(f"{_BODY}: BEGIN" if not is_function else "BEGIN")
        declared = [f"DECLARE {v.name} {v.kind}{f' DEFAULT {v.default}' if v.default else ''};" for v in unit.variables]
        text = "\n".join([*body, *(line for _, handler in unit.handlers for line in handler)])
        declared += [f"DECLARE {name} {kind};" for name, (kind, _) in _ASKED.items() if name in text]
        if MESSAGE in text:
            declared.append(f"DECLARE {MESSAGE} varchar({self.longest_message});")
        for cursor, query in unit.cursors:
            declared += [f"DECLARE {cursor} CURSOR FOR", f"  {query};"]
        declared += self._handlers(unit.handlers)
        lines += [*indented(declared), *indented(lone(body, NOTHING)), "END;"]
        return "\n".join(lines)

    def assign(self, target: str, value: str) -> Lines:
        return [f"SET {target} = {value};"]

    def branch(self, branches: list[tuple[str, Lines]], otherwise: Lines) -> Lines:
        lines: Lines = []
        for place, (condition, body) in enumerate(branches):
            lines += [f"{'ELSEIF' if place else 'IF'} {condition} THEN", *indented(lone(body, NOTHING))]
        if otherwise:
            lines += ["ELSE", *indented(lone(otherwise, NOTHING))]
        return [*lines, "END IF;"]

    def repeat_while(self, condition: str, body: Lines, label: str, end: Lines | None = None) -> Lines:
        if is_cut_short(body, self.end_round(label)):  # a block can be left, and what stands behind it still runs
            body = [f"{label}_round: BEGIN", *indented(body), f"END {label}_round;"]
        inside = lone([*body, *(end or [])], NOTHING)
        return [f"{label}: WHILE {condition} DO", *indented(inside), f"END WHILE {label};"]

    def end_round(self, label: str) -> Lines:
        return [f"LEAVE {label}_round;"]

    def over_rows(self, variable: str, query: str, body: Lines, label: str) -> Lines:
        head = f"{label}: FOR {self.variable(variable)} IN ({query}) DO"
        return [head, *indented(lone(body, NOTHING)), f"END FOR {label};"]

    def labelled(self, label: str, body: Lines, *, is_loop: bool) -> Lines:
        inside = indented([*lone(body, NOTHING), *([f"LEAVE {label};"] if is_loop else [])])
        return [f"{label}: {'LOOP' if is_loop else 'BEGIN'}", *inside, f"END {'LOOP ' if is_loop else ''}{label};"]

    def open_cursor(self, cursor: str, query: str) -> Lines:
        return [f"OPEN {cursor};"]

    def fetch(self, cursor: str, targets: list[str], met: Lines, missed: Lines) -> Lines:
        """The handler stands in a block of its own, so that it answers to nothing but the fetch."""
        handler = ["DECLARE CONTINUE HANDLER FOR NOT FOUND", "BEGIN", *indented(lone(missed, NOTHING)), "END;"]
        return ["BEGIN", *indented([*handler, *met, f"FETCH {cursor} INTO {', '.join(targets)};"]), "END;"]

    def fetch_or_fail(self, cursor: str, targets: list[str]) -> Lines:
        return [f"FETCH {cursor} INTO {', '.join(targets)};"]

    def close_cursor(self, cursor: str) -> Lines:
        return [f"CLOSE {cursor};"]

    def leave(self, label: str) -> Lines:
        return [f"LEAVE {label};"]

    def go_on(self, label: str) -> Lines:
        return [f"ITERATE {label};"]

    def give_back(self, value: str) -> Lines:
        return [f"RETURN {value};"] if value else [f"LEAVE {_BODY};"]

    def fill(self, targets: list[str], values: list[str], rest: str) -> Lines:
        if any("." in target for target in targets):
            raise CannotDraft("a query that fills columns of a trigger's row")
        return [f"SELECT {', '.join(values)} INTO {', '.join(targets)} {rest};"]

    def fill_if_met(self, targets: list[str], values: list[str], rest: str) -> Lines:
        """The handler stands in a block of its own, so that none around it answers."""
        handler = "DECLARE CONTINUE HANDLER FOR NOT FOUND BEGIN END;"
        return ["BEGIN", *indented([handler, *self.fill(targets, values, rest)]), "END;"]

    def fill_or(self, targets: list[str], values: list[str], rest: str, missed: Lines) -> Lines:
        handler = ["DECLARE CONTINUE HANDLER FOR NOT FOUND", "BEGIN", *indented(lone(missed, NOTHING)), "END;"]
        return ["BEGIN", *indented([*handler, *self.fill(targets, values, rest)]), "END;"]

    longest_message = 128
    """Characters that MESSAGE_TEXT takes ("Signal Condition Information Items"): a longer one is an error of its own."""

    def fail(self, message: str, state: str = "") -> Lines:
        is_short = message.startswith("'") and message.endswith("'") and len(message) <= self.longest_message
        message = message if is_short else f"LEFT({message}, {self.longest_message})"
        return [f"SET {MESSAGE} = {message};", f"SIGNAL SQLSTATE '{state or _OWN_STATE}' SET MESSAGE_TEXT = {MESSAGE};"]

    def fail_as(self, kind: Caught) -> Lines:
        if kind is not Caught.NO_ROW:
            return super().fail_as(kind)
        return ["SIGNAL SQLSTATE '02000' SET MESSAGE_TEXT = 'no data found';"]

    def fail_own(self, error: OwnError) -> Lines:
        return [f"SIGNAL {_condition(error)} SET MESSAGE_TEXT = 'User-Defined Exception';"]

    def fail_again(self) -> Lines:
        return ["RESIGNAL;"]

    caught_text = _CAUGHT
    caught_number = _NUMBER
    error_numbers = _ERROR_NUMBERS
    rows_changed = "ROW_COUNT()"
    last_number = "LAST_INSERT_ID()"
    rows_note = "convert.unchanged-rows"

    def protect(self, body: Lines, handlers: Handlers) -> Lines:
        return ["BEGIN", *indented([*self._handlers(handlers), *lone(body, NOTHING)]), "END;"]

    def _handlers(self, handlers: Handlers) -> Lines:
        """Write the handlers of a block, which names each condition once: the first that takes it is the one that answers."""
        lines: Lines = []
        taken: set[str] = set()
        for kinds, handler in handlers:
            conditions = [each for each in dict.fromkeys(_condition(kind) for kind in kinds) if each not in taken]
            if not conditions:
                continue
            taken |= set(conditions)
            asked = [f"{name} = {item}" for name, (_, item) in _ASKED.items() if name in "\n".join(handler)]
            told = [f"GET DIAGNOSTICS CONDITION 1 {', '.join(asked)};"] if asked else []
            inside = indented(lone([*told, *handler], NOTHING))
            lines += [f"DECLARE EXIT HANDLER FOR {', '.join(conditions)}", "BEGIN", *inside, "END;"]
        return lines

    def call(self, name: str, arguments: list[tuple[str, bool]]) -> Lines:
        return [f"CALL {name}({', '.join(text for text, _ in arguments)});"]

    def result(self, query: str) -> Lines:
        return [f"{query};"]

    def truth(self, condition: str) -> str:
        return f"({condition})"

    def nothing(self) -> Lines:
        return NOTHING

    def wait(self, seconds: str) -> Lines:
        return [f"DO SLEEP({seconds});"]

    def begin_transaction(self) -> Lines:
        return ["START TRANSACTION;"]


def _condition(kind: Caught | OwnError) -> str:
    """Return how a handler names an error; those that a routine declares have states of their own from 45001 on."""
    if isinstance(kind, OwnError):
        return f"SQLSTATE '45{kind.number:03}'"
    if kind is Caught.DIVISION:
        raise CannotDraft("a handler of a division by zero, which gives NULL there")
    return _CONDITIONS[kind]


class MariadbSpeech(PsmSpeech):
    """MariaDB, which knows loops over the rows of a query since 10.3."""

    has_row_loops = True
    longest_message = 500
