"""Made-up work for tests of the plan: judged catalogues with given needs, hours and blockers."""

from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path

from hullsound import steps
from hullsound.assess.effort import estimate_objects
from hullsound.assess.model import Assessment, Finding, Judged, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType, Reference
from hullsound.demo import scripts_of
from hullsound.knowledge.model import Severity, Way
from hullsound.knowledge.targets import parse_target
from hullsound.plan.work import PlanSource
from hullsound.settings import EffortRules


def source_of(
    needs: Mapping[str, Iterable[str]],
    minutes: Mapping[str, float] | None = None,
    blocked: Iterable[str] = (),
    constructs: Mapping[str, Sequence[str]] | None = None,
    name: str = "made",
) -> PlanSource:
    """Return a source whose procedures need others; `minutes` are the likely ones of each, 60 where nothing is said."""
    catalog = Catalog("oracle", "19", name)
    stopping = set(blocked)
    judged = []
    for place, each in enumerate(needs):
        item = Object(ident(each), ObjectType.PROCEDURE, "S", each.upper(), "made.sql", place, "", 1)
        catalog.add(item)
        likely = (minutes or {}).get(each, 60.0)
        own = (constructs or {}).get(each, ("oracle.made-up",))
        findings = [finding(item.id, construct, likely / len(own), is_blocker=each in stopping) for construct in own]
        outcome = Outcome.BLOCKED if each in stopping else Outcome.REWRITE
        judged.append(Judged(item, outcome, findings, rank=place + 1))
    for user, used in ((user, used) for user, those in needs.items() for used in those):
        catalog.references.append(Reference(ident(user), "routine", used.upper(), ident(used), 1))
    total = estimate_objects(judged, [], EffortRules())
    return PlanSource(name, catalog, Assessment(parse_target("postgresql:18"), judged, [], total))


def ident(name: str) -> str:
    return f"s.procedure.{name}"


def finding(item: str, construct: str, likely: float, *, is_blocker: bool) -> Finding:
    severity, way = (Severity.BLOCKER, Way.NONE) if is_blocker else (Severity.WARNING, Way.REWRITE)
    minutes = (likely / 2, likely, likely * 3)
    return Finding(
        construct, severity, way, item, "made.sql", 1, 1, 1, 1, "", f"{construct} is there.", "Do it.", minutes
    )


def demo_source(engine: str = "oracle", target: str = "postgresql:18") -> PlanSource:
    """Return a system of the demo, judged."""
    case = steps.assess_catalog(steps.survey_scripts(Path(scripts_of(engine)), engine, name="demo"), target)
    return PlanSource("demo", case.catalog, case.assessment)
