"""Makes a large source: the demo system of an engine repeated under other schema names."""

import argparse
import re
from importlib.resources import as_file, files
from pathlib import Path

_SCHEMAS = {
    "oracle": ("HARBOUR;", "harbour."),
    "sqlserver": ("[sales]", "sales.", "[ops]", "ops.", "[audit]", "audit."),
    "mysql": ("`yard`", "yard.", "USE yard"),
}
"""Pieces of text that name a schema, by engine; a number behind the name makes each copy another schema."""


def make_source(folder: Path, lines: int, engine: str = "oracle") -> int:
    """Write copies of an engine's demo until there are at least `lines` lines; return how many there are."""
    written = 0
    copy = 0
    with as_file(files("hullsound.demo") / engine) as scripts:
        texts = {
            p.relative_to(scripts): p.read_text(encoding="utf-8") for p in sorted(scripts.rglob("*")) if p.is_file()
        }
    while written < lines:
        for path, text in texts.items():
            goal = folder / f"copy{copy:04d}" / path
            goal.parent.mkdir(parents=True, exist_ok=True)
            for piece in _SCHEMAS[engine]:
                text = text.replace(
                    piece, re.sub(r"(\w+)", rf"\g<1>{copy}", piece) if " " not in piece else f"{piece}{copy}"
                )
            goal.write_text(text, encoding="utf-8")
            written += text.count("\n")
        copy += 1
    return written


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--lines", type=int, default=60_000)
    parser.add_argument("--engine", default="oracle", choices=sorted(_SCHEMAS))
    arguments = parser.parse_args()
    print(make_source(arguments.folder, arguments.lines, arguments.engine))
