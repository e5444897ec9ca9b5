"""Times the commands on a large source, with the memory of their processes; and again, with nothing and with one file changed.

Run: python bench/scale.py [--lines 60000] [--engine oracle] [--to postgresql:18]
Seconds are those of the clock; memory is what the operating system counts for the largest process of a command.
"""

import argparse
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from make_source import make_source


def run(*arguments: str | Path) -> tuple[float, float]:
    """Run a command of Hull Sound; return its seconds and the megabytes of its largest process."""
    begun = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-m", "hullsound", *map(str, arguments)], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    _, status, usage = os.wait4(process.pid, 0)
    process.returncode = os.waitstatus_to_exitcode(status)
    assert process.returncode in (0, 1), arguments
    return time.perf_counter() - begun, usage.ru_maxrss / 1024


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--lines", type=int, default=60_000)
    parser.add_argument("--engine", default="oracle")
    parser.add_argument("--to", default="postgresql:18")
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folder, hull, out = Path(name) / "scripts", Path(name) / "a.hull", Path(name) / "out"
        lines = make_source(folder, arguments.lines, arguments.engine)
        commands: list[tuple[str | Path, ...]] = [
            ("survey", folder, "--from", arguments.engine, "-o", hull, "--quiet"),
            ("assess", hull, "--to", arguments.to),
            ("findings", hull),
            ("draft", hull, "--to", arguments.to, "-o", out / "draft"),
            ("report", hull, "--to", arguments.to, "-o", out / "report"),
        ]
        first = [run(*command) for command in commands]
        again = [run(*command) for command in commands]
        one = sorted(path for path in folder.rglob("*.sql") if "TABLE" in path.read_text(encoding="utf-8"))[0]
        one.write_text(one.read_text(encoding="utf-8") + "\nCREATE TABLE one_more (id INT);\n", encoding="utf-8")
        changed = [run(*command) for command in commands]
        size = hull.stat().st_size / 1e6
        page = (out / "report" / "index.html").stat().st_size / 1e6
        files = sum(path.is_file() for path in folder.rglob("*"))
        print(f"{lines} lines of {arguments.engine} in {files} files; hull file {size:.0f} MB, page {page:.1f} MB")
        print(f"{'':10} {'first':>8} {'memory':>8} {'again':>8} {'one file changed':>18}")
        for command, (seconds, memory), (same, _), (other, _) in zip(commands, first, again, changed, strict=True):
            print(f"{command[0]:10} {seconds:6.1f} s {memory:5.0f} MB {same:6.1f} s {other:16.1f} s")


if __name__ == "__main__":
    main()
