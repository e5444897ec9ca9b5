"""Makes a large source: the demo harbour repeated under other schema names."""

import argparse
from importlib.resources import as_file, files
from pathlib import Path


def make_source(folder: Path, lines: int) -> int:
    """Write copies of the Oracle demo until there are at least `lines` lines; return how many there are."""
    written = 0
    copy = 0
    with as_file(files("hullsound.demo") / "oracle") as scripts:
        texts = {
            p.relative_to(scripts): p.read_text(encoding="utf-8") for p in sorted(scripts.rglob("*")) if p.is_file()
        }
    while written < lines:
        for path, text in texts.items():
            goal = folder / f"copy{copy:04d}" / path
            goal.parent.mkdir(parents=True, exist_ok=True)
            goal.write_text(
                text.replace("HARBOUR;", f"HARBOUR{copy};").replace("harbour.", f"harbour{copy}."), encoding="utf-8"
            )
            written += text.count("\n")
        copy += 1
    return written


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--lines", type=int, default=60_000)
    arguments = parser.parse_args()
    print(make_source(arguments.folder, arguments.lines))
