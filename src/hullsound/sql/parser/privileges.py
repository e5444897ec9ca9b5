"""The list of privileges that GRANT, REVOKE and DENY begin with."""

from hullsound.sql.lexer import END
from hullsound.sql.parser.core import Core


def read_privileges(parser: Core) -> list[str]:
    """Read privileges up to ON, TO or FROM, each as its words; columns in parentheses are passed over.

    Raises Unreadable where the statement ends before.
    """
    privileges: list[str] = []
    current: list[str] = []
    while parser.words[parser.pos] not in ("ON", "TO", "FROM"):
        if parser.kinds[parser.pos] == END:
            parser.fail("ON or TO")
        if parser.words[parser.pos] == "(":
            parser.skip_parenthesized()
        elif parser.accept(","):
            privileges.append(" ".join(current))
            current = []
        else:
            current.append(parser.words[parser.pos])
            parser.pos += 1
    privileges.append(" ".join(current))
    return privileges
