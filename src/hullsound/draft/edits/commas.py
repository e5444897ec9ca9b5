"""The commas between the members of a list."""

from collections.abc import Sequence


def outer_commas(first: int, last: int, words: Sequence[str]) -> list[int]:
    """Return the tokens of the commas in [first, last) that stand in no brackets."""
    depth, found = 0, []
    for at in range(first, last):
        depth += (words[at] == "(") - (words[at] == ")")
        if words[at] == "," and depth == 0:
            found.append(at)
    return found


def between_commas(first: int, last: int, words: Sequence[str]) -> list[tuple[int, int]]:
    """Return the spans of the members of the list [first, last); none for an empty one."""
    if first >= last:
        return []
    commas = outer_commas(first, last, words)
    return list(zip([first, *(comma + 1 for comma in commas)], [*commas, last], strict=True))
