"""What all nodes are: spans of tokens."""

from dataclasses import dataclass

from hullsound.sql.names import Parts

__all__ = ["Node", "Parts"]


@dataclass(slots=True, eq=False)
class Node:
    first: int
    last: int
