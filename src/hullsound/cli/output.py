"""Drawing on the terminal: tables, progress and the text of an assessment; plain where nobody looks."""

import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, Literal

from hullsound.visible import visible

if TYPE_CHECKING:
    from pathlib import Path

    from rich.console import Console, ConsoleOptions

    from hullsound.assess.model import Finding
    from hullsound.catalog.catalog import Catalog
    from hullsound.report.document import Document
    from hullsound.report.values import ValueFact
    from hullsound.settings import Assumption
    from hullsound.steps import Progress, Surveyed
    from hullsound.timing import Timings

STYLES = {
    "as-is": "green", "drafted": "cyan", "confirm": "yellow", "rewrite": "dark_orange3", "blocked": "bold red",
    "blocker": "bold red", "warning": "yellow", "note": "cyan",
    "good": "green", "look": "yellow", "bad": "bold red", "unknown": "cyan",
}  # fmt: skip


def console() -> "Console":
    """Return a console for stdout that keeps NO_COLOR and COLUMNS, without markup of what it prints."""
    from rich.console import Console

    class VisibleConsole(Console):
        """A console that lets no text of a source steer the terminal."""

        def print(self, *objects: Any, **options: Any) -> None:
            super().print(*(visible(each) if isinstance(each, str) else each for each in objects), **options)

    # Long lines of a pipe must not be folded for a width that nobody has.
    width = None if sys.stdout.isatty() else _columns(160)
    return VisibleConsole(markup=False, highlight=False, emoji=False, width=width)


def _columns(default: int) -> int:
    import os

    text = os.environ.get("COLUMNS", "")
    return int(text) if text.isdigit() and int(text) > 20 else default


def table(title: str, columns: Sequence[str], rows: Sequence[Sequence[object]], right: Sequence[str] = ()) -> Any:
    """Return a table; cells that name an outcome or severity take its colour.

    Where the window is too narrow for the names in it, each row becomes a block of lines: a name that is broken cannot be copied.
    """
    from rich.text import Text

    cells = [[Text(visible(str(cell)), style=STYLES.get(str(cell), "")) for cell in row] for row in rows]
    return _Listing(title, list(columns), cells, frozenset(right))


