"""Runs an estate of made-up databases: the demo systems under other names, with planted clones, links and broken members.

Run: python bench/estate.py [MEMBERS] [WORKERS]
Prints members per minute and core, the most memory used, what was found of what was planted, and a second run after 10 changed.
"""

import random
import re
import resource
import shutil
import sys
import tempfile
import time
from pathlib import Path

import psutil

from hullsound.demo import scripts_of
from hullsound.estate.document import Estate
from hullsound.steps.estate import run_estate

TARGET = "postgresql:18"
SEED = 5
SYSTEMS = (("oracle", "harbour"), ("mysql", "yard"), ("sqlserver", "ferry"))
CLONE_GROUPS, CLONES = 10, 4
BROKEN_SHARE, LINKED_SHARE = 0.02, 0.05
_DROPPED = 0.35
"""Share of a system's files that a member lacks, so that members differ."""


def make_members(folder: Path, count: int) -> tuple[list[str], int, int]:
    """Write members; return their folders, and how many clones and broken ones were planted."""
    rng = random.Random(SEED)
    names = []
    clones = 0
    for number in range(count):
        engine, schema = SYSTEMS[number % len(SYSTEMS)]
        place = folder / f"db{number:04d}"
        is_clone = number >= count - CLONE_GROUPS * CLONES and number >= len(SYSTEMS) * CLONE_GROUPS
        if is_clone:
            clones += 1
            original = folder / f"db{(number % CLONE_GROUPS) * len(SYSTEMS):04d}"
            shutil.copytree(original, place)
        else:
            _write_member(rng, place, engine, schema, f"{schema}{number}", number)
        names.append(str(place))
    broken = rng.sample(range(count // 2, count // 2 + max(count // 4, 1)), max(int(count * BROKEN_SHARE), 1))
    for number in broken:
        shutil.rmtree(names[number])
    return names, clones, len(broken)


def _write_member(rng: random.Random, place: Path, engine: str, schema: str, own: str, number: int) -> None:
    for path in sorted(Path(scripts_of(engine)).rglob("*")):
        if not path.is_file() or (number >= len(SYSTEMS) and rng.random() < _DROPPED and "table" not in path.name):
            continue
        text = re.sub(rf"(?i)\b{schema}\b", own, path.read_text(encoding="utf-8"))
        goal = place / path.relative_to(scripts_of(engine))
        goal.parent.mkdir(parents=True, exist_ok=True)
        goal.write_text(f"{text}\n-- {own}\n", encoding="utf-8")
    if number > len(SYSTEMS) and rng.random() < LINKED_SHARE:
        other = number - len(SYSTEMS)
        text = f"CREATE VIEW v_from_{other} AS SELECT 1 AS n FROM {schema}{other}.countries;\n"
        (place / "link.sql").write_text(text)


def timed(folder: Path, names: list[str], out: Path, workers: int) -> tuple[float, float, Estate]:
    """Run an estate; return seconds, the most MB of this process and its workers together, and the view."""
    peak = 0.0
    me = psutil.Process()

    def watch(*_: object) -> None:
        nonlocal peak
        used = [me, *me.children(recursive=True)]
        peak = max(peak, sum(each.memory_info().rss for each in used if each.is_running()) / 1e6)

    begin = time.perf_counter()
    estate = run_estate(names, [TARGET], out, workers=workers, progress=watch)
    return time.perf_counter() - begin, peak, estate


def main() -> None:
    count, workers = (int(text) for text in (sys.argv[1:3] if len(sys.argv) > 2 else ("1000", "2")))
    with tempfile.TemporaryDirectory() as work:
        folder = Path(work)
        names, clones, broken = make_members(folder / "members", count)
        seconds, peak, estate = timed(folder, names, folder / "out", workers)
        totals = estate.totals
        print(
            f"{totals.members} members, {totals.objects} objects, {totals.lines} lines: {seconds:.0f} s with {workers} workers"
        )
        print(
            f"{totals.judged / (seconds / 60) / workers:.1f} members a minute and core; {peak:.0f} MB with all workers"
        )
        print(
            f"broken: {totals.failed} of {broken}; clones: {totals.clones}, {clones} planted; clusters: {len(estate.clusters)}"
        )
        for name in [each for each in names if Path(each).is_dir()][:10]:
            (Path(name) / "new.sql").write_text("CREATE TABLE new_one (n INTEGER);\n")
        seconds, _, again = timed(folder, names, folder / "out", workers)
        print(f"again with 10 changed: {seconds:.0f} s; {again.totals.objects - totals.objects} objects more")
    print(f"this process: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


if __name__ == "__main__":
    main()
