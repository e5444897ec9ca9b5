"""Times Hull Sound against one lexing pass over the same text, in one run; prints ratios.

Machines are noisy: trust the ratios of one run, not seconds, and take the median of several rounds.
"""

import argparse
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from make_source import make_source
from pygments.lexers import get_lexer_by_name

from hullsound import steps


def timed(action) -> float:
    started = time.perf_counter()
    action()
    return time.perf_counter() - started


def survey_and_assess(folder: Path, jobs: int) -> None:
    steps.assess_catalog(steps.survey_scripts(folder, "oracle", "19", jobs=jobs), "postgresql:18")


def lexing_pass(folder: Path) -> None:
    """One pass over all texts, all tokens taken, nothing else done."""
    lexer = get_lexer_by_name("plpgsql")
    for path in sorted(folder.rglob("*")):
        if path.is_file():
            for _ in lexer.get_tokens(path.read_text(encoding="utf-8")):
                pass


def start_up(*command: str) -> float:
    return min(timed(lambda: subprocess.run(command, capture_output=True, check=True)) for _ in range(5))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--lines", type=int, default=60_000)
    parser.add_argument("--rounds", type=int, default=5)
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folder, small = Path(name) / "large", Path(name) / "small"
        lines = make_source(folder, arguments.lines)
        few = make_source(small, arguments.lines // 4)
        survey_and_assess(small, 1)  # imports and knowledge are loaded once per process
        cores = os.cpu_count() or 1
        ratios: dict[int, list[float]] = {}
        for _ in range(arguments.rounds):
            base = timed(lambda: lexing_pass(folder))
            for jobs in sorted({1, cores}):
                ratios.setdefault(jobs, []).append(timed(lambda jobs=jobs: survey_and_assess(folder, jobs)) / base)
        for jobs, values in ratios.items():
            spread = f"{min(values):.2f} to {max(values):.2f}"
            print(
                f"survey + assess of {lines} lines, {jobs} jobs / one lexing pass: {statistics.median(values):.2f} ({spread})"
            )
        per_line = timed(lambda: survey_and_assess(folder, 1)) / lines
        growth = per_line / (timed(lambda: survey_and_assess(small, 1)) / few)
        print(f"time per line at {lines} lines / at {few} lines: {growth:.2f}")
        print(f"peak memory: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
        case = steps.assess_catalog(steps.survey_scripts(small, "oracle", "19"), "postgresql:18")
        reading = timed(lambda: steps.survey_scripts(small, "oracle", "19"))
        print(f"drafting / reading: {timed(lambda: steps.draft_case(case)) / reading:.2f}")
    help_time = start_up(sys.executable, "-m", "hullsound", "--help")
    print(
        f"hullsound --help / python -c 'import typer': {help_time / start_up(sys.executable, '-c', 'import typer'):.2f}"
    )


if __name__ == "__main__":
    main()
