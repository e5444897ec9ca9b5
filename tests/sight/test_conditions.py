"""Conditions by which knowledge tells parts of a construct apart: constant arguments settle what others leave open."""

import pytest

from hullsound import steps
from hullsound.knowledge.load import load_constructs
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.targets import all_targets, takes
from hullsound.sql.dialect import ENGINES
from hullsound.survey.files import ScriptFile


@pytest.mark.parametrize(
    ("engine", "expression", "construct"),
    [
        ("mysql", "SUBSTRING(a, 2, 3)", "substring-of-constants"),
        ("mysql", "SUBSTRING(a, -2)", "substring-at-constants"),
        ("mysql", "SUBSTRING(a, -2, 1)", "substring-at-constants"),
        ("mysql", "SUBSTRING(a, 0, 1)", "substring"),
        ("mysql", "SUBSTRING(a, b, 1)", "substring"),
        ("mysql", "LEFT(a, 3)", "left-of-constant"),
        ("mysql", "LEFT(a, -3)", "left"),
        ("postgresql", "right(a, 2)", "right-of-constant"),
        ("postgresql", "right(a, -2)", "right"),
        ("sqlserver", "LOG(a)", "log-of-one"),
        ("sqlserver", "LOG(a, 2)", "log"),
        ("sqlserver", "DATEPART(yyyy, a)", "settled-datepart"),
        ("sqlserver", "DATEPART(week, a)", "datepart"),
        ("sqlserver", "DATEPART(dw, a)", "datepart"),
        ("sqlite", "a LIKE 'x%'", "like-of-ascii"),
        ("sqlite", "a LIKE '\u00e4%'", "like-ignores-case"),
        ("sqlite", "a LIKE b", "like-ignores-case"),
    ],
)
def test_the_narrowest_construct_that_holds_is_seen_alone(engine: str, expression: str, construct: str) -> None:
    end = "\nGO\n" if engine == "sqlserver" else ";"
    script = ScriptFile("a.sql", f"SELECT b FROM t WHERE {expression} > '1'{end}", "")
    if " LIKE " in expression:
        script = ScriptFile("a.sql", f"SELECT b FROM t WHERE {expression}{end}", "")
    kin = {c.id for c in load_constructs(engine).values() if f"{engine}.{construct}" in (c.id, c.wider)}
    kin |= {c.wider for c in load_constructs(engine).values() if c.id in kin and c.wider}
    kin |= {c.id for c in load_constructs(engine).values() if c.wider in kin}
    seen = [s.construct for s in steps.survey_texts([script], engine, is_whole=False).sightings if s.construct in kin]
    assert seen == [f"{engine}.{construct}"]


def test_a_target_that_does_not_tell_a_part_apart_says_the_same_to_it() -> None:
    silent = 0
    for target in all_targets():
        for engine in (each for each in ENGINES if takes(target.engine, each)):
            stances, constructs = load_stances(engine, target), load_constructs(engine)
            for construct in constructs.values():
                if construct.wider:
                    part, whole = stances[construct.id], stances[construct.wider]
                    silent += (part.way, part.remedy) == (whole.way, whole.remedy)
    assert silent > 10
