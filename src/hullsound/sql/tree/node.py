"""What all nodes are: spans of tokens."""

from dataclasses import dataclass

Parts = tuple[str, ...]
"""A dotted name as the engine stores it: folded where unquoted, exact where quoted."""


@dataclass(slots=True, eq=False)
class Node:
    first: int
    last: int
