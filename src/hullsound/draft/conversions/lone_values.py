"""The values that stand alone in rows."""

from collections.abc import Iterator, Sequence


def lone_values(words: Sequence[str], start: int, end: int) -> Iterator[tuple[int, int]]:
    """Yield place and token of each value of a single token in the rows (a, b), (c, d) that stand from `start` to `end`."""
    depth, place = 0, 0
    for at in range(start, end):
        if words[at] == "(":
            depth += 1
            place = 0 if depth == 1 else place
        elif words[at] == ")":
            depth -= 1
        elif words[at] == "," and depth == 1:
            place += 1
        elif depth == 1 and words[at - 1] in ("(", ",") and words[at + 1] in (")", ","):
            yield place, at
