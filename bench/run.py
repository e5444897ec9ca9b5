"""Times Hull Sound against one lexing pass over the same text, in one run; prints ratios.

Machines are noisy: trust the ratios of one run, not seconds, and take the median of several rounds.
"""

import argparse
import os
import resource
import statistics
import tempfile
import time
from pathlib import Path

from make_source import make_source
from pygments.lexers import get_lexer_by_name

from hullsound import steps
from hullsound.assess.judge import assess
from hullsound.draft.write import draft_all
from hullsound.knowledge.targets import parse_target

LEXERS = {"oracle": "plpgsql", "sqlserver": "tsql", "mysql": "mysql"}
TARGET = "postgresql:18"


def timed(action) -> float:
    started = time.perf_counter()
    action()
    return time.perf_counter() - started


def survey_and_assess(folder: Path, engine: str, jobs: int) -> None:
    steps.assess_catalog(steps.survey_scripts(folder, engine, jobs=jobs), TARGET, jobs=jobs)


def lexing_pass(folder: Path, engine: str) -> None:
    """One pass over all texts, all tokens taken, nothing else done."""
    lexer = get_lexer_by_name(LEXERS[engine])
    for path in sorted(folder.rglob("*")):
        if path.is_file():
            for _ in lexer.get_tokens(path.read_text(encoding="utf-8")):
                pass


def measure_drafting(engine: str, root: Path, lines: int) -> None:
    """Compare drafting with reading: it should add at most as much time."""
    folder = root / "drafting"
    lines = make_source(folder, lines, engine)
    surveyed: list = []
    reading = timed(lambda: surveyed.append(steps.survey_scripts(folder, engine, jobs=1)))
    case = steps.assess_catalog(surveyed[0], TARGET)
    drafting = timed(lambda: draft_all(case.catalog, case.assessment))
    print(
        f"{engine}: drafting {lines:,} lines / reading them: {drafting / reading:.2f} ({drafting:.1f} s / {reading:.1f} s)"
    )


def measure_engine(engine: str, root: Path, lines: int, rounds: int) -> None:
    folder, small = root / "large", root / "small"
    lines = make_source(folder, lines, engine)
    few = make_source(small, lines // 4, engine)
    survey_and_assess(small, engine, 1)  # imports and knowledge are loaded once per process
    cores = os.cpu_count() or 1
    ratios: dict[int, list[float]] = {}
    for _ in range(rounds):
        base = timed(lambda: lexing_pass(folder, engine))
        for jobs in sorted({1, cores}):
            ratios.setdefault(jobs, []).append(timed(lambda jobs=jobs: survey_and_assess(folder, engine, jobs)) / base)
    for jobs, values in ratios.items():
        spread = f"{min(values):.2f} to {max(values):.2f}"
        what = f"{engine}: survey + assess of {lines} lines, {jobs} jobs / one lexing pass"
        print(f"{what}: {statistics.median(values):.2f} ({spread})", flush=True)
    per_line = timed(lambda: survey_and_assess(folder, engine, 1)) / lines
    growth = per_line / (timed(lambda: survey_and_assess(small, engine, 1)) / few)
    print(f"{engine}: time per line at {lines} lines / at {few} lines: {growth:.2f}", flush=True)
    hull = root / "a.hull"

    def survey_again() -> None:
        steps.survey_into(hull, folder, engine)

    first = timed(survey_again)
    print(f"{engine}: second survey of an unchanged folder / first: {timed(survey_again) / first:.2f}", flush=True)


def measure_judging(root: Path, lines: int) -> None:
    """Judge one hull file against one target, and against four side by side."""
    hull = root / "judged.hull"
    make_source(root / "judged", lines, "sqlserver")
    steps.survey_into(hull, root / "judged", "sqlserver", jobs=os.cpu_count() or 1)
    sides = ["postgresql", "mysql", "oracle", "sqlserver@hosted-database"]
    case = steps.assess_hull(hull, TARGET)
    steps.compare_hull(hull, sides)
    catalog, count = case.catalog, len(case.catalog.sightings)
    one = min(timed(lambda: steps.assess_hull(hull, TARGET)) for _ in range(3))
    four = min(timed(lambda: steps.compare_hull(hull, sides)) for _ in range(3))
    judging = min(timed(lambda: assess(catalog, parse_target(TARGET))) for _ in range(3))
    print(f"judging {count} sightings: {judging:.2f} s, {1e5 * judging / count:.2f} s for 100,000")
    print(f"compare with four targets / assess with one: {four / one:.2f}")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--lines", type=int, default=60_000)
    parser.add_argument("--rounds", type=int, default=5)
    parser.add_argument("--engine", action="append", choices=sorted(LEXERS))
    arguments = parser.parse_args()
    for engine in arguments.engine or LEXERS:
        with tempfile.TemporaryDirectory() as name:
            measure_engine(engine, Path(name), arguments.lines, arguments.rounds)
    with tempfile.TemporaryDirectory() as name:
        measure_judging(Path(name), 2 * arguments.lines)
    print(f"peak memory: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    for engine in arguments.engine or LEXERS:
        with tempfile.TemporaryDirectory() as name:
            measure_drafting(engine, Path(name), arguments.lines // 4)


if __name__ == "__main__":
    main()
