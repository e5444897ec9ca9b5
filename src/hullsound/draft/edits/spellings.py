"""Operators, numbers and host variables that one engine spells in a way of its own."""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.sql.lexer import NUMBER, STRING
from hullsound.sql.literals import has_escapes, string_content, string_literal
from hullsound.sql.tree import Bind, Clause, Comparison, Delete, Insert, Name, Node, Operation, TableFunction, Update

from .rewrite import CannotDraft, Point, Rewriter

_ON_BITS: Final = frozenset(("&", "|", "<<", ">>", "~"))
_CUTTING_BITS: Final = ("postgresql", "mysql", "mariadb")
"""Targets for which the conversions of SQLite cut numbers to their whole part."""
_JOINED_WITH_SIGNS: Final = frozenset(("~", "%", "^", "&", "|"))
SHORT_WORDS: Final = {"SEL": "SELECT", "INS": "INSERT", "UPD": "UPDATE", "DEL": "DELETE"}
"""Words of Teradata and what they are short for."""
_WHOLE: Final = frozenset((Family.INTEGER, Family.UNKNOWN))


def add_spellings(rewriter: Rewriter) -> None:
    """Add the points of what Db2 and SQLite spell otherwise, and of signs that run into an operator."""
    if rewriter.catalog.engine == "db2":
        _add_for_db2(rewriter)
    elif rewriter.catalog.engine == "sqlite":
        _add_for_sqlite(rewriter)
    elif rewriter.catalog.engine == "teradata" and rewriter.target.engine != "postgresql":
        _add_for_teradata(rewriter)
    elif rewriter.catalog.engine == "postgresql" and rewriter.target.engine != "postgresql":
        _add_escaped_texts(rewriter)
    _part_signs(rewriter)


def _add_for_teradata(rewriter: Rewriter) -> None:
    """Write the words of every statement of a run of rows in full, and leave out ALL behind DELETE.

    Raises CannotDraft for rows that come from a file of the client.
    """
    words = rewriter.words
    if words[rewriter.subject.read.first] == "USING":
        raise CannotDraft("rows that a client reads from a file")
    changes: list[Insert | Update | Delete] = [
        *rewriter.subject.all(Insert), *rewriter.subject.all(Update), *rewriter.subject.all(Delete),
    ]  # fmt: skip
    for change in changes:
        if words[change.first] in SHORT_WORDS:
            rewriter.replace(change.first, change.first + 1, SHORT_WORDS[words[change.first]])
        if isinstance(change, Delete) and words[change.last - 1] == "ALL":
            rewriter.replace(change.last - 1, change.last, "")


def _add_escaped_texts(rewriter: Rewriter) -> None:
    """Write what E'...' holds: elsewhere a backslash stands for itself, or escapes other signs."""
    tokens = rewriter.tokens
    for at in range(rewriter.subject.read.first, rewriter.subject.read.last):
        if tokens.kinds[at] == STRING and has_escapes(source := tokens.source(at, at + 1)):
            rewriter.add(Point(at, at + 1, partial(_plain_text, source), rank=1))


def _plain_text(source: str, rewriter: Rewriter) -> str:
    content = string_content(source, "postgresql")
    if "\0" in content:
        raise CannotDraft("a text with a sign of no value")
    return string_literal(content, rewriter.target.engine)


def _part_signs(rewriter: Rewriter) -> None:
    """Put a blank before a sign that would make another operator, or a comment, of the one before it.

    Two minuses begin a comment, in MySQL before a blank alone; PostgreSQL reads `%-` and its like as one operator (PostgreSQL 18,
    "Lexical Structure").
    """
    words, starts, ends = rewriter.words, rewriter.tokens.starts, rewriter.tokens.ends
    before = {"-"} if rewriter.catalog.engine in ("mysql", "mariadb") else set()
    if rewriter.target.engine == "postgresql" and rewriter.catalog.engine != "postgresql":
        before |= _JOINED_WITH_SIGNS
    for at in range(rewriter.subject.read.first, rewriter.subject.read.last - 1) if before else ():
        if words[at + 1] in ("-", "+") and words[at] in before and ends[at] == starts[at + 1]:
            rewriter.insert(at + 1, " ")


def _add_for_db2(rewriter: Rewriter) -> None:
    subject, words = rewriter.subject, rewriter.words
    for node in subject.all(Operation):
        for before, after, operator in zip(node.operands, node.operands[1:], node.operators, strict=False):
            at = next((i for i in range(before.last, after.first) if words[i] == "CONCAT"), -1)
            if operator == "||" and at >= 0:
                rewriter.replace(at, at + 1, "||")
    for source in subject.all(TableFunction):
        if words[source.first] == "TABLE":
            rewriter.add(Point(source.first, source.call.last + 1, partial(_plain_call, source)))
    for clause in subject.all(Clause):
        if clause.name == "values-query" and words[clause.first + 1] != "(":
            # A row of one value stands without brackets.
            rewriter.insert(clause.first + 1, "(")
            rewriter.add(Point(clause.last, clause.last, lambda _: ")", behind=0, is_last=True))


def _plain_call(source: TableFunction, rewriter: Rewriter) -> str:
    return rewriter.node(source.call)


def _whole(operand: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(operand)} AS bigint)"


def _add_for_sqlite(rewriter: Rewriter) -> None:
    subject, words, tokens = rewriter.subject, rewriter.words, rewriter.tokens
    for at in range(subject.read.first, subject.read.last):
        if words[at] == "==":
            rewriter.replace(at, at + 1, "=")
        elif tokens.kinds[at] == NUMBER and words[at].startswith("0X"):
            rewriter.replace(at, at + 1, str(int(words[at], 16)))
    for test in subject.all(Comparison):
        ending = words[test.last - 3 : test.last]
        if test.operator == "IS NULL" and ending[1:] == ["NOT", "NULL"] and ending[0] != "IS":
            rewriter.replace(test.last - 2, test.last, "IS NOT NULL")
    for node in subject.all(Operation):
        for operand in node.operands if set(node.operators) & _ON_BITS else ():
            family = rewriter.types.family(operand)
            is_cut = family is Family.NUMBER and rewriter.target.engine in _CUTTING_BITS
            if isinstance(operand, Name) and family not in _WHOLE and not is_cut:
                rewriter.wrap(operand, partial(_whole, operand))
    for number, bind in enumerate(subject.all(Bind), start=1):
        sign, name = words[bind.first][:1], words[bind.first][1:].lower()
        if sign in ("@", "$") or (sign == "?" and name.isdigit()) or words[bind.first] == "?":
            rewriter.replace(bind.first, bind.last, f":{name if name and not name.isdigit() else f'p{name or number}'}")
