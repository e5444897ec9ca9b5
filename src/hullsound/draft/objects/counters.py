"""Sequences for MySQL, which has none: a table of one row that holds the number given last, and a function that gives the next one.

Sources: MySQL 8.4 Reference Manual, "CREATE PROCEDURE and CREATE FUNCTION Statements" and "InnoDB Locking".
"""

from collections.abc import Mapping

from hullsound.draft.edits.rewrite import CannotDraft


def counter_text(table: str, function: str, options: Mapping[str, str]) -> str:
    """Return the statements that make a counter. Raises CannotDraft for one that begins anew, or whose numbers are not known."""
    if "cycle" in options:
        raise CannotDraft("a sequence that begins anew at its end")
    step = options.get("increment", "") or "1"
    first = options.get("restart", "") or options.get("start", "") or options.get("minvalue", "") or "1"
    if not step.lstrip("-").isdigit() or not first.lstrip("-").isdigit() or step.startswith("-"):
        raise CannotDraft("a sequence that counts down, or by numbers that are not known")
    return f"""CREATE TABLE {table} (
  one tinyint NOT NULL DEFAULT 1 PRIMARY KEY CHECK (one = 1),
  given bigint NOT NULL
);
INSERT INTO {table} (given) VALUES ({int(first) - int(step)});
CREATE FUNCTION {function}()
RETURNS bigint
MODIFIES SQL DATA
BEGIN
  DECLARE v_given bigint;
  UPDATE {table} SET given = given + {step};
  SELECT given INTO v_given FROM {table};
  RETURN v_given;
END;"""
