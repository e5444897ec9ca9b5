"""What changes of a table do to its columns, and to the keys, indexes and triggers that name them."""

import re

from .model import Column, Object, shown


def put_at(table: Object, column: Column, place: str) -> None:
    """Move a column to where a change says that it stands; without a word on it, it stays."""
    where, _, name = place.partition(" ")
    others = [each for each in table.columns if each is not column]
    beside = next((at for at, each in enumerate(others) if each.name == name), -1)
    if where == "first":
        table.columns = [column, *others]
    elif where and beside >= 0:
        at = beside + (where == "after")
        table.columns = [*others[:at], column, *others[at:]]


def column_of(table: Object, name: str) -> Column | None:
    return next((column for column in table.columns if column.name == name), None)


def disable(item: Object, *, is_off: bool) -> None:
    if item.constraint is not None:
        item.constraint.disabled = is_off
    elif item.index is not None:
        item.index.disabled = is_off
    elif is_off:
        item.details["disabled"] = "yes"
    else:
        item.details.pop("disabled", None)


def can_be_off(item: Object) -> bool:
    """Whether a constraint is one that the T-SQL family can switch off: a check or a foreign key."""
    return item.constraint is not None and item.constraint.form in ("check", "foreign key")


def mentions(part: Object, column: str) -> bool:
    """Whether an index or constraint stands on a column."""
    if part.constraint is not None:
        return column in part.constraint.columns or bool(word_pattern(column).search(part.constraint.expression))
    texts = (part.index.where, *(key.text for key in part.index.keys)) if part.index is not None else ()
    return any(word_pattern(column).search(text) for text in texts)


def with_new_name(text: str, old: str, new: str) -> str:
    return word_pattern(old).sub(lambda _: shown(new), text) if text else text


def word_pattern(name: str) -> re.Pattern[str]:
    return re.compile(rf"(?i)(?<![\w$#@]){re.escape(name)}(?![\w$#@])")
