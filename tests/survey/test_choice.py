"""Surveys of scripts that take some objects only, and surveys that were stopped midway."""

import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.part_file import PartFile
from hullsound.steps import scripts
from hullsound.steps.survey import survey_into

Run = Callable[..., subprocess.CompletedProcess[str]]


def test_patterns_choose_objects_with_what_belongs_to_them(run: Run, tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text(
        "CREATE TABLE yard.boat (n NUMBER PRIMARY KEY);\nCREATE INDEX ix ON yard.boat (n, 1);\n"
        "CREATE TABLE yard.old_boat (n NUMBER PRIMARY KEY);\nINSERT INTO yard.old_boat VALUES (1);\n"
        "CREATE TABLE shop.till (n NUMBER);\n",
        encoding="utf-8",
    )
    choice = ["--include", "yard.*", "--exclude", "old_*"]
    done = run("survey", "a.sql", "--from", "oracle", "-o", "a.hull", *choice, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    catalog = read_hull(tmp_path / "a.hull")
    assert {item.rsplit(".", 1)[-1] for item in catalog.objects} == {"boat", "boat_pk", "ix"}
    left_out = next(s for s in catalog.sightings if s.construct == "survey.left-out")
    assert left_out.detail.startswith("4 objects")
    assert run("survey", "a.sql", "--from", "oracle", "-o", "a.hull", cwd=tmp_path).returncode == 0
    assert len(read_hull(tmp_path / "a.hull").objects) == 7


def test_a_survey_that_is_stopped_goes_on_where_it_was(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = tmp_path / "s"
    folder.mkdir()
    for number in range(6):
        (folder / f"t{number}.sql").write_text(f"CREATE TABLE t{number} (a NUMBER);", encoding="utf-8")
    monkeypatch.setattr("hullsound.catalog.part_file._FLUSH_SECONDS", 0.0)
    monkeypatch.setattr("hullsound.survey.scripts.GROUP_SIZE", 1)
    hull = tmp_path / "a.hull"
    read: list[str] = []
    original = scripts.read_group

    def stop_at_four(files: list[scripts.ScriptFile], engine: str) -> object:
        read.extend(file.name for file in files)
        if len(read) == 4:
            raise KeyboardInterrupt
        return original(files, engine)

    monkeypatch.setattr(scripts, "read_group", stop_at_four)
    with pytest.raises(KeyboardInterrupt):
        survey_into(hull, folder, "oracle")
    assert not hull.exists()
    assert PartFile(hull).path.exists()
    survey_into(hull, folder, "oracle")
    assert len(read) == 7  # three were kept, the fourth is read again
    assert len(read_hull(hull).objects) == 6
    assert not PartFile(hull).path.exists()
