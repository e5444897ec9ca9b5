"""Records the session at the top of the README: runs commands on the demo and draws what they print as one animated SVG.

`python docs/session.py` writes docs/screenshots/session.svg. Each command is a screen of its own, shown for a few seconds, over and
over; a viewer without animation shows the first.
"""

import os
import shlex
import subprocess
import sys
import tempfile
from html import escape
from pathlib import Path

from rich.console import Console
from rich.segment import Segment
from rich.terminal_theme import TerminalTheme
from rich.text import Text

OUT = Path(__file__).parent / "screenshots" / "session.svg"
COLUMNS, ROWS = 104, 27
SECONDS = 6
"""How long each screen stays."""
LETTER, LINE, EDGE, BAR = 8.43, 18, 14, 34
"""Width of a letter, height of a line, blanks around the screen, height of the window's head; in pixels at 14 px."""
COMMANDS = (
    "hullsound assess harbour.hull --to postgresql:18",
    "hullsound findings harbour.hull --severity blocker --limit 3",
    "hullsound show harbour.hull v_expected_today",
    "hullsound explain oracle.connect-by --to postgresql:18",
    "hullsound trial harbour.hull --to postgresql:18",
    "hullsound compare harbour.hull --to postgresql:18 --to mariadb:11.8 --to oracle:23",
)
THEME = TerminalTheme(
    (17, 38, 49), (221, 230, 233),
    [(58, 74, 84), (214, 92, 116), (94, 178, 138), (214, 173, 76), (92, 160, 204), (170, 130, 190), (90, 176, 184),
     (221, 230, 233)],
)  # fmt: skip


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        _run("hullsound demo demo --quiet", Path(folder))
        demo = Path(folder) / "demo"
        screens = [_screen(command, _run(command, demo)) for command in COMMANDS]
    OUT.write_text(_animated(screens), encoding="utf-8")
    sys.stdout.write(f"{OUT.relative_to(OUT.parents[2])}\n")


def _run(command: str, folder: Path) -> str:
    environment = {**os.environ, "FORCE_COLOR": "1", "COLUMNS": str(COLUMNS), "TERM": "xterm-256color"}
    environment.pop("NO_COLOR", None)
    arguments = [sys.executable, "-m", *shlex.split(command)]
    done = subprocess.run(  # noqa: S603 - the commands above
        arguments, cwd=folder, env=environment, capture_output=True, text=True, check=True
    )
    return done.stderr + done.stdout if not done.stdout else done.stdout


def _screen(command: str, output: str) -> str:
    """Return the lines of one screen as SVG: the prompt with the command, and what it prints as far as there is room."""
    console = Console(width=COLUMNS, force_terminal=True, color_system="truecolor", highlight=False)
    prompt = Text.assemble(("$ ", "bold green"), (command, "bold"))
    text = Text.from_ansi(output.rstrip("\n"))
    lines = [*console.render_lines(prompt, pad=False), [], *console.render_lines(text, pad=False)]
    if len(lines) > ROWS:
        lines = [*lines[: ROWS - 1], [Segment("...")]]
    return "\n".join(filter(None, (_line(line, at) for at, line in enumerate(lines))))


def _line(segments: list[Segment], at: int) -> str:
    pieces, column = [], 0
    y = BAR + EDGE + LINE * (at + 1) - 4
    for segment in segments:
        if segment.text.strip():
            style = segment.style
            colour = (
                style.color.get_truecolor(THEME)
                if style is not None and style.color is not None
                else THEME.foreground_color
            )
            weight = ' font-weight="bold"' if style is not None and style.bold else ""
            fill = f"#{colour[0]:02x}{colour[1]:02x}{colour[2]:02x}"
            x = EDGE + LETTER * column
            length = f'textLength="{LETTER * len(segment.text):.1f}"'
            pieces.append(f'<text x="{x:.1f}" y="{y}" {length} fill="{fill}"{weight}>{escape(segment.text)}</text>')
        column += len(segment.text)
    return "".join(pieces)


def _animated(screens: list[str]) -> str:
    """Return the SVG that shows one screen after another."""
    width, height = round(2 * EDGE + LETTER * COLUMNS), BAR + 2 * EDGE + LINE * ROWS
    total, share = SECONDS * len(screens), 100 / len(screens)
    background = "#{:02x}{:02x}{:02x}".format(*THEME.background_color)
    steps = f"0%, {share:.3f}% {{ visibility: visible }} {share + 0.001:.3f}%, 100% {{ visibility: hidden }}"
    rules = [
        "text { font: 14px 'DejaVu Sans Mono', Menlo, Consolas, monospace; white-space: pre }",
        f"@keyframes turn {{ {steps} }}",
        f".screen {{ visibility: hidden; animation: turn {total}s step-end infinite }}",
        *(f".s{at} {{ animation-delay: {SECONDS * at}s }}" for at in range(len(screens))),
        "@media (prefers-reduced-motion: reduce) { .screen { animation: none } .s0 { visibility: visible } }",
    ]
    dots = "".join(f'<circle cx="{20 + 18 * at}" cy="17" r="5.5" fill="#3a4a54"/>' for at in range(3))
    shown = "\n".join(
        f'<g class="screen s{at}" xml:space="preserve">\n{screen}\n</g>' for at, screen in enumerate(screens)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" role="img" '
        f'aria-label="A session: assess, findings, show, explain, trial, compare">\n<style>{" ".join(rules)}</style>\n'
        f'<rect width="{width}" height="{height}" rx="8" fill="{background}"/>\n{dots}\n{shown}\n</svg>\n'
    )


if __name__ == "__main__":
    main()
