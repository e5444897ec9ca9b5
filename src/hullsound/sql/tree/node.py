"""What all nodes are: spans of tokens."""

from msgspec import Struct

from hullsound.sql.names import Parts

__all__ = ["Node", "Parts"]


class Node(Struct, eq=False):
    first: int
    last: int
