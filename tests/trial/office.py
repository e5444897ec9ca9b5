"""The drafts of one script on a real PostgreSQL, to be called by tests."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from hullsound import steps
from hullsound.draft.write import draft_all
from hullsound.knowledge.targets import parse_target
from hullsound.survey.files import ScriptFile
from hullsound.trial.behaviour import BehaviourCase, Observed, find_routine
from hullsound.trial.postgresql import scratch_database
from hullsound.trial.sides import PostgresqlSide

DATA = Path(__file__).parents[1] / "data" / "behaviour"
Rows = dict[str, list[dict[str, Any]]]


class Office:
    def __init__(self, side: PostgresqlSide, rows: Rows) -> None:
        self.side = side
        self.rows = rows

    def call(self, name: str, arguments: tuple[Any, ...], query: str = "") -> Observed:
        """Call a routine on fresh rows; what `query` finds behind it is kept as the table `found`."""
        item = find_routine(self.side.catalog, name)
        return self.side.observe(BehaviourCase(name, routine=name, arguments=arguments), item, self.rows, query)

    def function(self, name: str, arguments: tuple[Any, ...]) -> Any:
        """Return the value of a function, a member of a package among them."""
        if any(item.routines and item.id.endswith(f".{name}") for item in self.side.catalog.objects.values()):
            seen = self.call(name, arguments)
            assert not seen.failed, seen.error
            return seen.values[0]
        return self.side.ask(f"SELECT pk.{name}(%s)", list(arguments))[0][0]


@contextmanager
def open_office(file: str, engine: str, server_url: str, rows: Rows) -> Iterator[Office]:
    """Draft a script of which every object must be promised, and create the drafts."""
    text = (DATA / file).read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile(file, text, "")], engine), "postgresql:18")
    assert not [o.object.id for o in case.assessment.objects if o.outcome.value in ("rewrite", "blocked")]
    with scratch_database(server_url) as connection:
        connection.autocommit = True
        drafts = draft_all(case.catalog, case.assessment)
        yield Office(PostgresqlSide(connection, case.catalog, drafts, parse_target("postgresql:18")), rows)
