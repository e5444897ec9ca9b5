"""Measures what small commands cost in CPU time on the demo of Oracle, beside what importing Typer costs.

Run: python bench/commands.py [--rounds 7]
The aim is 0.4 s for each, and for --help 1.3 times `import typer`. Times are the least of the rounds, with the byte
code of Hull Sound kept, as it is once installed.
"""

import argparse
import os
import resource
import subprocess
import sys
import tempfile
from pathlib import Path

PROBED = "SELECT NVL(berth, 0) FROM port_call WHERE ROWNUM < 5;\n"


def cpu_seconds(command: list[str], environment: dict[str, str]) -> float:
    """Run a command and return its CPU time, that of its children included. Raises CalledProcessError."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, check=True, capture_output=True, env=environment)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--rounds", type=int, default=7)
    rounds = options.parse_args().rounds
    hullsound = str(Path(sys.executable).parent / "hullsound")
    with tempfile.TemporaryDirectory() as folder:
        environment = os.environ | {"PYTHONPYCACHEPREFIX": f"{folder}/byte-code", "HULLSOUND_CACHE": f"{folder}/cache"}
        environment.pop("PYTHONDONTWRITEBYTECODE", None)
        query, hull = Path(folder, "query.sql"), f"{folder}/demo/harbour.hull"
        query.write_text(PROBED, encoding="utf-8")
        cpu_seconds([hullsound, "demo", f"{folder}/demo"], environment)
        commands = {
            "import typer": [sys.executable, "-c", "import typer"],
            "--help": [hullsound, "--help"],
            "explain": [hullsound, "explain", "oracle.connect-by", "--to", "postgresql"],
            "show": [hullsound, "show", hull, "package_body.pkg_tariff"],
            "findings": [hullsound, "findings", hull],
            "probe": [hullsound, "probe", str(query), "--from", "oracle", "--to", "postgresql:18"],
        }
        least = {
            name: min(cpu_seconds(command, environment) for _ in range(rounds)) for name, command in commands.items()
        }
    for name, seconds in least.items():
        print(f"{name:14}{seconds:6.2f} s  {seconds / least['import typer']:5.2f} times import typer")


if __name__ == "__main__":
    main()
