"""Two texts beside each other in the terminal, changed parts marked."""

from itertools import zip_longest
from typing import TYPE_CHECKING

from hullsound.visible import visible

if TYPE_CHECKING:
    from rich.console import Console
    from rich.table import Table
    from rich.text import Text

    from hullsound.report.look import Look, Piece


def side_by_side(out: "Console", look: "Look") -> None:
    """Print source and draft of an object in two columns with line numbers; lines with findings carry a mark."""
    out.print(sides_table(look))


def sides_table(look: "Look") -> "Table":
    """Return source and draft of an object in two columns with line numbers; lines with findings carry a mark."""
    from rich import box
    from rich.table import Table

    grid = Table(box=box.SIMPLE_HEAD, pad_edge=False, expand=True, show_lines=False)
    flagged = {finding.line for finding in look.findings}
    for title in (f"source ({look.engine})", "draft" if look.is_finished else "stand-in"):
        grid.add_column("", justify="right", no_wrap=True)
        grid.add_column(title, ratio=1, overflow="fold")
    left = _numbered(look.source, look.line, flagged, "bright_red")
    right = _numbered(look.draft, 1, set(), "bright_green")
    for pair in zip_longest(left, right, fillvalue=("", "")):
        grid.add_row(*(cell for line in pair for cell in line))
    return grid


def _numbered(pieces: "list[Piece]", first: int, flagged: set[int], style: str) -> "list[tuple[Text, Text]]":
    """Return the lines of marked pieces, each behind its number; lines with findings carry a mark before it."""
    from rich.text import Text

    whole = Text()
    for piece in pieces:
        whole.append(visible(piece.text.expandtabs(4)), style=style if piece.is_changed else "")
    lines = whole.split("\n", allow_blank=True)
    return [
        (Text(f">{number}", "bold yellow") if number in flagged else Text(str(number), "dim"), line)
        for number, line in enumerate(lines, start=first)
    ]
