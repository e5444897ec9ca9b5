"""Drafting leaves nothing in rings that only the garbage collector would find: it is held back while a source is drafted."""

import gc
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.demo import SYSTEMS, scripts_of
from hullsound.knowledge.targets import parse_target
from hullsound.steps.assess import judge_with_drafts

MOST = 500
"""Objects in rings of a whole demo that are let pass: those of drafts that a form ended before all was set up."""


@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:11.8", "sqlserver:2022"])
@pytest.mark.parametrize("engine", ["oracle", "sqlserver", "mysql", "db2", "postgresql"])
def test_no_rings_are_left(engine: str, target: str) -> None:
    catalog = steps.survey_scripts(Path(str(scripts_of(engine))), engine, SYSTEMS[engine].version)
    chosen = parse_target(target)
    judge_with_drafts(catalog, chosen)  # what is loaded once is loaded now
    gc.collect()
    gc.disable()
    try:
        made = judge_with_drafts(catalog, chosen)
        left = gc.collect()
    finally:
        gc.enable()
    assert made
    assert left <= MOST
