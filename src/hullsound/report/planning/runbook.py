"""The runbook of a plan in Markdown: who does what when, from the freeze to the switch, and the way back."""

from collections.abc import Iterator
from typing import Final

from hullsound.plan.document import Plan, Wave, wave_name
from hullsound.plan.window import Window, duration
from hullsound.report.markdown_text import cell, code

_STAGES: Final = {
    "schemas and extensions": "prepare.sql, then the files of this stage",
    "load": "copy the rows, level by level as `load` in the manifest lists them; tables of one level side by side",
    "references": "cutover/references-unvalidated.sql, then cutover/references-validate.sql; or the files of this stage",
    "sequence positions": "cutover/source-sequences.sql on the source, cutover/sequences.sql on the target",
    "statistics": "cutover/statistics.sql",
}
"""What a stage is done with, where it is not the files of the stage alone."""
_PHASES: Final = {
    "load": "copy the rows",
    "keys and checks": "build keys and indexes",
    "references": "validate references and checks",
}
"""The phase of the window that tells how long a stage takes."""
_BEFORE_LOAD: Final = frozenset(("schemas and extensions", "types", "sequences", "tables", "routines", "views"))


def render_runbook(plan: Plan, window: Window | None = None) -> str:
    """Return the runbook; with a window, its steps say how long they take."""
    lines = [
        f"# Runbook: {cell(', '.join(plan.sources))} to {plan.target}",
        "",
        f"{plan.hours.p50:.0f} h of work (P50), {plan.hours.p80:.0f} h (P80), "
        f"for {plan.team} people with {plan.hours_week:g} h a week each. "
        f"From {plan.begins} to {plan.ends_p50} in half of all cases, to {plan.ends_p80} in four of five. "
        "Write names beside the roles before the first wave begins.",
        "",
        "| role | who | what |",
        "|---|---|---|",
        "| lead | | decides on going on and going back |",
        "| database | | source and target: drafts, copy, checks |",
        "| programs | | stops, points and starts the programs |",
        "| owner | | accepts the result for the business |",
        "",
        *_decisions(plan),
        *_waves(plan),
        *_rehearsal(plan, window),
        *_switch(plan, window),
        *_way_back(),
        *_afterwards(),
    ]
    return "\n".join(lines) + "\n"


def _decisions(plan: Plan) -> Iterator[str]:
    if not plan.decisions:
        return
    yield from (
        "## Decide first",
        "",
        "| by | what blocks | objects | needed for | what to do |",
        "|---|---|---|---|---|",
    )
    for each in plan.decisions:
        objects = ", ".join(f"`{code(name)}`" for name in each.objects)
        yield f"| {each.due} | {cell(each.title)} | {objects} | {wave_name(each.wave)} | {cell(each.remedy)} |"
    yield ""


def _waves(plan: Plan) -> Iterator[str]:
    yield from ("## Waves", "")
    for wave in plan.waves:
        yield f"### {wave_name(wave.number).capitalize()}: {wave.begins} to {wave.ends_p50} (P80: {wave.ends_p80})"
        yield ""
        hours = f"{wave.hours.p50:.0f} h (P50), {wave.hours.p80:.0f} h (P80)"
        yield f"{len(wave.objects)} objects, {hours}; in their order in plan.csv."
        yield f"Waits for: {', '.join(wave.waits_for) or 'nothing'}."
        yield ""
        yield from _steps_of_wave(wave)


def _steps_of_wave(wave: Wave) -> Iterator[str]:
    if wave.number == 0:
        yield "- [ ] database: take the objects the whole way, on a scratch database: draft, trial, rows, checks"
        yield "- [ ] lead: compare the hours with the plan, record them with `hullsound actuals`, and plan again"
    else:
        yield "- [ ] database: finish and review the drafts; `hullsound trial` accepts every object that is promised"
        yield "- [ ] programs: run their tests on the drafts"
        yield "- [ ] lead: record the hours with `hullsound actuals`"
    for bridge in wave.bridges[:8]:
        what = f"`{code(bridge.used)}` ({bridge.kind}, used by {len(bridge.users)})"
        yield f"- [ ] database: until {wave_name(bridge.until_wave)}, for {what}: {bridge.what_to_do}"
    if len(wave.bridges) > 8:
        yield f"- [ ] database: {len(wave.bridges) - 8} more bridges of this wave are in bridges.csv"
    yield ""


