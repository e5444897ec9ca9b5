"""Coverage-guided fuzzing of the readers of all dialects: nothing may raise, hang or recurse without bound.

Run: python bench/fuzz/fuzz_readers.py -max_total_time=3600 -timeout=20 -max_len=4096 CORPUS
The first byte of an input chooses the dialect; the rest is the script. CORPUS may start with the demo scripts: give
`--seed CORPUS` to write them there.
"""

import sys
from importlib.resources import files
from pathlib import Path

import atheris

with atheris.instrument_imports(include=["hullsound.sql"]):
    from hullsound.sql.clients import batch, mysql, psql, sqlplus, terminated  # noqa: F401 - loaded here to be instrumented
    from hullsound.sql.clients.reader import FAULT, load_parser
    from hullsound.sql.dialect import ENGINES, Grammar, load_dialect
    from hullsound.sql.script import read_script

    for grammar in Grammar:
        load_parser(grammar)

DIALECTS = [*(load_dialect(engine) for engine in ENGINES), load_dialect("mariadb", frozenset(("ORACLE",)))]
PIECE = 1500
"""Characters of one seed."""


def test_one_input(data: bytes) -> None:
    if not data:
        return
    text = data[1:].decode("utf-8", errors="replace")
    script = read_script(text, DIALECTS[data[0] % len(DIALECTS)], {})
    for statement in script.statements():
        assert statement.last > statement.first
        assert statement.start <= statement.end
        assert not any(unread.reason.startswith(FAULT) for unread in statement.unread())


def write_seeds(folder: Path) -> None:
    """Write pieces of the demo scripts as seeds, each with the byte of its dialect."""
    folder.mkdir(parents=True, exist_ok=True)
    for number, dialect in enumerate(DIALECTS):
        root = files("hullsound.demo") / dialect.engine
        paths = sorted(Path(str(root)).rglob("*")) if root.is_dir() else []
        for path in paths:
            if path.is_file():
                text = path.read_text(encoding="utf-8")
                for at in range(0, len(text), PIECE):
                    name = f"{dialect.engine}-{path.stem}-{at}"
                    (folder / name).write_bytes(bytes([number]) + text[at : at + PIECE].encode())


if __name__ == "__main__":
    if "--seed" in sys.argv:
        write_seeds(Path(sys.argv[-1]))
    else:
        atheris.Setup(sys.argv, test_one_input)
        atheris.Fuzz()
