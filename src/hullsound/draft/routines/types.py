"""Types of variables, parameters and results as a target other than PostgreSQL has them."""

from typing import Final

from hullsound.analyze.records import declared_type
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import TypeName

_UNSIZED: Final = {"mysql": "longtext", "mariadb": "longtext", "sqlserver": "nvarchar(max)", "oracle": "varchar2"}
"""Type of a text without a length, by target."""

_OPEN_TEXTS: Final = ("postgresql", "sqlite")
"""Sources whose texts need no length: code of Oracle keeps them as VARCHAR2, as SQL there compares no large objects."""


def type_text(node: TypeName, rewriter: Rewriter) -> str:
    """Return the target's type. Raises CannotDraft where it has none."""
    source = declared_type(node, rewriter.columns)
    if node.borrowed == "ROWTYPE" or source is None:
        raise CannotDraft("a type taken from a row")
    if source.name == "BPCHAR" and not source.arguments:
        raise CannotDraft("a text of any length whose blanks at the end do not count")
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        raise CannotDraft(f"no type for {source}")
    return chosen_text(choice.text, source, rewriter)


def chosen_text(text: str, source: DataType, rewriter: Rewriter) -> str:
    """Return a type that was chosen for a column as a variable has it: a text without a length takes one of any length."""
    if text == "clob" and rewriter.catalog.engine in _OPEN_TEXTS and rewriter.target.engine == "oracle":
        return _UNSIZED["oracle"]
    is_open = not source.arguments and rewriter.catalog.engine in ("oracle", "postgresql", "sqlite")
    if text.split("(", maxsplit=1)[0] in ("varchar", "nvarchar", "varchar2") and (is_open or "(" not in text):
        return _UNSIZED[rewriter.target.engine]
    return text
