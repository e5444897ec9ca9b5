"""hullsound.toml: overrides of types and accepted findings, in the core and through the built command."""

import json
import subprocess
from collections.abc import Callable
from datetime import date
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.draft.write import draft_all
from hullsound.errors import KnowledgeError, UsageError
from hullsound.knowledge.model import Way
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.targets import parse_target
from hullsound.project import AcceptEntry, Project, TypeOverride, read_project
from hullsound.survey.files import ScriptFile

Run = Callable[..., subprocess.CompletedProcess[str]]
SOURCE = """CREATE TABLE harbour.gates (gate_id NUMBER(9) PRIMARY KEY, is_open NUMBER(1), width NUMBER);
CREATE VIEW harbour.tree AS SELECT gate_id, CONNECT_BY_ISCYCLE c FROM harbour.gates CONNECT BY NOCYCLE PRIOR gate_id = is_open;
"""


def case_with(project: Project) -> steps.Case:
    catalog = steps.survey_texts([ScriptFile("a.sql", SOURCE, "")], "oracle")
    return steps.assess_catalog(catalog, "postgresql:18", project=project)


def test_the_most_exact_override_wins_and_drafts_follow() -> None:
    project = Project(
        types=(
            TypeOverride("boolean", column="is_*"),
            TypeOverride("bigint", type="NUMBER*"),
            TypeOverride("numeric(12,3)", type="number", table="harbour.gates", column="WIDTH"),
        )
    )
    case = case_with(project)
    text = next(d.text for d in draft_all(case.catalog, case.assessment).drafts if d.object.name == "GATES")
    assert '"width"' not in text
    assert [line.split()[1].rstrip(",") for line in text.splitlines()[1:4]] == ["bigint", "boolean", "numeric(12,3)"]
    assert not any("width" in f.message for each in case.assessment.objects for f in each.findings
                   if f.construct == "assess.type-changed")  # fmt: skip


def test_accepted_findings_stay_visible_and_keep_their_outcome() -> None:
    entry = AcceptEntry("oracle.connect-*", "known and planned", "Ada", object="harbour.view.*")
    plain, accepted = case_with(Project()), case_with(Project(accept=(entry,)))
    found = [f for f in accepted.document.findings if f.construct == "oracle.connect-by"]
    assert [(f.accepted.owner, f.accepted.reason) for f in found if f.accepted] == [("Ada", "known and planned")]
    assert accepted.document.summary.by_outcome == plain.document.summary.by_outcome
    assert not any(f.construct == "assess.accepts-nothing" for f in accepted.document.findings)


@pytest.mark.parametrize(
    ("entry", "remark"),
    [
        (AcceptEntry("oracle.no-such-*", "r", "o"), "assess.accepts-nothing"),
        (AcceptEntry("oracle.connect-by", "r", "o", object="other.*"), "assess.accepts-nothing"),
        (AcceptEntry("oracle.connect-by", "r", "o", until=date(2020, 1, 1)), "assess.acceptance-ended"),
    ],
)
def test_entries_that_do_not_hold_are_reported(entry: AcceptEntry, remark: str) -> None:
    document = case_with(Project(accept=(entry,))).document
    assert [f.construct for f in document.findings if f.construct.startswith("assess.acc")] == [remark]
    assert not any(f.accepted for f in document.findings)


def test_faults_of_a_project_file_come_together(tmp_path: Path) -> None:
    path = tmp_path / "hullsound.toml"
    path.write_text(
        'colour = 1\n[[types]]\ncolumn = "x"\n[[accept]]\nconstruct = "a"\nreason = ""\nowner = "b"\n', encoding="utf-8"
    )
    with pytest.raises(UsageError) as caught:
        read_project(path)
    text = str(caught.value)
    assert "[colour]" in text
    assert "[[types]] 1" in text
    assert "[[accept]] 1" in text
    assert read_project(tmp_path / "none.toml") == Project()


def target_file(folder: Path, text: str) -> str:
    path = folder / "port.toml"
    path.write_text(text, encoding="utf-8")
    return str(path)


def test_a_target_file_extends_a_shipped_target(tmp_path: Path) -> None:
    path = target_file(
        tmp_path,
        'name = "port-cloud"\nextends = "postgresql:16@hosted-server"\n'
        '[stances."oracle.connect-by"]\nway = "none"\nremedy = "Not with us."\nminutes = [1, 2, 3]\n'
        '[topics.mail]\nway = "confirm"\nremedy = "By the port\'s relay."\n[types.boolean]\nrender = "char(1)"\n',
    )
    target = parse_target(path)
    assert (str(target), target.engine, target.version, target.hosting) == (
        "port-cloud",
        "postgresql",
        16,
        "hosted-server",
    )
    stances = load_stances("oracle", target)
    assert stances["oracle.connect-by"].way is Way.NONE
    assert stances["oracle.utl-mail"].remedy == "By the port's relay."
    assert (
        stances["oracle.utl-file"]
        == load_stances("oracle", parse_target("postgresql:16@hosted-server"))["oracle.utl-file"]
    )


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ('name = "x"', "extends"),
        ('name = "x"\nextends = "postgresql:99"', "unknown version"),
        ('name = "x"\nextends = "clipper"', "unknown target"),
        ('name = ""\nextends = "postgresql"', "name is empty"),
        ('name = "x"\nextends = "postgresql"\n[topics.mail]\nway = "maybe"', "[mail]"),
        ('name = "x"\nextends = "postgresql"\n[topics.mail]\nway = "none"', "remedy is missing"),
        ('name = "x"\nextends = "postgresql"\n[topics.male]\nway = "none"\nremedy = "r"', "[male]: no such topic"),
        ('name = "x"\nextends = "postgresql"\n[stances."oracle.nvx"]\nway = "same"', "[oracle.nvx]: no such construct"),
        ('name = "x"\nextends = "postgresql"\n[stances."clipper.x"]\nway = "same"', "[clipper.x]: no such construct"),
        ('name = "x"\nextends = "postgresql"\n[types.colour]\nrender = "x"', "no such logical type"),
        ('name = "x"\nextends = "other.toml"', "extends another target file"),
        ("name = ", "Invalid value"),
    ],
)
def test_faults_of_a_target_file_are_told(text: str, says: str, tmp_path: Path) -> None:
    with pytest.raises((KnowledgeError, UsageError)) as caught:
        parse_target(target_file(tmp_path, text))
    assert says in str(caught.value)


