"""Plans a made-up estate of 20,000 objects in 200 clusters, and prints seconds and the most memory used.

Run: python bench/plan.py [OBJECTS] [CLUSTERS]
"""

import random
import resource
import sys
import time
from datetime import date

from hullsound.assess.effort import estimate_objects
from hullsound.assess.model import Assessment, Finding, Judged, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType, Reference
from hullsound.knowledge.model import Severity, Way
from hullsound.knowledge.targets import parse_target
from hullsound.plan.make import make_plan
from hullsound.plan.work import PlanSource
from hullsound.settings import Settings

SEED = 7


def made_up_source(objects: int, clusters: int) -> PlanSource:
    """Return a judged catalogue whose objects need others of their cluster, and now and then one of another."""
    rng = random.Random(SEED)
    catalog = Catalog("oracle", "19", "estate")
    judged = []
    for number in range(objects):
        kind = rng.choice((ObjectType.TABLE, ObjectType.VIEW, ObjectType.PROCEDURE, ObjectType.FUNCTION))
        item = Object(
            f"s.{kind.value}.o{number}", kind, "S", f"O{number}", "made-up.sql", number, "", rng.randint(3, 200)
        )
        catalog.add(item)
        outcome = rng.choices(list(Outcome), (40, 35, 10, 13, 2))[0]
        findings = [finding(rng, item.id, outcome) for _ in range(rng.randint(0, 4))]
        judged.append(Judged(item, outcome, findings, rank=number))
    ids = list(catalog.objects)
    size = max(objects // clusters, 1)
    for number in range(1, objects):
        first = number - number % size
        for _ in range(rng.randint(0, 4)):
            is_far = rng.random() < 0.02
            other = rng.randrange(number) if is_far else rng.randint(first, min(first + size, objects) - 1)
            if other != number:
                used = catalog.objects[ids[min(other, number)]]
                catalog.references.append(Reference(ids[max(other, number)], "table", used.name, used.id, 1))
    settings = Settings()
    total = estimate_objects(judged, [], settings.effort)
    return PlanSource("estate", catalog, Assessment(parse_target("postgresql:18"), judged, [], total))


def finding(rng: random.Random, item: str, outcome: Outcome) -> Finding:
    """Return a finding that costs what such findings cost."""
    severity = Severity.BLOCKER if outcome is Outcome.BLOCKED else Severity.WARNING
    low = rng.uniform(1, 40)
    minutes = (low, low * 2, low * 6)
    construct = f"oracle.made-up-{rng.randint(1, 300)}"
    return Finding(construct, severity, Way.REWRITE, item, "made-up.sql", 1, 1, 1, 1, "", "", "", minutes)


def main() -> None:
    objects, clusters = (int(text) for text in (sys.argv[1:3] if len(sys.argv) > 2 else ("20000", "200")))
    source = made_up_source(objects, clusters)
    begin = time.perf_counter()
    settings = Settings().with_given("plan", start=date(2027, 2, 1), team=20)
    plan = make_plan([source], settings)
    seconds = time.perf_counter() - begin
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"{objects} objects in {clusters} clusters: {len(plan.waves)} waves, {plan.cut_edges} of {plan.edges} edges cut"
    )
    print(f"{seconds:.1f} s, {peak:.0f} MB")


if __name__ == "__main__":
    main()
