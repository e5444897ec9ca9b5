"""Two texts beside each other in the terminal, changed parts marked."""

from typing import TYPE_CHECKING

from hullsound.visible import visible

if TYPE_CHECKING:
    from rich.console import Console
    from rich.text import Text

    from hullsound.report.look import Look, Piece


def side_by_side(out: "Console", look: "Look") -> None:
    """Print source and draft of an object in two columns with line numbers; lines with findings carry a mark."""
    from rich import box
    from rich.table import Table

    grid = Table(box=box.SIMPLE_HEAD, pad_edge=False, expand=True, show_lines=False)
    flagged = {finding.line for finding in look.findings}
    grid.add_column(f"source ({look.engine})", ratio=1, overflow="fold")
    grid.add_column("draft" if look.is_finished else "stand-in", ratio=1, overflow="fold")
    left = _numbered(look.source, look.line, flagged, "bright_red")
    right = _numbered(look.draft, 1, set(), "bright_green")
    for i in range(max(len(left), len(right))):
        grid.add_row(left[i] if i < len(left) else "", right[i] if i < len(right) else "")
    out.print(grid)


def _numbered(pieces: "list[Piece]", first: int, flagged: set[int], style: str) -> "list[Text]":
    """Return the lines of marked pieces as texts with their numbers."""
    from rich.text import Text

    whole = Text()
    for piece in pieces:
        whole.append(visible(piece.text.expandtabs(4)), style=style if piece.is_changed else "")
    lines = []
    for number, line in enumerate(whole.split("\n", allow_blank=True), start=first):
        mark = ">" if number in flagged else " "
        prefix = (f"{mark}{number:>5}  ", "bold yellow" if mark == ">" else "dim")
        lines.append(Text.assemble(prefix, line))
    return lines
