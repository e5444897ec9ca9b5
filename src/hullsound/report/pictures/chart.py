"""What all charts share: a canvas in the colours of the page, written as SVG or PNG, the same bytes on every run."""

import io
import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from hullsound.storage import write_bytes
from hullsound.visible import visible

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

INK: Final = "#1d2b33"
SOFT: Final = "#5b6b74"
LINE: Final = "#d5dde1"
DEEP: Final = "#12394a"
SERIES: Final = ("#3d7fa6", "#3f8f6b", "#c79a2b", "#c4693d", "#8c2f4b", "#6a5d9c", "#5b6b74", "#2f6f73")
_INCH: Final = 100.0
"""Points of a picture to an inch."""
_METADATA: Final = re.compile(r"<metadata>.*?</metadata>\s*", re.DOTALL)
_ID: Final = re.compile(r' id="([^"]*)"')
_MEANT: Final = re.compile(r'(?:url\(|href=")#([^)"]*)')
"""What refers to an id: a page holds several pictures, whose other ids are all alike."""
_SETTINGS: Final[Any] = {
    "svg.hashsalt": "hullsound",
    "svg.fonttype": "none",
    "font.family": "sans-serif",
    "font.sans-serif": ["DejaVu Sans"],
    "font.size": 10,
    "text.color": INK,
    "axes.edgecolor": LINE,
    "axes.labelcolor": SOFT,
    "xtick.color": SOFT,
    "ytick.color": INK,
    "axes.spines.top": False,
    "axes.spines.right": False,
    "text.parse_math": False,
}
"""Names of a source are shown as they are: nothing in them is taken for a formula."""


@contextmanager
def canvas(width: float, height: float) -> "Iterator[Figure]":
    """Yield an empty figure of so many points; what is drawn on it takes the colours of the page."""
    import matplotlib as mpl
    from matplotlib.figure import Figure

    with mpl.rc_context(_SETTINGS):
        yield Figure(figsize=(width / _INCH, height / _INCH), dpi=_INCH, layout="constrained")


def as_svg(figure: "Figure") -> str:
    """Return a figure as an SVG element for a page, without an XML head; to be called while its canvas lasts."""
    stream = io.StringIO()
    figure.savefig(stream, format="svg", transparent=True, metadata={"Date": None})
    text = stream.getvalue()
    text = _METADATA.sub("", text[text.index("<svg") :])
    meant = set(_MEANT.findall(text))
    return _ID.sub(lambda found: found[0] if found[1] in meant else "", text)


def as_png(figure: "Figure") -> bytes:
    """Return a figure as PNG; to be called while its canvas lasts."""
    stream = io.BytesIO()
    figure.savefig(stream, format="png", facecolor="white", metadata={"Software": None})
    return stream.getvalue()


def save(path: Path, figure: "Figure") -> None:
    """Write a figure as SVG or PNG, as the name of the file says. Raises SourceError."""
    write_bytes(path, as_png(figure) if path.suffix == ".png" else as_svg(figure).encode())


def shortened(text: str, most: int) -> str:
    """Return a text for a label, with control characters written out, cut in the middle where it is too long."""
    text = visible(text)
    if len(text) <= most:
        return text
    half = (most - 1) // 2
    return f"{text[:half]}\N{HORIZONTAL ELLIPSIS}{text[-half:]}"


def counted(count: int, what: str) -> str:
    """Return a count with its noun."""
    return f"{count} {what}{'' if count == 1 else 's'}"


def note(axes: "Axes", words: str, x: float, y: float) -> None:
    """Write a remark to the right of a point, readable over the lines of the grid."""
    box = {"facecolor": "white", "edgecolor": "none", "alpha": 0.85, "pad": 1.5}
    axes.annotate(
        words, (x, y), xytext=(8, 0), textcoords="offset points", va="center", color=SOFT, fontsize=9, bbox=box
    )
