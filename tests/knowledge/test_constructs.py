"""Every construct: its example is seen, look-alikes are not, and what is promised for it runs on a real PostgreSQL."""

from collections.abc import Iterator
from typing import Any

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.draft.files import prepare_text
from hullsound.draft.write import draft_all
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.load import load_constructs
from hullsound.knowledge.model import Construct, Way
from hullsound.knowledge.stances import load_stances, load_topics
from hullsound.knowledge.targets import all_targets, load_target, parse_target, takes, target_engines, target_functions
from hullsound.sql.dialect import ENGINES
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

CONSTRUCTS = sorted(load_constructs("oracle").values(), key=lambda c: c.id)
ALL = [c for engine in ENGINES for c in sorted(load_constructs(engine).values(), key=lambda c: c.id)]


def ids(construct: Construct) -> str:
    return construct.id


def sightings(engine: str, files: list[ScriptFile], text: str) -> set[str]:
    files = [*files, ScriptFile("example.sql", end_statement(text, engine), "")]
    return {s.construct for s in steps.survey_texts(files, engine).sightings if s.file == "example.sql"}


@pytest.mark.parametrize("construct", ALL, ids=ids)
def test_example_is_seen_and_look_alikes_are_not(construct: Construct, example_schema: ScriptFile) -> None:
    """The example is seen; neither the look-alike nor the example's text inside a literal and a comment is."""
    engine = construct.id.partition(".")[0]
    files = [example_schema] if engine == "oracle" else []
    assert construct.id in sightings(engine, files, construct.example)
    if construct.unlike:
        assert construct.id not in sightings(engine, files, construct.unlike)
    hidden = construct.example.replace("*/", "* /").replace("/*", "/ *")
    quoted = construct.example.replace("'", "''").replace("\\", "/")
    look_alike = f"SELECT name AS s FROM vessels WHERE name <> '{quoted}' /* {hidden} */"
    assert construct.id not in sightings(engine, files, look_alike)


@pytest.mark.parametrize("target", all_targets(), ids=str)
def test_every_construct_has_a_stance_on_every_target(target: Target) -> None:
    for engine in (each for each in ENGINES if takes(target.engine, each)):
        stances = load_stances(engine, target)
        assert set(load_constructs(engine)) == set(stances)
        for stance in stances.values():
            assert stance.way is Way.SAME or stance.remedy, stance.construct


@pytest.mark.parametrize("target", target_engines())
def test_a_function_that_crosses_as_it_is_exists_on_the_target(target: str) -> None:
    names = target_functions(target)
    wrong = [
        (construct.id, name)
        for engine in ENGINES
        if engine != target and engine not in load_target(target).kin and takes(target, engine)
        for construct in load_constructs(engine).values()
        for name in construct.match.names("function")
        if load_stances(engine, parse_target(target))[construct.id].way is Way.SAME
        and not name.endswith("*")
        and name not in names
    ]
    assert not wrong


def test_every_topic_that_a_target_answers_is_raised_by_a_construct() -> None:
    raised = {construct.topic for construct in ALL}
    for engine in target_engines():
        assert not set(load_topics(engine)) - raised, engine


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
    from hullsound.trial.on_postgresql import try_draft

    files = [example_schema, ScriptFile("example.sql", end_statement(construct.example, "oracle"), "")]
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
