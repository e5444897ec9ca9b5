"""The functions that read and set a variable of a package."""

from hullsound.draft.edits.rewrite import Rewriter


def getter(package: str, name: str, rewriter: Rewriter) -> str:
    return f"{rewriter.names.qualified(package, name)}()"


def setter(package: str, name: str, rewriter: Rewriter) -> str:
    return rewriter.names.qualified(package, f"SET_{name}")
