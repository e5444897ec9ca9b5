"""Fixers for procedural code."""

from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.sight.detector import Found
from hullsound.sql.tree import (
    Block,
    Call,
    CaseStatement,
    ConditionHandler,
    CursorAttribute,
    ExecuteImmediate,
    If,
    Insert,
    Loop,
    Name,
    Node,
    OpenCursor,
    PlainStatement,
)

from . import fixer

_LOCK_WORDS: Final = frozenset(("WAIT", "PARTITION", "SUBPARTITION"))


@fixer("put_line")
def fix_put_line(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Call)
    return f"RAISE NOTICE '%', {rewriter.node(place.node.arguments[0])}"


@fixer("output_member")
def fix_output_member(place: Found, rewriter: Rewriter) -> str:
    """Members of DBMS_OUTPUT other than PUT_LINE: the buffer needs no care, and each part of a line is told by itself."""
    node = place.node
    member = node.parts[-1] if isinstance(node, Call | Name) else ""
    if member in ("ENABLE", "DISABLE"):
        return "NULL"
    if member == "NEW_LINE":
        return "RAISE NOTICE ' '"
    if member == "PUT" and isinstance(node, Call) and len(node.arguments) == 1:
        return f"RAISE NOTICE '%', {rewriter.node(node.arguments[0])}"
    raise CannotDraft("reading lines back from DBMS_OUTPUT")


@fixer("lock_table")
def fix_lock_table(place: Found, rewriter: Rewriter) -> str:
    """LOCK TABLE, whose modes PostgreSQL has by the same names, but for one; it waits as long as lock_timeout says."""
    words = rewriter.words[place.node.first : place.node.last]
    if not _LOCK_WORDS.isdisjoint(words) or words[words.index("IN") :][:3] == ["IN", "SHARE", "UPDATE"]:
        raise CannotDraft("a lock of a part of a table, one that waits for some seconds, or one of SHARE UPDATE")
    return rewriter.text(place.node.first, place.node.last)


@fixer("commit_or_rollback")
def fix_commit_or_rollback(place: Found, rewriter: Rewriter) -> str:
    """COMMIT and ROLLBACK, of which PL/pgSQL knows neither WORK nor what follows it."""
    words = rewriter.words[place.node.first : place.node.last]
    return rewriter.text(place.node.first, place.node.last) if "TO" in words else words[0]


@fixer("set_transaction")
def fix_set_transaction(place: Found, rewriter: Rewriter) -> str:
    """SET TRANSACTION: READ ONLY holds from there on, and an isolation level can only be set before the first query."""
    words, first = rewriter.words, place.node.first
    own = words[first : place.node.last]
    ends_one = [each.last for each in rewriter.subject.all(PlainStatement) if each.words in ("commit", "rollback")]
    if "ISOLATION" in own and first - 1 not in ends_one:
        raise CannotDraft("an isolation level that is set behind the first query of a transaction")
    if not {"ISOLATION", "READ"} & set(own) or "NAME" in own or "SEGMENT" in own:
        raise CannotDraft("a rollback segment or name of a transaction")
    return rewriter.text(first, place.node.last)


@fixer("raise_application_error")
def fix_raise_application_error(place: Found, rewriter: Rewriter) -> str:
    if not isinstance(place.node, Call) or len(place.node.arguments) < 2:
        raise CannotDraft("RAISE_APPLICATION_ERROR without a text")
    number, text = place.node.arguments[:2]
    state = sqlstate_of(rewriter.tokens.source(number.first, number.last))
    if state is None:
        return f"RAISE EXCEPTION '%', {rewriter.node(text)} USING HINT = {rewriter.node(number)}"
    return f"RAISE EXCEPTION '%', {rewriter.node(text)} USING ERRCODE = '{state}'"


def sqlstate_of(number: str) -> str | None:
    """Return the SQLSTATE for an application error: HS and the last three digits of -20000 to -20999."""
    digits = number.replace(" ", "").lstrip("-")
    return f"HS{digits[2:]}" if digits.isdigit() and len(digits) == 5 and digits.startswith("20") else None


_NUMBERS: Final = {
    "P0002": 100, "P0003": -1422, "23505": -1, "22012": -1476, "22P02": -1722, "22003": -1438, "22001": -12899, "23502": -1400,
    "23503": -2291, "23514": -2290, "40P01": -60, "55P03": -54, "42P01": -942, "20000": -6592,
}  # fmt: skip
"""SQLSTATEs and the error numbers of Oracle that mean the same (Database Error Messages)."""


@fixer("error_code")
def fix_error_code(place: Found, rewriter: Rewriter) -> str:
    """Give the number that Oracle gives the error being handled; an application's own comes back from its SQLSTATE."""
    known = " ".join(f"WHEN '{state}' THEN {number}" for state, number in _NUMBERS.items())
    own = "SQLSTATE LIKE 'HS___' THEN -20000 - right(SQLSTATE, 3)::integer"
    return f"(CASE WHEN {own} ELSE CASE SQLSTATE {known} ELSE -20999 END END)"


@fixer("updating_column")
def fix_updating_column(place: Found, rewriter: Rewriter) -> str:
    """Ask whether the value changes, which is nearly what UPDATING('COLUMN') asks."""
    call = place.node
    name = text_value(call.arguments[0], rewriter) if isinstance(call, Call) and call.arguments else None
    if name is None:
        raise CannotDraft("UPDATING of a column that is not a constant")
    column = rewriter.names.write(name.upper())
    return f"(TG_OP = 'UPDATE' AND NEW.{column} IS DISTINCT FROM OLD.{column})"


