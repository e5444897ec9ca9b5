"""hullsound probe: judge statements without a survey."""

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from hullsound.assess.model import Finding
    from hullsound.steps import Case


def run(
    engine: options.From,
    file: Annotated[str, typer.Argument(help="File of SQL, or - for standard input.", metavar="[FILE | -]")] = "-",
    format: options.Format = options.TextFormat.TEXT,
    fail_on: options.Fail = options.FailOn.NEVER,
    baseline: options.Baseline = None,
    target: options.To = "",
    target_file: options.TargetFile = "",
) -> None:
    """Judge a statement or a file of statements: DDL, routines, blocks or queries."""
    from hullsound import steps
    from hullsound.survey.files import ScriptFile, decode, read_script_file

    from .output import exit_status, write_json

    if file == "-":
        script = ScriptFile("stdin", decode(sys.stdin.buffer.read(), "standard input"), "")
    else:
        script = read_script_file(Path(file), Path(file))
    kind, version = options.split_engine(engine)
    catalog = steps.survey_texts([script], kind, version, name=script.name, is_whole=False)
    chosen = options.pick_target(target, target_file)
    known = options.baseline(baseline, fail_on, chosen)
    case = steps.assess_catalog(catalog, chosen, project=options.project())
    findings = case.assessment.findings()
    if format is options.TextFormat.JSON:
        write_json(case.document)
    else:
        _draw(case, findings)
    raise typer.Exit(exit_status(findings, fail_on, known))


def _draw(case: "Case", findings: "list[Finding]") -> None:
    from .output import console, heading, table

    out = console()
    for draft in case.drafts.drafts:
        heading(out, f"{draft.object.id}: {draft.outcome.value}")
        out.print(draft.text if draft.is_finished else "(no draft)", soft_wrap=True)
    rows = [
        (f.line or "", f.severity.value, f.construct, f.excerpt or f.message.split(". ")[0], f.remedy) for f in findings
    ]
    if rows:
        out.print(table("", ["line", "severity", "construct", "source or reason", "what to do"], rows, right=["line"]))
    else:
        out.print("No findings.")
