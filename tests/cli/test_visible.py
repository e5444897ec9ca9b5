"""No name of a source steers the terminal that shows it."""

import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

Run = Callable[..., subprocess.CompletedProcess[str]]
SCRIPT = (
    'CREATE TABLE "a\x1b[31mred\x1b]0;title\x07" (x NUMBER, "c\x1b[2J" LONG);\n'
    'CREATE VIEW "b\u202eevil" AS SELECT 1 "\x9b1m" FROM dual;\n'
)
STEERING = ("\x1b", "\x07", "\x9b", "\u202e")


@pytest.mark.parametrize(
    "command",
    [
        ["findings", "a.hull", "--to", "postgresql", "--all"],
        ["show", "a.hull", "--to", "postgresql", "evil"],
        ["assess", "a.hull", "--to", "postgresql"],
        ["inventory", "a.hull"],
        ["types", "a.hull"],
        ["show", "a.hull", "nothing\x1b[2J"],
        ["probe", "a.sql", "--from", "oracle", "--to", "postgresql"],
    ],
)
def test_nothing_steers_the_terminal(command: list[str], run: Run, tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text(SCRIPT, encoding="utf-8")
    run("survey", "a.sql", "--from", "oracle", "-o", "a.hull", cwd=tmp_path)
    done = run(*command, cwd=tmp_path)
    assert not [sign for sign in STEERING if sign in done.stdout + done.stderr]