@fixer("sql_rowcount")
def fix_sql_rowcount(place: Found, rewriter: Rewriter) -> str:
    return ROW_COUNT


@fixer("cursor_found")
def fix_cursor_found(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, CursorAttribute)
    if place.node.attribute == "FOUND":
        return "FOUND"
    return "(NOT FOUND)" if rewriter.words[place.first - 1] == "NOT" else "NOT FOUND"


@fixer("cursor_state")
def fix_cursor_state(place: Found, rewriter: Rewriter) -> str:
    """Ask the session whether a cursor is open; how many rows it has given is known to nobody."""
    node = place.node
    if not isinstance(node, CursorAttribute) or node.attribute != "ISOPEN" or node.cursor == ("SQL",):
        raise CannotDraft("the number of rows that a cursor has given")
    cursor = rewriter.names.write(node.cursor[-1])
    return f"EXISTS (SELECT FROM pg_cursors AS hs_cursor WHERE hs_cursor.name = {cursor}::text)"


@fixer("execute_immediate")
def fix_execute_immediate(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    if isinstance(node, OpenCursor):
        return fix_open_for_text(place, rewriter)
    assert isinstance(node, ExecuteImmediate)
    words = rewriter.words[node.first : node.last]
    if "RETURNING" in words or "RETURN" in words or node.bulk:
        raise CannotDraft("EXECUTE IMMEDIATE with RETURNING or BULK COLLECT")
    if node.using and "OUT" in words:
        raise CannotDraft("EXECUTE IMMEDIATE with OUT parameters")
    text = f"EXECUTE {_built(node, node.text, rewriter)}"
    if node.into:
        text += f" INTO STRICT {rewriter.nodes(node.into)}"
    if node.using:
        text += f" USING {rewriter.nodes(node.using)}"
    return text


def _built(node: Node, text: Node, rewriter: Rewriter) -> str:
    """Return the expression of a text whose constants are drafted and its binds numbered. Raises CannotDraft if not."""
    site = rewriter.sites.get(node)
    if site is None or site.problem:
        raise CannotDraft(site.problem if site is not None else "a statement built at run time")
    return rewriter.node(text)


@fixer("open_for_text")
def fix_open_for_text(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    assert isinstance(node, OpenCursor)
    assert node.query is not None
    text = f"OPEN {rewriter.node(node.cursor)} FOR EXECUTE {_built(node, node.query, rewriter)}"
    return f"{text} USING {rewriter.nodes(node.using)}" if node.using else text


@fixer("end_of_transaction")
def fix_end_of_transaction(place: Found, rewriter: Rewriter) -> str:
    """Leave COMMIT to the caller, and ROLLBACK in a handler to PostgreSQL, which has undone the block's changes by then."""
    node = place.node
    if not isinstance(node, PlainStatement):
        raise CannotDraft("an end of a transaction in a form that is not known")
    if node.words != "rollback":
        if any(loop.first < node.first < loop.last for loop in rewriter.subject.all(Loop)):
            raise CannotDraft("a loop that commits by and by")
        return "NULL"
    holders = [b for b in rewriter.subject.all(Block) if any(h.first <= node.first < h.last for h in b.handlers)]
    around = [b for b in rewriter.subject.all(Block) if any(b.first < h.first and h.last < b.last for h in holders)]
    if not holders or around:
        raise CannotDraft("ROLLBACK of more than the block whose handler it stands in")
    return "NULL"


@fixer("last_identity")
def fix_last_identity(place: Found, rewriter: Rewriter) -> str:
    """Give the number that the insert before has given out: lastval() would tell of a row that a trigger inserted too."""
    if not isinstance(place.node, Call):
        return "lastval()"  # @@IDENTITY, which tells of rows of triggers as well
    if place.node.arguments or "CHANGES" in place.node.parts[-1]:
        raise CannotDraft(f"{place.node.parts[-1]}, which is no number that was given out")
    before = [
        insert for insert in rewriter.subject.all(Insert) if insert.last <= place.first and insert.table is not None
    ]
    insert = max(before, key=lambda each: each.first, default=None)
    if insert is None or insert.table is None or _is_apart(insert, place.first, rewriter):
        return "lastval()"
    table = rewriter.table(insert.table.parts)
    column = next((c.name for c in table.columns if c.identity), "") if table is not None else ""
    if table is None or not column:
        return "lastval()"
    name = literal(rewriter.names.qualified(table.schema, table.name))
    return f"currval(pg_get_serial_sequence({name}, {literal(rewriter.names.folded(column))}))"


def _is_apart(insert: Insert, at: int, rewriter: Rewriter) -> bool:
    """Whether an insert stands in a branch, loop or handler that a later place stands outside of, so that it may not have run."""
    subject = rewriter.subject
    around: list[Node] = [
        *subject.all(If),
        *subject.all(CaseStatement),
        *subject.all(Loop),
        *subject.all(ConditionHandler),
    ]
    return any(node.first <= insert.first and insert.last <= node.last <= at for node in around)


@fixer("wait")
def fix_wait(place: Found, rewriter: Rewriter) -> str:
    """Sleep for a number of seconds, or for a time such as 00:00:05."""
    node = place.node
    if isinstance(node, Call):
        if node.parts[-1] != "SLEEP":
            raise CannotDraft(f"{node.parts[-1]}, which only spends time")
        return f"pg_sleep({rewriter.nodes(node.arguments)})"
    words = rewriter.words[node.first : node.last]
    if words[1:2] != ["DELAY"]:
        raise CannotDraft("waiting for a time of day or a message")
    span = rewriter.text(node.first + 2, node.last)
    return f"PERFORM pg_sleep(EXTRACT(EPOCH FROM CAST({span} AS interval)))"
