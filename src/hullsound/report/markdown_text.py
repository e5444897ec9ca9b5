"""Texts of a source as Markdown may hold them."""

from hullsound.visible import visible


def row(cells: list[object]) -> str:
    """Return one row of a table."""
    return "| " + " | ".join(str(each) for each in cells) + " |"


def cell(text: str) -> str:
    """Make text safe for Markdown: one line, nothing that draws, links, runs or steers."""
    text = visible(text)
    for char in "\\`*_[]<>|#":
        text = text.replace(char, f"&#{ord(char)};" if char in "<>|" else f"\\{char}")
    return " ".join(text.split())


def code(text: str) -> str:
    """Return a text for between backticks, in a table too."""
    return " ".join(visible(text).replace("`", "'").replace("|", "\\|").split())
