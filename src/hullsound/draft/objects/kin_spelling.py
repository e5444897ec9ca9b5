"""What kin spell otherwise in every statement: marks of version comments, texts in double quotes, columns without NULL."""

import re
from typing import Final

from hullsound.draft.conversions.ase_values import add_ase_values
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.edit import Edit
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_literal
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import ColumnDefinition

_SPELLING: Final = "draft.spelling"
_MARK: Final = re.compile(
    r"/\*(?!M?!)[\s\S]*?\*/|--[^\n]*|#[^\n]*|(?P<opens>/\*M?!(?:\d{5,6})?)|(?P<closes>\*/)|(?P<drops>\\(?=\r?\n))"
)
"""Comments, and what only the client heeds: marks of version comments, and a backslash at the end of a line."""


def version_marks(read: ReadStatement) -> list[Edit]:
    """Take out backslashes at ends of lines, and the marks of version comments that were cut off from their other halves.

    Where a comment had begun before the statement, all marks go: what they told the server holds for all that is left.
    """
    always, marks, opened = [], [], 0
    is_cut = False
    tokens, text = read.tokens, read.tokens.text
    for at in range(read.first, read.last):
        start, end = tokens.ends[at], tokens.starts[at + 1] if at + 1 < read.last else len(text)
        for mark in _MARK.finditer(text, start, end):
            edit = Edit(mark.start(), mark.end(), "", _SPELLING)
            if mark["drops"]:
                always.append(edit)
            elif mark["opens"] or mark["closes"]:
                marks.append(edit)
                opened += 1 if mark["opens"] else -1
                is_cut = is_cut or opened < 0
    return always + (marks if is_cut or opened > 0 else [])


def add_for_sqlserver(rewriter: Rewriter) -> None:
    """Write what ASE reads otherwise: texts in double quotes, which are names to SQL Server, and columns that take no NULL.

    Sources: ASE 16 Reference Manual, "Commands", CREATE TABLE (NOT NULL unless the column says NULL) and SET QUOTED_IDENTIFIER
    (off at first); SQL Server 2022, "SET QUOTED_IDENTIFIER" (on for its drivers).
    """
    with rewriter.asked_by("convert.ase-text"):
        add_ase_values(rewriter)
    read = rewriter.subject.read
    tokens = read.tokens
    for at in range(read.first, read.last):
        if tokens.kinds[at] == STRING and tokens.text[tokens.starts[at]] == '"':
            text = tokens.source(at, at + 1)[1:-1].replace('""', '"')
            rewriter.replace(at, at + 1, string_literal(text, "sqlserver"), _SPELLING)
    for column in read.all(ColumnDefinition):
        words = tokens.words[column.first : column.last]
        if not column.nullable and not column.identity and {"NULL", "PRIMARY"}.isdisjoint(words):
            rewriter.insert(column.last, " NOT NULL", "ase.nullable-by-default", behind=column.first)
