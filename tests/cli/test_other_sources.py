"""The built command on sources other than Oracle scripts: guesses, dictionaries, demo systems, honest outcomes."""

import json
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

from hullsound.demo import SYSTEMS
from hullsound.survey.dictionary import TEMPLATE

Run = Callable[..., subprocess.CompletedProcess[str]]


@pytest.mark.parametrize("engine", sorted(set(SYSTEMS) - {"oracle"}))
def test_demo_judges_every_system_and_promises_no_draft_it_does_not_write(
    engine: str, tmp_path: Path, run: Run
) -> None:
    done = run("demo", "d", "--source", engine, "--no-trial", "--quiet", cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    document = json.loads((tmp_path / "d" / "assessment.json").read_text(encoding="utf-8"))
    assert document["coverage"]["unread_statements"] == 0
    constructs = {finding["construct"] for finding in document["findings"]}
    assert "assess.not-judged" not in constructs
    if engine == "postgresql":
        assert not any(f["severity"] == "blocker" for f in document["findings"])
        return
    assert sum(construct.startswith(f"{engine}.") for construct in constructs) > 15
    promised = {entry["id"] for entry in document["objects"] if entry["outcome"] in ("as-is", "drafted", "confirm")}
    manifest = json.loads((tmp_path / "d" / "draft" / "manifest.json").read_text(encoding="utf-8"))
    finished = {entry["id"] for entry in manifest["objects"] if entry["finished"]}
    assert promised
    assert promised <= finished


def test_pairs_without_drafts_say_so(tmp_path: Path, run: Run) -> None:
    (tmp_path / "fields.csv").write_text(TEMPLATE, encoding="utf-8")
    run("survey", "fields.csv", "-o", "a.hull", cwd=tmp_path)
    done = run("assess", "a.hull", "--to", "oracle:19", cwd=tmp_path)
    assert "No drafts are written" in done.stdout


def test_survey_guesses_the_engine_says_why_and_reads_nothing_twice(tmp_path: Path, run: Run) -> None:
    run("demo", "d", "--source", "ase", "--no-trial", "--quiet", cwd=tmp_path)
    first = run("survey", "d/ase-scripts", "-o", "a.hull", cwd=tmp_path)
    assert "Taken for ase: " in first.stderr
    second = run("survey", "d/ase-scripts", "-o", "a.hull", cwd=tmp_path)
    assert "nothing was read again" in second.stderr
    assert run("inventory", "a.hull", cwd=tmp_path).stdout.startswith("ase-scripts: ase")


def test_survey_takes_its_own_template(tmp_path: Path, run: Run) -> None:
    template = run("survey", "--template", cwd=tmp_path)
    (tmp_path / "fields.csv").write_text(template.stdout, encoding="utf-8")
    done = run("survey", "fields.csv", "-o", "a.hull", cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert "port_call" in run("types", "a.hull", cwd=tmp_path).stdout or run("inventory", "a.hull", cwd=tmp_path).stdout


@pytest.mark.parametrize(
    ("arguments", "status", "says"),
    [
        (["survey", "-o", "a.hull"], 2, "SOURCE is missing"),
        (["demo", "x", "--source", "clipper"], 2, "no demo for"),
        (["survey", "a.sql", "--from", "clipper", "-o", "a.hull"], 2, "cannot read the SQL of"),
        (["survey", "a.sql", "-o", "a.hull"], 2, "cannot tell the engine"),
        (["survey", "a.sql", "--from", "mysql", "--encoding", "nope", "-o", "a.hull"], 2, "unknown encoding"),
        (["survey", "bad.csv", "-o", "a.hull"], 3, "names no table"),
        (["survey", "bad.mdb", "-o", "a.hull"], 3, "Access file"),
    ],
)
def test_errors_say_what_where_and_what_next(
    arguments: list[str], status: int, says: str, tmp_path: Path, run: Run
) -> None:
    (tmp_path / "a.sql").write_text("SELECT a FROM t;\n", encoding="utf-8")
    (tmp_path / "bad.csv").write_text("x;y\n1;2\n", encoding="utf-8")
    (tmp_path / "bad.mdb").write_bytes(b"junk")
    done = run(*arguments, cwd=tmp_path)
    assert (done.returncode, says in done.stderr) == (status, True), done.stderr
    assert "Traceback" not in done.stderr
    assert done.stderr.count("\n") <= 3
    assert not (tmp_path / "a.hull").exists()