@pytest.fixture
def hull(tmp_path: Path, run: Run) -> Path:
    (tmp_path / "a.sql").write_text(SOURCE, encoding="utf-8")
    run("survey", "a.sql", "--from", "oracle:19", "-o", "a.hull", cwd=tmp_path)
    return tmp_path


def test_the_command_heeds_the_project_file(hull: Path, run: Run) -> None:
    arguments = ("assess", "a.hull", "--to", "postgresql", "--fail-on", "warning")
    assert run(*arguments, cwd=hull).returncode == 1
    (hull / "hullsound.toml").write_text(
        '[[accept]]\nconstruct = "*"\nreason = "a trial"\nowner = "Ada"\n[[types]]\ncolumn = "is_open"\nbecomes = "boolean"\n',
        encoding="utf-8",
    )
    done = run(*arguments, cwd=hull)
    assert done.returncode == 0, done.stderr
    assert "accepted in hullsound.toml" in done.stdout
    rows = json.loads(run("types", "a.hull", "--format", "json", cwd=hull).stdout)
    assert [r["target"] for r in rows if r["chosen_by"]] == ["boolean"]
    (hull / "hullsound.toml").write_text("[[accept]]\nconstruct = 1\n", encoding="utf-8")
    broken = run(*arguments, cwd=hull)
    assert (broken.returncode, "[[accept]] 1" in broken.stderr) == (2, True)


def test_compare_puts_targets_side_by_side(hull: Path, run: Run) -> None:
    arguments = ("compare", "a.hull", "--to", "postgresql:18", "--to", "mysql:8.4", "--to", "oracle:23")
    done = run(*arguments, "--page", "c.html", cwd=hull)
    assert done.returncode == 0, done.stderr
    assert "oracle:23" in done.stdout
    page = (hull / "c.html").read_text(encoding="utf-8")
    assert "oracle.connect-by" in page
    comparison = json.loads(run(*arguments, "--format", "json", cwd=hull).stdout)
    ready = {side["target"]: side["ready_objects"] for side in comparison["sides"]}
    assert ready["oracle:23"] == 1
    assert ready["postgresql:18"] < 1
    row = next(r for r in comparison["constructs"] if r["construct"] == "oracle.connect-by")
    assert row["ways"] == ["confirm", "confirm", ""]
    assert run("compare", "a.hull", "--to", "mysql", cwd=hull).returncode == 2


def test_changes_tell_what_went_came_and_moved(hull: Path, run: Run) -> None:
    assert run("changes", "a.hull", cwd=hull).returncode == 2
    run("assess", "a.hull", "--to", "postgresql", cwd=hull)
    text = (
        "-- one line more\n"
        + SOURCE.split("CREATE VIEW", maxsplit=1)[0]
        + "CREATE VIEW harbour.tree AS SELECT ROWID AS r FROM harbour.gates;\n"
    )
    (hull / "a.sql").write_text(text, encoding="utf-8")
    run("survey", "a.sql", "--from", "oracle:19", "-o", "b.hull", cwd=hull)
    run("assess", "b.hull", "--to", "postgresql", cwd=hull)
    changes = json.loads(run("changes", "a.hull", "b.hull", "--format", "json", cwd=hull).stdout)
    assert {f["construct"] for f in changes["went"]} >= {"oracle.connect-by"}
    assert {f["construct"] for f in changes["came"]} >= {"oracle.rowid"}
    assert all(m["after"]["line"] == m["before"]["line"] + 1 for m in changes["moved"])
    assert "went" in run("changes", "a.hull", "b.hull", cwd=hull).stdout
    run("assess", "b.hull", "--to", "postgresql", cwd=hull)
    same = json.loads(run("changes", "b.hull", "--format", "json", cwd=hull).stdout)
    assert not (same["went"] or same["came"] or same["moved"] or same["outcomes"])


def test_a_target_file_is_taken_by_the_command(hull: Path, run: Run) -> None:
    target_file(hull, 'name = "port-cloud"\nextends = "postgresql:16"\n')
    done = run("assess", "a.hull", "--target-file", "port.toml", "--format", "json", cwd=hull)
    assert json.loads(done.stdout)["target"] == {
        "engine": "postgresql", "version": "16", "hosting": "own", "name": "port-cloud",
    }  # fmt: skip
    assert run("assess", "a.hull", "--target-file", "port.toml", "--to", "mysql", cwd=hull).returncode == 2
    assert run("assess", "a.hull", cwd=hull).returncode == 2
