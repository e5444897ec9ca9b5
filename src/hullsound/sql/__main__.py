"""A debugging aid: prints the tokens and the tree of each statement of a script."""

import sys
from pathlib import Path

from .dialect import load_dialect
from .script import Directive, read_script
from .tree import Node


def _lines(value: object, indent: int, label: str) -> list[str]:
    """Draw a node with its fields, one line each; spans are given in tokens."""
    pad = "  " * indent + (f"{label}: " if label else "")
    if isinstance(value, Node):
        lines = [f"{pad}{type(value).__name__} [{value.first}:{value.last}]"]
        for name in value.__struct_fields__:
            if name not in ("first", "last"):
                lines += _lines(getattr(value, name), indent + 1, name)
        return lines
    if isinstance(value, list) and value:
        return [f"{pad}[]", *(line for item in value for line in _lines(item, indent + 1, ""))]
    return [f"{pad}{value!r}"] if value not in (None, "", (), [], False, {}) else []


def main() -> None:
    """Read the script named on the command line, as that of the engine named behind it, or else as Oracle's."""
    path = Path(sys.argv[1])
    engine = sys.argv[2] if len(sys.argv) > 2 else "oracle"
    script = read_script(path.read_text(encoding="utf-8"), load_dialect(engine), {})
    for item in script.items:
        if isinstance(item, Directive):
            sys.stdout.write(f"directive {item.word} {item.rest}\n")
            continue
        words = " ".join(f"{i}:{item.tokens.source(i, i + 1)}" for i in range(item.first, item.last))
        unread = "".join(f"unread [{u.first}:{u.last}] {u.reason}\n" for u in item.unread())
        sys.stdout.write(f"{words}\n" + "\n".join(_lines(item.tree, 1, "")) + f"\n{unread}")


if __name__ == "__main__":
    main()
