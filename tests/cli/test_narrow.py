"""Narrow windows: a table that would break a name becomes blocks of lines."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

SCRIPT = """
CREATE TABLE shipments_of_the_northern_terminal (id NUMBER(10) PRIMARY KEY, label_of_the_pallet VARCHAR2(20), doc BFILE);
CREATE VIEW all_shipments_of_the_terminal AS SELECT NVL(label_of_the_pallet, '-') AS l FROM shipments_of_the_northern_terminal;
"""
NAMES = ("table.shipments_of_the_northern_terminal", "oracle.type-bfile", "terminal.sql:2:115")


def findings(folder: Path, columns: int) -> str:
    environment = os.environ | {"NO_COLOR": "1", "COLUMNS": str(columns)}
    arguments = ["findings", "a.hull", "--to", "postgresql:18", "--severity", "blocker"]
    done = subprocess.run(
        [sys.executable, "-m", "hullsound", *arguments],
        cwd=folder,
        env=environment,
        capture_output=True,
        text=True,
        check=True,
    )
    return done.stdout


@pytest.fixture(scope="module")
def hull(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("narrow")
    (folder / "terminal.sql").write_text(SCRIPT, encoding="utf-8")
    command = [sys.executable, "-m", "hullsound", "survey", "terminal.sql", "-o", "a.hull", "--from", "oracle"]
    subprocess.run(command, cwd=folder, capture_output=True, check=True)
    return folder


@pytest.mark.parametrize("columns", [60, 80, 100, 120, 200])
def test_names_stay_whole_at_any_width(hull: Path, columns: int) -> None:
    text = findings(hull, columns)
    assert all(name in text for name in NAMES)
    assert max(map(len, text.splitlines())) <= columns


def test_narrow_windows_get_blocks_and_wide_ones_a_table(hull: Path) -> None:
    assert "object      table.shipments_of_the_northern_terminal" in findings(hull, 80)
    assert " severity   construct " in findings(hull, 200)
