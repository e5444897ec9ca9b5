"""OUTPUT INTO of UPDATE and DELETE of the T-SQL family where the target has nothing of the kind: an INSERT before or behind it.

Source: Transact-SQL reference of SQL Server 2022, "OUTPUT clause".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.change_parts import clause_of, table_parts
from hullsound.sql.tree import Clause, Delete, Name, SelectItem, TableRef, Update

from .run_twice import check_repeatable
from .speech import Lines

_BEFORE: Final = "DELETED"
_AFTER: Final = "INSERTED"


def keep_output(node: Update | Delete, rewriter: Rewriter) -> Lines | None:
    """Write a change and the INSERT of the rows that it gives out; None for a change without OUTPUT.

    Raises CannotDraft for rows that go to the caller, changes through other tables, and rows that only the change itself tells.
    """
    output = clause_of(node, "output", rewriter)
    if output is None:
        return None
    words = rewriter.words
    into = next((i for i in range(output.first, output.last) if words[i] == "INTO"), -1)
    if into < 0 or not isinstance(node.table, TableRef) or _is_limited(node, output, rewriter):
        raise CannotDraft("rows that a change gives back")
    filled = next(each for each in rewriter.subject.all(TableRef) if each.first == into + 1)
    if any(
        _reads(node, output, each) and each.parts[-1] == filled.parts[-1] for each in rewriter.subject.all(TableRef)
    ):
        raise CannotDraft("a change that reads the table that its rows go to")
    check_repeatable(node.where, rewriter)
    columns = _columns(output, into, rewriter)
    is_after = _is_read_after(node, columns, rewriter)
    named = node.table.alias or node.table.parts[-1]
    owner = rewriter.names.write(named)
    values = ", ".join(f"{owner}.{'*' if column == '*' else rewriter.names.write(column)}" for _, column in columns)
    where = f" WHERE {rewriter.elsewhere(node.where)}" if node.where is not None else ""
    table = rewriter.names.qualified(*table_parts(node.table, rewriter)) + (f" {owner}" if node.table.alias else "")
    kept = f"INSERT INTO {rewriter.text_elsewhere(into + 1, output.last)} SELECT {values} FROM {table}{where};"
    head, tail = (
        rewriter.text(node.first, output.first).rstrip(),
        rewriter.text(output.last, node.last).strip().rstrip(";"),
    )
    change = f"{head} {tail}".rstrip() + ";"
    return [change, kept] if is_after else [kept, change]


def _reads(node: Update | Delete, output: Clause, table: TableRef) -> bool:
    return node.first <= table.first < node.last and not output.first <= table.first < output.last


def _is_limited(node: Update | Delete, output: Clause, rewriter: Rewriter) -> bool:
    """Whether a change takes some rows alone, or finds them through other tables."""
    head = range(node.first, node.table.first)
    ends = node.where.first if node.where is not None else node.last
    tail = range(output.last, ends)
    return any(rewriter.words[i] == "TOP" for i in head) or any(rewriter.words[i] in ("FROM", "JOIN") for i in tail)


def _columns(output: Clause, into: int, rewriter: Rewriter) -> list[tuple[str, str]]:
    """Return what is given out, each as DELETED or INSERTED and a column."""
    items = [each for each in rewriter.subject.all(SelectItem) if output.first < each.first and each.last <= into]
    found = []
    for item in items:
        source = rewriter.subject.source(item.value).upper()
        if source in (f"{_BEFORE}.*", f"{_AFTER}.*"):
            found.append((source[:-2], "*"))
        elif isinstance(item.value, Name) and len(item.value.parts) == 2 and item.value.parts[0] in (_BEFORE, _AFTER):
            found.append((item.value.parts[0], item.value.parts[1]))
        else:
            raise CannotDraft("values that a change computes and gives back")
    return found


def _is_read_after(node: Update | Delete, columns: list[tuple[str, str]], rewriter: Rewriter) -> bool:
    """Whether the rows are read behind the change. Raises CannotDraft where neither moment has all of the values."""
    if isinstance(node, Delete):
        return False
    assigned = {target.parts[-1] for target, _ in node.assignments if isinstance(target, Name)}
    changed = {record for record, column in columns if column == "*" or column in assigned}
    if changed <= {_BEFORE}:
        return False
    where = (node.where.first, node.where.last) if node.where is not None else (0, 0)
    tested = {each.parts[-1] for each in rewriter.subject.all(Name) if where[0] <= each.first < where[1]}
    if changed != {_AFTER} or tested & assigned:
        raise CannotDraft("rows that a change gives back from before and after it")
    return True
