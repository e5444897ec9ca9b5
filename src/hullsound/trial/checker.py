"""Bodies of PL/pgSQL by the extension plpgsql_check, where the server has it: it looks at each statement as running would."""

import re
from typing import TYPE_CHECKING, Any, Final

from .bodies import WORTH_TELLING, BodyFault

if TYPE_CHECKING:
    import psycopg

_CREATED: Final = re.compile(
    r"(?m)^\s*CREATE (?:OR REPLACE )?(?:FUNCTION|PROCEDURE) ((?:\"(?:[^\"]|\"\")+\"|[\w$]+)(?:\.(?:\"(?:[^\"]|\"\")+\"|[\w$]+))?)"
)
_QUOTE: Final = re.compile(r"^(?:AS )?(\$hull\d*\$)", re.MULTILINE)
_CHECK: Final = """
SELECT c.lineno, c.sqlstate, c.message
FROM pg_proc AS p
JOIN pg_language AS l ON l.oid = p.prolang AND l.lanname = 'plpgsql'
LEFT JOIN pg_trigger AS t ON t.tgfoid = p.oid
CROSS JOIN LATERAL plpgsql_check_function_tb(
  funcoid => p.oid, relid => COALESCE(t.tgrelid, 0), fatal_errors => false, other_warnings => false,
  performance_warnings => false, extra_warnings => false, oldtable => t.tgoldtable, newtable => t.tgnewtable) AS c
WHERE p.oid = to_regproc(%s)
  AND (p.prorettype <> 'trigger'::regtype OR t.oid IS NOT NULL) AND c.level = 'error'
ORDER BY c.lineno
"""


def load_checker(connection: "psycopg.Connection[Any]") -> bool:
    """Load the extension into the scratch database, in the transaction that is rolled back; False where it is not there."""
    from psycopg import Error

    found = connection.execute("SELECT FROM pg_available_extensions WHERE name = 'plpgsql_check'").fetchone()
    if found is None:
        return False
    try:
        with connection.transaction():
            connection.execute("CREATE EXTENSION IF NOT EXISTS plpgsql_check SCHEMA public")
    except Error:
        return False  # the user may not create it
    return True


def can_check(text: str) -> bool:
    """Whether the checker can look at a draft: temporary tables are there only once the code has run."""
    return "CREATE TEMP TABLE" not in text and "pg_temp." not in text


def check_created(connection: "psycopg.Connection[Any]", text: str) -> BodyFault | None:
    """Return the first error in the routines that a draft has created; None where there is none, or nothing could be checked."""
    from psycopg import Error

    for match in _CREATED.finditer(text):
        try:
            with connection.transaction():
                rows = connection.execute(_CHECK.encode(), [match[1]], prepare=False).fetchall()
        except Error:
            continue  # an overloaded name, or a form that the checker does not know
        for line, state, message in rows:
            if str(state).startswith(WORTH_TELLING):
                return BodyFault(str(message), _offset(text, match.end(), line or 1))
    return None


def _offset(text: str, start: int, line: int) -> int:
    """Return where a line of a body stands in the text of its draft."""
    quote = _QUOTE.search(text, start)
    at = quote.end() if quote is not None else start
    for _ in range(line - 1):
        following = text.find("\n", at)
        if following < 0:
            break
        at = following + 1
    return at
