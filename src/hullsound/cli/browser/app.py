"""The application: a worklist on the left, the chosen object on the right, keys for what can be decided."""

from typing import Any, ClassVar, Final

from rich.text import Text
from textual import work
from textual.app import App, ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical, VerticalScroll
from textual.widgets import DataTable, Footer, Header, Input, Static, TabbedContent, TabPane

from hullsound.assess.model import Finding
from hullsound.cli.output import STYLES, sides_of
from hullsound.errors import HullError
from hullsound.report.document import ObjectEntry
from hullsound.report.explain import explain_construct
from hullsound.report.look import Look
from hullsound.visible import visible

from .dialogs import Answers, Dialog
from .panes import explanation_of, finding_of, head_of, rows_of, sides_of_look
from .session import Session

MOST_LISTED: Final = 1_000
"""Objects up to which the worklist is drawn; beyond, it asks for a narrower text."""


_FOCUSED: Final = {"findings": "#finding-list", "sides": "#sides-box", "explanation": "#explanation-box"}
"""What takes the cursor in each pane."""


class Browser(App[None]):
    """Looks through one assessment."""

    TITLE = "Hull Sound"
    ENABLE_COMMAND_PALETTE = False
    CSS_PATH = "browser.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("slash", "narrow", "Narrow"),
        Binding("o", "outcome", "Outcome"),
        Binding("f", "tab('findings')", "Findings"),
        Binding("s", "tab('sides')", "Source and draft"),
        Binding("e", "tab('explanation')", "Explanation"),
        Binding("a", "accept", "Accept"),
        Binding("d", "done", "Done"),
        Binding("escape", "worklist", "Worklist", show=False),
        Binding("q", "quit", "Quit"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.entries: list[ObjectEntry] = []
        self.shown: Look | None = None

    # --- what is drawn ---

    def compose(self) -> ComposeResult:
        yield Header(icon="")
        with Horizontal():
            with Vertical(id="left"):
                yield Input(placeholder="Narrow by name, type, file or reason", id="narrow")
                yield Static("", id="summary", markup=False)
                yield DataTable[Text](id="worklist", cursor_type="row", zebra_stripes=True)
            with Vertical(id="right"):
                yield Static("", id="head", markup=False)
                with TabbedContent(id="tabs"):
                    with TabPane("Findings", id="findings"):
                        yield DataTable[Text](id="finding-list", cursor_type="row", zebra_stripes=True)
                        with VerticalScroll(id="finding-box"):
                            yield Static("", id="finding", markup=False)
                    with TabPane("Source and draft", id="sides"), VerticalScroll(id="sides-box"):
                        yield Static("", id="both", markup=False)
                    with TabPane("Explanation", id="explanation"), VerticalScroll(id="explanation-box"):
                        yield Static("", id="meaning", markup=False)
        yield Footer()

    def on_mount(self) -> None:
        worklist = self._table("#worklist")
        worklist.add_columns("#", "outcome", "hours", "object")
        self._table("#finding-list").add_columns("severity", "line", "construct", "what it is")
        self.sub_title = "reading the assessment"
        worklist.loading = True
        self._load()

    @work(thread=True, exclusive=True)
    def _load(self) -> None:
        try:
            self.session.load()
        except HullError as error:
            self.call_from_thread(self.exit, return_code=error.status, message=f"hullsound: {error}")
            return
        self.call_from_thread(self._loaded)

    def _loaded(self) -> None:
        if self.session.document is not None:
            self.sub_title = sides_of(self.session.document)
        self._table("#worklist").loading = False
        self._list()
        self.action_worklist()

    def _list(self, keep: str = "") -> None:
        """Draw the worklist, with the cursor on an object where it is among what is shown."""
        self.entries = self.session.objects()
        table = self._table("#worklist")
        table.clear()
        for entry in self.entries[:MOST_LISTED]:
            done = entry.id in self.session.done
            table.add_row(
                Text(str(entry.rank), justify="right"),
                Text("done" if done else entry.outcome.value, STYLES.get("" if done else entry.outcome.value, "green")),
                Text(f"{entry.hours:.1f}", justify="right"),
                Text(visible(entry.id)),
            )
        tail = f"; the first {MOST_LISTED} are listed" if len(self.entries) > MOST_LISTED else ""
        self.query_one("#summary", Static).update(self.session.summary() + tail)
        place = next((at for at, entry in enumerate(self.entries[:MOST_LISTED]) if entry.id == keep), 0)
        if self.entries:
            table.move_cursor(row=place)
            self._show(self.entries[place].id)
        else:
            self._clear()

    def _clear(self) -> None:
        self.shown = None
        self._table("#finding-list").clear()
        for name in ("#head", "#finding", "#both", "#meaning"):
            self.query_one(name, Static).update("")

    def _show(self, object_id: str) -> None:
        if self.shown is not None and self.shown.id == object_id:
            return
        try:
            look = self.session.look(object_id)
        except HullError as error:
            self.notify(str(error), severity="error", markup=False)
            return
        self.shown = look
        self.query_one("#head", Static).update(head_of(look, self.session.done.get(look.id)))
        self.query_one("#both", Static).update(sides_of_look(look))
        table = self._table("#finding-list")
        table.clear()
        table.add_rows(rows_of(look.findings))
        self._show_finding(0)

    def _show_finding(self, place: int) -> None:
        findings = self.shown.findings if self.shown is not None else []
        if not 0 <= place < len(findings):
            self.query_one("#finding", Static).update("No findings." if self.shown is not None else "")
            self.query_one("#meaning", Static).update("")
            return
        finding = findings[place]
        self.query_one("#finding", Static).update(finding_of(finding))
        try:
            page = explain_construct(finding.construct, self.session.target)
        except HullError as error:
            self.query_one("#meaning", Static).update(Text(str(error)))
            return
        self.query_one("#meaning", Static).update(explanation_of(page))

    def on_data_table_row_highlighted(self, event: DataTable.RowHighlighted) -> None:
        if event.data_table.id == "worklist":
            if 0 <= event.cursor_row < min(len(self.entries), MOST_LISTED):
                self._show(self.entries[event.cursor_row].id)
        else:
            self._show_finding(event.cursor_row)

    def on_data_table_row_selected(self, event: DataTable.RowSelected) -> None:
        self.action_tab("findings" if event.data_table.id == "worklist" else "explanation")

    # --- what keys do ---

    def action_narrow(self) -> None:
        self.query_one("#narrow", Input).focus()

    def action_worklist(self) -> None:
        self._table("#worklist").focus()

    def on_input_changed(self, event: Input.Changed) -> None:
        if event.input.id == "narrow":
            self.session.wanted = event.value
            self._list()

    def on_input_submitted(self, event: Input.Submitted) -> None:
        if event.input.id == "narrow":
            self.action_worklist()

    def action_outcome(self) -> None:
        self.session.next_outcome()
        self._list()

    def action_tab(self, name: str) -> None:
        """Show a pane; the cursor goes into it from another pane, and into the findings from everywhere."""
        tabs = self.query_one("#tabs", TabbedContent)
        goes_in = name == "findings" or (self.focused is not None and tabs in self.focused.ancestors)
        tabs.active = name
        if goes_in:  # which cannot be focused before it is shown
            self.call_after_refresh(self.query_one(_FOCUSED[name]).focus)

    def action_accept(self) -> None:
        finding = self._finding()
        if finding is None or self.shown is None:
            self.notify("No finding is chosen.", severity="warning")
            return
        fields = [
            ("reason", "Reason", "Why it may stay"), ("owner", "Owner", "Who answers for it"),
            ("until", "Until", "Last day, such as 2027-03-31; empty for ever"),
        ]  # fmt: skip

        def accept(answers: Answers) -> str:
            everywhere = bool(answers["everywhere"])
            path = self.session.accept(
                finding, answers["reason"], answers["owner"], answers["until"], everywhere=everywhere
            )
            return f"{finding.construct} is accepted in {path.name}"

        about = f"{finding.construct} in {visible(finding.object)}"
        self.push_screen(Dialog("Accept a finding", about, fields, accept, "In every object"), self._decided)

    def action_done(self) -> None:
        look = self.shown
        if look is None:
            self.notify("No object is chosen.", severity="warning")
            return

        def done(answers: Answers) -> str:
            return f"{visible(look.id)} is done, {self.session.mark_done(look.id, answers['hours']):g} h are recorded"

        fields = [("hours", "Hours it took", "1.5")]
        self.push_screen(Dialog("Mark as done", visible(look.id), fields, done), self._decided)

    def _decided(self, said: str | None) -> None:
        """Draw again what a decision has changed."""
        if said:
            keep = self.shown.id if self.shown is not None else ""
            self.shown = None
            self._list(keep)
            self.notify(said, markup=False)

    def _finding(self) -> Finding | None:
        place = self._table("#finding-list").cursor_row
        findings = self.shown.findings if self.shown is not None else []
        return findings[place] if 0 <= place < len(findings) else None

    def _table(self, name: str) -> "DataTable[Any]":
        return self.query_one(name, DataTable)
