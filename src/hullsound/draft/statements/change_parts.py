"""Parts of changes: where the verb stands, which tables stand beside the changed one, what their names are."""

from collections.abc import Callable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import (
    Clause,
    Delete,
    DerivedTable,
    Insert,
    Join,
    Merge,
    Name,
    Node,
    TableFunction,
    TableRef,
    Update,
)

SELF: Final = "hs_self"
"""Alias of the changed table where it must be joined with itself, row by row."""
_NAMED_AMONG: Final = ("sqlserver", "ase", "mysql", "mariadb")
"""Sources in which what is changed is named among the joined tables as well."""


def verb_at(node: Update | Delete | Insert | Merge, rewriter: Rewriter) -> int:
    """Return the token at which a change begins, behind the common tables that may stand before it."""
    words = rewriter.words
    if words[node.first] != "WITH":
        return node.first
    depth = 0
    for at in range(node.first, node.last):
        depth += (words[at] == "(") - (words[at] == ")")
        if depth == 0 and words[at] in ("INSERT", "UPDATE", "DELETE", "REPLACE", "MERGE"):
            return at
    return node.first


class Sources:
    """The tables beside the changed one, and the conditions that join them."""

    def __init__(self, roots: list[Node]) -> None:
        self.leaves: list[Node] = []
        self.conditions: list[Node] = []
        self.is_plain = True
        """Whether every join is an inner one with ON, so that conditions may move into WHERE."""
        self.roots = roots
        for root in roots:
            self._flatten(root)

    def _flatten(self, node: Node) -> None:
        if not isinstance(node, Join):
            self.leaves.append(node)
            return
        self._flatten(node.left)
        self._flatten(node.right)
        inner = node.kind in ("JOIN", "INNER JOIN", "CROSS JOIN", ",", "STRAIGHT_JOIN")
        if not inner or (node.condition is None and node.kind not in ("CROSS JOIN", ",")):
            self.is_plain = False
        if node.condition is not None:
            self.conditions.append(node.condition)

    def find(self, alias: str) -> TableRef | None:
        """Return the table that a name or alias stands for among the sources."""
        tables = [leaf for leaf in self.leaves if isinstance(leaf, TableRef)]
        return next((t for t in tables if t.alias == alias), None) or next(
            (t for t in tables if not t.alias and t.parts[-1] == alias), None
        ) or next((t for t in tables if t.parts[-1] == alias), None)  # fmt: skip


def changed_among(table: TableRef, sources: Sources, rewriter: Rewriter) -> TableRef | None:
    """Return the table among the sources that a change means; None where a change's own table stands beside them."""
    name = table.parts[-1]
    if rewriter.catalog.engine in _NAMED_AMONG:
        return sources.find(name)
    if rewriter.catalog.engine == "teradata" and not table.alias:
        found = sources.find(name)
        return found if found is not None and (found.alias or found.parts[-1]) == name else None
    return None


def roots_of(first: int, last: int, rewriter: Rewriter) -> list[Node]:
    """Return the outermost sources inside a span of tokens."""
    kinds: tuple[type[Node], ...] = (Join, TableRef, DerivedTable, TableFunction)
    nodes = [n for kind in kinds for n in rewriter.subject.all(kind) if first <= n.first and n.last <= last]
    nodes.sort(key=lambda n: (n.first, -n.last))
    roots: list[Node] = []
    for node in nodes:
        if not roots or node.first >= roots[-1].last:
            roots.append(node)
    return roots


def clause_of(node: Node, name: str, rewriter: Rewriter) -> Clause | None:
    subject = rewriter.subject
    found = [c for c in _clauses(subject).get(name, ()) if node.first <= c.first and c.last <= node.last]
    if not found:
        return None
    inner = [n for kind in (Update, Delete, Insert) for n in subject.all(kind)
             if n is not node and node.first <= n.first and n.last <= node.last]  # fmt: skip
    found = [c for c in found if not any(n.first <= c.first < n.last for n in inner)]
    return found[0] if found else None


def _clauses(subject: Subject) -> dict[str, list[Clause]]:
    """Return the clauses of a statement by name, sorted out once."""
    known: dict[str, list[Clause]] = subject.memory.setdefault("clauses", {})  # type: ignore[assignment]
    if not known:
        for clause in subject.all(Clause):
            known.setdefault(clause.name, []).append(clause)
    return known


def table_parts(table: TableRef, rewriter: Rewriter) -> tuple[str, ...]:
    if len(table.parts) > 2:
        return table.parts[-2:]
    if table.parts[0] == rewriter.catalog.default_schema_alias and (item := rewriter.table(table.parts)) is not None:
        return (item.schema, item.name) if item.schema else (item.name,)
    if table.parts[0] == "SESSION" and rewriter.catalog.engine == "db2":  # a temporary table of the session
        return table.parts[-1:]
    return (*table.parts[:-1], local_table(table.parts[-1]))


def local_table(name: str) -> str:
    """Return the stored name of the temporary table that stands for #name or @name; other names stay."""
    return f"TEMP_{name.lstrip('@#')}" if name[:1] in ("@", "#") else name


def add_temporary_names(rewriter: Rewriter, *, over: bool = False, named: Callable[[str], str] | None = None) -> None:
    """Write #name and @name of temporary tables as the tables that stand for them; `over` what was to be written there."""
    write = rewriter.put_over if over else rewriter.replace
    named = named or (lambda name: rewriter.names.write(local_table(name)))
    for table in rewriter.subject.all(TableRef):
        if table.parts[-1][:1] in ("@", "#"):
            write(table.first, table.first + 2 * len(table.parts) - 1, named(table.parts[-1]))
    for name in rewriter.subject.all(Name):
        if len(name.parts) > 1 and name.parts[0][:1] == "#":
            write(name.first, name.first + 1, named(name.parts[0]))
