"""What the manuals of four engines state, against what drafts of it give on real servers: each value in each slot.

An object that is promised must give every stated value; of those to confirm few may give another.
"""

from collections import Counter
from collections.abc import Callable, Iterator
from functools import cache
from typing import Any, Final, NamedTuple

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import private_mariadb, root_connection
from hullsound.trial.postgresql import scratch_database
from tests.manuals import db2, oracle, sqlserver, teradata
from tests.manuals.dialects import DIALECTS
from tests.manuals.model import Manual, Value
from tests.manuals.runs import Case, columns, inserts, is_given, laid_out

MANUALS: Final[dict[str, Manual]] = {
    "oracle": oracle.MANUAL, "sqlserver": sqlserver.MANUAL, "db2": db2.MANUAL, "teradata": teradata.MANUAL,
}  # fmt: skip
PROMISED: Final = ("as-is", "drafted")
LEAST_PROMISED: Final = 0.8
"""The share of values whose objects are promised without a person's look, to PostgreSQL."""
MOST_UNLIKE: Final = 0.01
"""The share of values to confirm that may be another."""


class Drafted(NamedTuple):
    """One manual's script, surveyed, judged and drafted."""

    cases: list[Case]
    outcomes: dict[str, str]
    drafts: dict[str, Draft]
    tables: list[str]


def name_of(object_id: str) -> str:
    """Return the last part of an object's id, without the types of its parameters."""
    return object_id.partition("(")[0].rpartition(".")[2].lower()


@cache
def drafted(engine: str, target: str) -> Drafted:
    script, cases = laid_out(MANUALS[engine], DIALECTS[engine])
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)
    outcomes = {name_of(each.id): str(each.outcome) for each in case.document.objects}
    drafts = steps.draft_case(case).drafts
    tables = [each.text for each in drafts if each.object.type.value == "table"]
    return Drafted(cases, outcomes, {name_of(each.object.id): each for each in drafts}, tables)


def unlike(made: Drafted, run: Callable[[str], list[Any]], tell: Counter[str]) -> Iterator[str]:
    """Run each promised or to be confirmed draft and yield what differs; count values by outcome."""
    for case in made.cases:
        name = name_of(case.object)
        outcome, draft = made.outcomes[name], made.drafts[name]
        tell[outcome] += len(case.rows)
        if outcome not in (*PROMISED, "confirm"):
            continue
        try:
            run(draft.text)
            given = run(question(case, draft))
        except Exception as error:  # the drivers' own, whatever they are
            tell[f"{outcome}: failed"] += len(case.rows)
            yield f"{outcome} {case.stated.expression} {case.slot}: {error}\n  {draft.text}"
            continue
        for (arguments, stated), value in zip(case.rows, given, strict=True):
            if not is_given(value, stated):
                tell[f"{outcome}: unlike"] += 1
                yield f"{outcome} {case.stated.expression} {arguments}: {value!r} for {stated!r}\n  {draft.text}"


def question(case: Case, draft: Draft) -> str:
    schema = "dbo." if draft.object.schema else ""
    name = f"{schema}{name_of(case.object)}"
    if case.slot == "parameter":
        arguments = ", ".join(columns(case.stated.kinds))
        return f"SELECT {name}({arguments}) FROM t WHERE f = {case.number} ORDER BY k"
    return f"SELECT r FROM {name}" + (" ORDER BY k" if case.slot == "column" else "")


def is_promise(line: str) -> bool:
    return line.startswith(PROMISED)


@pytest.mark.server
@pytest.mark.parametrize("engine", MANUALS)
def test_manual_on_postgresql(engine: str, server_url: str) -> None:
    made, tell = drafted(engine, "postgresql:18"), Counter[str]()

    def quoted(value: Value) -> str:
        return "NULL" if value is None else "'" + str(value).replace("'", "''") + "'"

    with scratch_database(server_url) as connection:
        connection.autocommit = True

        def run(text: str) -> list[Any]:
            done = connection.execute(text.encode())
            return [row[0] for row in done.fetchall()] if done.description else []

        for text in (
            "CREATE SCHEMA dbo",
            "SET search_path = public, dbo",
            *made.tables,
            *inserts(MANUALS[engine], quoted),
        ):
            run(text)
        lines = list(unlike(made, run, tell))
    assert not [line for line in lines if is_promise(line)], tell
    values = sum(count for outcome, count in tell.items() if ":" not in outcome)
    assert sum(tell[each] for each in PROMISED) >= LEAST_PROMISED * values, tell
    assert len(lines) <= MOST_UNLIKE * tell["confirm"], lines[:5]


@pytest.mark.server
@pytest.mark.parametrize("engine", MANUALS)
def test_manual_on_mariadb(engine: str, mariadb: Any) -> None:
    """Texts tell case apart for Oracle and Db2, as the finding for the database says to choose."""
    made, tell = drafted(engine, "mariadb:10.11"), Counter[str]()

    def quoted(value: Value) -> str:
        return "NULL" if value is None else "'" + str(value).replace("\\", "\\\\").replace("'", "''") + "'"

    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:

        def run(text: str) -> list[Any]:
            cursor.execute(text)
            return [row[0] for row in cursor.fetchall()]

        collation = "utf8mb4_bin" if engine in ("oracle", "db2") else "utf8mb4_general_ci"
        start = (f"CREATE DATABASE dbo COLLATE {collation}", "USE dbo", f"SET NAMES utf8mb4 COLLATE {collation}")
        for text in (*start, *made.tables, *inserts(MANUALS[engine], quoted)):
            run(text)
        lines = list(unlike(made, run, tell))
    assert not [line for line in lines if is_promise(line)], tell
    assert len(lines) <= MOST_UNLIKE * tell["confirm"], lines[:5]


@pytest.mark.parametrize("engine", MANUALS)
def test_manual_states_much(engine: str) -> None:
    rows = [row for stated in MANUALS[engine].stated for row in stated.rows()]
    assert len(rows) > 800
    assert {value is None for _, value in rows} == {True, False}
