"""Dialogs of `browse`: accept a finding with a reason and an owner, mark an object done with its hours."""

from collections.abc import Callable
from typing import ClassVar, Final

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical
from textual.screen import ModalScreen
from textual.widgets import Button, Checkbox, Input, Label, Static

from hullsound.errors import HullError

Answers = dict[str, str]
_EVERYWHERE: Final = "everywhere"


class Dialog(ModalScreen[str]):
    """Asks for some texts and hands them to `act`; stays open, saying why, where that raises an error.

    It closes with what `act` says, or with '' where it is left.
    """

    BINDINGS: ClassVar[list[BindingType]] = [Binding("escape", "leave", "Leave")]

    def __init__(
        self,
        title: str,
        about: str,
        fields: list[tuple[str, str, str]],
        act: Callable[[Answers], str],
        choice: str = "",
    ) -> None:
        super().__init__()
        self.head, self.about, self.fields, self.act, self.choice = title, about, fields, act, choice

    def compose(self) -> ComposeResult:
        with Vertical(id="dialog"):
            yield Label(self.head, id="dialog-title", markup=False)
            yield Static(self.about, markup=False)
            for name, label, placeholder in self.fields:
                yield Label(label, markup=False)
                yield Input(placeholder=placeholder, id=name)
            if self.choice:
                yield Checkbox(self.choice, id=_EVERYWHERE)
            yield Static("", id="fault", markup=False)
            with Horizontal(id="buttons"):
                yield Button("Save", variant="primary", id="save")
                yield Button("Leave", id="leave")

    def on_input_submitted(self) -> None:
        self._save()

    def on_button_pressed(self, event: Button.Pressed) -> None:
        if event.button.id == "save":
            self._save()
        else:
            self.action_leave()

    def action_leave(self) -> None:
        self.dismiss("")

    def _save(self) -> None:
        answers = {name: self.query_one(f"#{name}", Input).value for name, _, _ in self.fields}
        if self.choice:
            answers[_EVERYWHERE] = "yes" if self.query_one(f"#{_EVERYWHERE}", Checkbox).value else ""
        try:
            said = self.act(answers)
        except HullError as error:
            self.query_one("#fault", Static).update(str(error))
            return
        self.dismiss(said)