class _Listing:
    """Rows that are drawn as a table or as blocks, as the width allows."""

    def __init__(self, title: str, columns: list[str], cells: list[list[Any]], right: frozenset[str]) -> None:
        self.title, self.columns, self.cells, self.right = title, columns, cells, right
        rows = [[str(cell) for cell in row] for row in (columns, *cells)]
        self.wanted = [max(len(row[at]) for row in rows) for at in range(len(columns))]
        """The width of each column on one line."""
        longest = [
            max((len(word) for row in rows for word in row[at].split()), default=1) for at in range(len(columns))
        ]
        self.narrowest = [max(word, min(_LEAST_TEXT, width)) for word, width in zip(longest, self.wanted, strict=True)]
        """No word is broken, and texts stay readable."""

    def __rich_console__(self, console: "Console", options: "ConsoleOptions") -> Iterator[Any]:
        free = options.max_width - sum(self.narrowest) - _GAP * (len(self.columns) - 1) - _EDGES
        yield self._table(free) if free >= 0 or len(self.columns) < _LEAST_COLUMNS else self._blocks()

    def _table(self, free: int) -> Any:
        from rich import box
        from rich.table import Table

        drawn = Table(
            title=self.title or None, title_justify="left", title_style="bold", box=box.SIMPLE_HEAD, pad_edge=False
        )
        for column, width in zip(self.columns, self._widths(free), strict=True):
            justify: Literal["left", "right"] = "right" if column in self.right else "left"
            drawn.add_column(column, justify=justify, overflow="fold", width=width if free >= 0 else None)
        for row in self.cells:
            drawn.add_row(*row)
        return drawn

    def _widths(self, free: int) -> list[int]:
        """Share what is left of the width among the columns that would take more, the least first."""
        widths = list(self.narrowest)
        waiting = sorted(range(len(widths)), key=lambda at: self.wanted[at] - widths[at])
        for place, at in enumerate(waiting):
            more = min(self.wanted[at] - widths[at], max(free, 0) // (len(waiting) - place))
            widths[at] += more
            free -= more
        return widths

    def _blocks(self) -> Any:
        from rich.console import Group
        from rich.table import Table
        from rich.text import Text

        parts: list[Any] = [Text(self.title, style="bold")] if self.title else []
        for row in self.cells:
            block = Table.grid(padding=(0, 2))
            block.add_column(no_wrap=True, style="dim")
            block.add_column(overflow="fold")
            for column, cell in zip(self.columns, row, strict=True):
                if str(cell):
                    block.add_row(column, cell)
            parts += [Text(""), block]
        return Group(*parts, Text(""))


_GAP = 3
"""Blanks between two columns."""
_EDGES = 2
"""Blanks at both ends of a table."""
_LEAST_TEXT = 22
"""Characters of a line from which on a text can be read."""
_LEAST_COLUMNS = 3
"""Columns from which on a narrow window gets blocks."""
_SLOWEST = 10
"""How many pieces of work are told that took longest."""


def heading(out: "Console", text: str) -> None:
    out.print(text, style="bold")


@contextmanager
def progress(quiet: bool) -> Iterator["Progress"]:
    """Show progress on stderr where that is a terminal; otherwise nothing."""
    from hullsound.steps import no_progress

    if quiet or not sys.stderr.isatty():
        yield no_progress
        return
    from rich.console import Console
    from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

    with Progress(
        TextColumn("{task.description}", markup=False), BarColumn(), MofNCompleteColumn(),
        TimeRemainingColumn(compact=True), TextColumn("left", markup=False),
        console=Console(stderr=True), transient=True, auto_refresh=False,  # no thread, so that reading may fork
    ) as bar:  # fmt: skip
        task = bar.add_task("", total=None)

        def show(what: str, done: int, total: int) -> None:
            bar.update(task, description=what[:50].ljust(50), completed=done, total=total, refresh=True)

        yield show


def draw_timings(timings: "Timings") -> None:
    """Show on stderr what each step took, and the pieces of work that took longest."""
    from rich.console import Console

    out = Console(stderr=True, markup=False, highlight=False, emoji=False)
    steps = [(name, f"{seconds:.2f}") for name, seconds in timings.steps()]
    out.print(table("", ["step", "seconds"], steps, ["seconds"]))
    slowest = [(f"{piece.seconds:.2f}", piece.step, piece.name) for piece in timings.slowest(_SLOWEST)]
    if slowest:
        out.print(table("What took longest", ["seconds", "step", "object or files"], slowest, ["seconds"]))


def say_survey(done: "Surveyed", hull: "Path") -> None:
    """Say what a survey came to, and which engine a source was taken for, and why, where nobody named it."""
    if done.guessed_by:
        say(f"Taken for {done.engine}: {'; '.join(done.guessed_by)}. Say --from if that is wrong.")
    if done.doubt:
        say(f"hullsound: is --from right? The scripts were {done.doubt}.")
    stock = done.stock
    again = "; nothing has changed, nothing was read again" if done.is_unchanged else ""
    say(
        f"{hull}: {stock.objects} objects from {stock.statements} statements in {stock.files} files; {stock.unread} unread{again}."
    )


def say(text: str) -> None:
    """Write a message for people to stderr."""
    print(visible(text), file=sys.stderr)  # noqa: T201 - the one place that writes plain messages


def write_json(value: object) -> None:
    """Write a value as JSON to stdout."""
    import msgspec

    sys.stdout.write(msgspec.json.format(msgspec.json.encode(value), indent=1).decode() + "\n")


def write_csv(columns: Sequence[str], rows: Sequence[Sequence[object]]) -> None:
    """Write rows as CSV to stdout, safe to open in a spreadsheet."""
    from hullsound.report.table import csv_text

    sys.stdout.write(csv_text(columns, rows))


def exit_status(findings: "Sequence[Finding]", fail_on: str, baseline: "frozenset[str] | None" = None) -> int:
    """Return 1 if there are findings at or above `fail_on` that nobody accepted, else 0.

    With a baseline, only findings that it lacks count, and they are said.
    """
    if baseline is not None:
        from hullsound.steps.baseline import new_findings

        findings = new_findings(findings, baseline)
    severities = {"never": (), "blocker": ("blocker",), "warning": ("blocker", "warning")}[fail_on.removeprefix("new-")]
    failing = [f for f in findings if f.severity.value in severities and f.accepted is None]
    if baseline is not None:
        say(f"{len(failing)} findings are new since the baseline.")
        for finding in failing[:_NEW_SHOWN]:
            place = f"{finding.file}:{finding.line}" if finding.line else finding.object
            say(f"  {finding.severity.value} {finding.construct} at {place}")
    return 1 if failing else 0


_NEW_SHOWN = 20
REFUSED = 4
"""Exit status where the target refused a draft or cannot be reached."""


def sides_of(document: "Document") -> str:
    """Name the source and the target of an assessment."""
    target = document.target
    hosting = "" if target.hosting == "own" else f" ({target.hosting})"
    source = f"{document.source.engine} {document.source.version}".strip()
    return f"{document.source.name or 'source'}: {source} to {target.engine} {target.version}{hosting}"


def draw_summary(document: "Document") -> None:
    """Write the summary of an assessment to stdout."""
    from hullsound.report.document import has_drafts, later_words

    out = console()
    summary, cover = document.summary, document.coverage
    heading(out, sides_of(document))
    share = 1 - cover.unread_lines / cover.lines if cover.lines else 1.0
    out.print(
        f"Read {cover.statements} statements, {cover.lines} lines in {cover.files} files; "
        f"{cover.unread_statements} statements not in full ({share:.1%} of lines read)."
    )
    if not has_drafts(document):
        out.print("No drafts are written for this pair of engines yet: what is mechanical counts as rewrite.")
    out.print(
        f"Ready without a person: {summary.readiness.objects:.0%} of objects, {summary.readiness.lines:.0%} of lines. "
        f"Effort: {summary.effort_hours.p50:.0f} h likely to suffice (P50), {summary.effort_hours.p80:.0f} h with safety (P80)."
    )
    if later := later_words(document):
        out.print(f"{later}.")
    if document.trial.engine:
        out.print(
            f"Tried on {document.trial.engine}: {document.trial.accepted} accepted, {document.trial.refused} refused."
        )
    if document.trial.cases:
        out.print(f"Run on both engines: {document.trial.alike} of {document.trial.cases} cases behave alike.")
    counts: dict[str, dict[str, int]] = {}
    for entry in document.objects:
        row = counts.setdefault(entry.type, {})
        row[entry.outcome.value] = row.get(entry.outcome.value, 0) + 1
    outcomes = list(summary.by_outcome)
    rows: list[list[object]] = [
        [kind, *(row.get(outcome, "") for outcome in outcomes), sum(row.values())]
        for kind, row in sorted(counts.items())
    ]
    rows.append(["all", *(summary.by_outcome[outcome] or "" for outcome in outcomes), summary.objects])
    out.print(table("", ["type", *outcomes, "all"], rows, right=[*outcomes, "all"]))
    severities = ", ".join(f"{count} {name}{'s' if count != 1 else ''}" for name, count in summary.by_severity.items())
    accepted = sum(finding.accepted is not None for finding in document.findings)
    tail = f" {accepted} of them accepted in hullsound.toml." if accepted else ""
    out.print(f"Findings: {severities}.{tail}")


def draw_worklist(document: "Document", count: int) -> None:
    """Write the head of the list in the order to work in."""
    out = console()
    work = [entry for entry in document.objects if entry.outcome.value in ("blocked", "rewrite", "confirm")]
    rows = [
        (entry.rank, entry.outcome.value, entry.id, entry.lines, f"{entry.hours:.1f}", entry.reason)
        for entry in work[:count]
    ]
    if rows:
        columns = ["rank", "outcome", "object", "lines", "hours", "why here"]
        out.print(table("\nWork on first", columns, rows, right=["rank", "lines", "hours"]))
    if len(work) > count:
        out.print(f"... and {len(work) - count} more; see hullsound report.")


def draw_assumptions(out: "Console", listed: "Sequence[Assumption]") -> None:
    """Write what an estimate rests on: what was measured or given first."""
    order = ("measured", "given", "assumed")
    rows = [(a.key, a.value, a.origin, a.meaning) for a in sorted(listed, key=lambda a: order.index(a.origin))]
    out.print(
        table("What this rests on (hullsound.toml sets the keys)", ["key", "value", "origin", "what it is"], rows)
    )


VALUE_COLUMNS = ("object", "column", "says", "rows", "number", "seen", "of")


def value_rows(facts: "Sequence[ValueFact]") -> list[tuple[object, ...]]:
    """Return what the values say as rows; what was not asked for is empty."""
    return [
        (
            f.object,
            f.column,
            f.title,
            "" if f.rows is None else f.rows,
            "" if f.value is None else f.value,
            f.seen,
            f.total,
        )
        for f in facts
    ]


def draw_values(catalog: "Catalog", *, only_yes: bool, most: int = 0) -> None:
    """Print what the values say, the first `most` of it where that is given."""
    from hullsound.report.values import list_values

    if not catalog.measures:
        say("The values were not looked at: survey a running source with --profile.")
        return
    facts = list_values(catalog, only_yes=only_yes)
    if most and len(facts) > most:
        say(f"The first {most} of {len(facts)} answers; see hullsound values.")
        facts = facts[:most]
    console().print(
        table("What the values say", VALUE_COLUMNS, value_rows(facts), right=["rows", "number", "seen", "of"])
    )
