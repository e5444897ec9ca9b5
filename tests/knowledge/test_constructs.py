"""Every construct: its example is seen, look-alikes are not, and what is promised for it runs on a real PostgreSQL."""

from collections.abc import Iterator
from typing import Any

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.draft.write import draft_all, prepare_text
from hullsound.knowledge.load import load_constructs
from hullsound.knowledge.targets import load_target, parse_target
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.model import Construct, Way
from hullsound.survey.files import ScriptFile

CONSTRUCTS = sorted(load_constructs("oracle").values(), key=lambda c: c.id)
TARGETS = [
    f"postgresql:{v}@{h}" for v in load_target("postgresql").versions for h in load_target("postgresql").hostings
]


def ids(construct: Construct) -> str:
    return construct.id


def sightings(schema: ScriptFile, text: str) -> set[str]:
    catalog = steps.survey_texts([schema, ScriptFile("example.sql", ended(text), "")], "oracle")
    return {s.construct for s in catalog.sightings if s.file == "example.sql"}


def ended(text: str) -> str:
    """Close an example the way SQL*Plus would."""
    return text.rstrip().rstrip(";") + ";\n/\n"


@pytest.mark.parametrize("construct", CONSTRUCTS, ids=ids)
def test_example_is_seen_and_look_alikes_are_not(construct: Construct, example_schema: ScriptFile) -> None:
    assert construct.id in sightings(example_schema, construct.example)
    if construct.unlike:
        assert construct.id not in sightings(example_schema, construct.unlike)
    hidden = construct.example.replace("*/", "* /").replace("/*", "/ *")
    quoted = construct.example.replace("'", "''")
    look_alike = f"SELECT name AS s FROM vessels WHERE name <> '{quoted}' /* {hidden} */"
    assert construct.id not in sightings(example_schema, look_alike)


@pytest.mark.parametrize("target", TARGETS)
def test_every_construct_has_a_stance(target: str) -> None:
    stances = load_stances("oracle", parse_target(target))
    assert {c.id for c in CONSTRUCTS} == set(stances)
    for stance in stances.values():
        assert stance.way is Way.SAME or stance.remedy, stance.construct


@pytest.fixture(scope="module")
def schema_connection(server_url: str, example_schema: ScriptFile) -> Iterator[Any]:
    """A scratch database that holds the drafted example schema."""
    from hullsound.trial.postgresql import scratch_database

    case = steps.assess_catalog(steps.survey_texts([example_schema], "oracle"), "postgresql:18")
    drafts = draft_all(case.catalog, case.assessment)
    with scratch_database(server_url) as connection:
        connection.execute(prepare_text(drafts, "postgresql").encode())
        for draft in drafts.drafts:
            if draft.text:
                connection.execute(draft.text.encode())
        connection.execute("CREATE ROLE harbour_clerk")
        yield connection


@pytest.mark.server
@pytest.mark.parametrize("construct", CONSTRUCTS, ids=ids)
def test_promised_draft_is_accepted(construct: Construct, example_schema: ScriptFile, schema_connection: Any) -> None:
    """What is promised for the example, the real engine accepts; nothing of it is silently skipped."""
    from hullsound.trial.run import try_draft

    files = [example_schema, ScriptFile("example.sql", ended(construct.example), "")]
    case = steps.assess_catalog(steps.survey_texts(files, "oracle"), "postgresql:18")
    drafts = [d for d in draft_all(case.catalog, case.assessment).drafts if d.object.file == "example.sql"]
    with schema_connection.transaction(force_rollback=True):
        for draft in drafts:
            promised = draft.outcome in PROMISED
            assert not (promised and draft.skipped)
            result = try_draft(schema_connection, draft) if draft.text else None
            if promised:
                assert result is not None
                assert result.accepted, f"{result.message}\n{draft.text}"


@pytest.mark.server
@pytest.mark.parametrize(
    "construct", [c for c in CONSTRUCTS if load_stances("oracle", parse_target("postgresql:18"))[c.id].becomes], ids=ids
)
def test_becomes_runs(construct: Construct, schema_connection: Any) -> None:
    with schema_connection.transaction(force_rollback=True):
        schema_connection.execute(load_stances("oracle", parse_target("postgresql:18"))[construct.id].becomes)