def _rehearsal(plan: Plan, window: Window | None) -> Iterator[str]:
    yield from ("## Rehearse", "")
    yield "- [ ] database: the whole switch on a copy of the source, by this runbook, with a clock"
    if window is not None:
        yield f"- [ ] database: compare with the estimate, {duration(window.total.p50)} (P50) to {duration(window.total.p80)} (P80)"
    yield "- [ ] lead: go on only if the rehearsal stayed within the window and all checks were equal"
    yield ""


def _switch(plan: Plan, window: Window | None) -> Iterator[str]:
    phases = {phase.name: duration(phase.hours.p80) for phase in window.phases} if window is not None else {}

    yield from ("## Switch", "")
    if window is not None:
        yield f"The window is {window.window_hours:g} h; the move fits into it in {window.fits:.0%} of all cases. Times are P80."
        yield ""
    yield from ("| | who | what | time | way back |", "|---|---|---|---|---|")
    steps = [*_stop(), *_create(plan), *_go_on(window)]
    for number, (who, what, phase, back) in enumerate(steps, start=1):
        yield f"| {number} | {who} | {what} | {phases.get(phase, '')} | {back} |"
    yield ""


_Step = tuple[str, str, str, str]
"""Who, what, the phase of the window that says how long, and the way back."""


def _stop() -> list[_Step]:
    return [
        ("lead", "a week before: freeze; no change of the schema on the source any more", "", "lift the freeze"),
        ("database", "a day before: survey again; `hullsound changes` tells of nothing new", "", ""),
        ("lead", "go or no go: rehearsal, decisions, people, backup", "", ""),
        ("programs", "stop all programs and jobs that write; keep users out", "stop the programs", "start them again"),
        (
            "database",
            "take the last backup of the source; set it read-only where the engine can",
            "",
            "set it writable",
        ),
    ]


def _create(plan: Plan) -> Iterator[_Step]:
    for stage in plan.creation:
        how = _STAGES.get(stage.name, "the files of this stage, in the order of the manifest")
        levels = f" ({stage.levels} levels)" if stage.levels else ""
        count = f", {stage.objects} object{'' if stage.objects == 1 else 's'}" if stage.objects else ""
        early = " (may be done days before)" if stage.name in _BEFORE_LOAD else ""
        yield (
            "database",
            f"**{stage.name}**{count}{early}: {how}{levels}",
            _PHASES.get(stage.name, ""),
            "drop the target",
        )


def _go_on(window: Window | None) -> list[_Step]:
    level = window.check if window is not None and window.check != "none" else "standard"
    checks = f"`hullsound checks --run --level {level}` on both sides: all equal"
    point = (
        "**point of no return**: decide. From the first row that a program writes on the target, going back loses rows"
    )
    return [
        ("database", checks, "compare both sides", "drop the target"),
        ("owner", "try the programs on the target, without writing for others", "", "point them back"),
        ("lead", point, "", ""),
        ("programs", "point the programs to the target and start them", "switch the programs", "see below"),
    ]


def _way_back() -> Iterator[str]:
    yield from ("## The way back", "")
    yield "- Before the point of no return: point the programs to the source, set it writable, start them. Nothing is lost."
    yield "- After it, rows that were written on the target must be carried to the source first: decide before the switch who does "
    yield "  that, for which tables, and until when it is still possible. After that time, mend forward."
    yield "- Keep the source, read-only, and its last backup until the owner has accepted the result."
    yield ""


def _afterwards() -> Iterator[str]:
    yield from ("## Afterwards", "")
    yield "- [ ] database: `hullsound checks --run --level full` against the source as it was left"
    yield "- [ ] database: statistics, plans of the heaviest queries, backup and restore of the target tried"
    yield "- [ ] programs: a day and a month end without errors"
    yield "- [ ] owner: accepts; the source is switched off"
