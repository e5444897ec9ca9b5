"""Transact-SQL of SQL Server, 2012 to 2025, and the directives of its command-line client (Transact-SQL Reference)."""

from dataclasses import replace
from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, Literal, NameCase, quoted
from hullsound.sql.levels import ADD, COMPARE, MULTIPLY, POWER

from .common import ALIASES_STOP, CHARACTER_TYPES, LINE_COMMENT, NESTED_COMMENT, NUMBER, RESERVED

TSQL_RESERVED: Final = RESERVED | frozenset(
    """ADD ALTER BACKUP BEGIN BREAK BROWSE BULK CHECKPOINT CLOSE CLUSTERED COMMIT COMPUTE CONTINUE CURSOR DBCC DEALLOCATE
    DECLARE DENY END EXEC EXECUTE EXIT FETCH GOTO HOLDLOCK IDENTITY_INSERT IF KILL MERGE OPEN OPTION OVER PRINT
    PROC PROCEDURE RAISERROR READTEXT RECONFIGURE RESTORE RETURN REVERT REVOKE ROLLBACK SAVE SETUSER SHUTDOWN TOP
    TRAN TRANSACTION TRIGGER TRUNCATE UPDATETEXT USE VIEW WAITFOR WHILE WRITETEXT FULL OUTER PIVOT UNPIVOT PERCENT
    COLLATE DEFAULT FUNCTION""".split()
)
TSQL_ALIASES_STOP: Final = ALIASES_STOP | frozenset(
    """APPLY OPTION OUTPUT THROW OVER FOR ENABLE DISABLE SEND RECEIVE MOVE CONVERSATION""".split()
)
TSQL_OPERATORS: Final = {
    "%": MULTIPLY,
    **dict.fromkeys(("&", "|", "^"), ADD),
    **dict.fromkeys(("!<", "!>", "*=", "=*"), COMPARE),
    "<<": POWER,
    ">>": POWER,
}
BRACKETS: Final = Literal(r"\[", r"[^\]]*(?:\]\][^\]]*)*", r"\]", is_name=True)
TSQL_TOKENS: Final = (
    r"(?:[^\W\d]|[@#])[\w$#@]*",
    r"\$\(\w+\)[\w$#@]*|\$[^\W\d]\w*|\$\d+(?:\.\d*)?",
    rf"0X[0-9A-F]*|{NUMBER}",
    r"<>|!=|!<|!>|<=|>=|\*=|=\*|\+=|-=|/=|%=|&=|\|=|\^=|::|\|\||<<|>>",
)

DIALECT: Final = Dialect(
    engine="sqlserver",
    title="SQL Server",
    client=Client.BATCH,
    grammar=Grammar.TSQL,
    name_case=NameCase.INSENSITIVE,
    literals=(quoted("'", prefix="N?"), quoted('"', is_name=True), BRACKETS),
    token_patterns=TSQL_TOKENS,
    reserved=TSQL_RESERVED,
    aliases_stop=TSQL_ALIASES_STOP,
    comments=(LINE_COMMENT, NESTED_COMMENT),
    word_openers="@#$",
    bind_openers="",
    operators=TSQL_OPERATORS,
    multiword_types=CHARACTER_TYPES,
    type_endings=frozenset(("VARYING",)),
    directives=dict.fromkeys(
        (":R", ":SETVAR", ":ON", ":OUT", ":ERROR", ":CONNECT", ":EXIT", ":QUIT", ":HELP", ":LIST", ":LISTVAR", ":PERFTRACE",
         ":RESET", ":SERVERLIST", ":XML", ":ED", "!!"),
        (),
    ),
)  # fmt: skip


def in_modes(modes: frozenset[str]) -> Dialect:
    """Return the dialect as SET QUOTED_IDENTIFIER OFF and ANSI_NULLS OFF make it; SQL Server starts with both on."""
    modes &= {"NO_QUOTED_IDENTIFIER", "NO_ANSI_NULLS"}
    if "NO_QUOTED_IDENTIFIER" not in modes:
        return replace(DIALECT, modes=modes)
    return replace(DIALECT, modes=modes, literals=(quoted("'", prefix="N?"), quoted('"'), BRACKETS))
