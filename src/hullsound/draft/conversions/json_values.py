"""JSON that MySQL puts into columns of other types by itself: its text is cast to the column's type."""

from functools import partial

from hullsound.analyze.types import Family
from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import Call, Insert


def add_json_values(insert: Insert, rewriter: Rewriter) -> None:
    """Cast the parts of JSON that stand by themselves in the rows of an INSERT."""
    table = rewriter.table(insert.table.parts) if insert.table is not None else None
    if table is None or insert.query is not None:
        return
    names = [c.parts[-1] for c in insert.columns] or [column.name for column in table.columns]
    words = rewriter.words
    for call in rewriter.subject.all(Call):
        inside = insert.first < call.first and call.last < insert.last
        if not inside or call.parts != ("JSON_EXTRACT",) or words[call.first - 1] not in ("(", ","):
            continue
        place = _place(call, insert, words) if words[call.last] in (")", ",") else -1
        kind = _column_type(table, names[place], rewriter) if 0 <= place < len(names) else ""
        if kind:
            rewriter.wrap(call, partial(_cast, call, kind))


def _place(call: Call, insert: Insert, words: list[str]) -> int:
    """Return the place of a value in its row; -1 if it stands deeper."""
    depth, place = 0, 0
    for at in range(call.first - 1, insert.first, -1):
        depth += (words[at] == ")") - (words[at] == "(")
        if depth < 0:
            return place if words[at - 1] in ("VALUES", "VALUE", ",") else -1
        place += words[at] == "," and depth == 0
    return -1


def _column_type(table: Object, name: str, rewriter: Rewriter) -> str:
    """Return the target's type of a column that holds no JSON; '' for others."""
    column = next((c for c in table.columns if c.name == name), None)
    if column is None or rewriter.types.family_of(column.type) is Family.JSON:
        return ""
    choice = choose_type(rewriter.catalog.engine, column.type, rewriter.target)
    return choice.text if choice is not None else ""


def _cast(call: Call, kind: str, rewriter: Rewriter) -> str:
    text = rewriter.node(call)
    return f"CAST({text} #>> '{{}}' AS {kind})" if rewriter.types.family(call) is Family.JSON else text
