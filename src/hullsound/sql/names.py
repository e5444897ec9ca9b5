"""How names are kept; a module of its own, so that what needs no more than this loads no trees."""

Parts = tuple[str, ...]
"""A dotted name as the engine stores it: folded where unquoted, exact where quoted."""
