"""Statements that compound code prepares from a text: the text stays in a variable, and EXECUTE runs it."""

from typing import TYPE_CHECKING

from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.plpgsql.results import result_name
from hullsound.sql.tree import CursorDeclaration, Execute, ExecuteImmediate, OpenCursor, OtherStatement, Prepare

if TYPE_CHECKING:
    from .statements import PsmCode


def prepared_name(name: str, code: "PsmCode") -> str:
    """Return the variable that holds the text of a prepared statement."""
    return code.rewriter.names.write(f"HS_TEXT_{name}")


def prepare_statement(code: "PsmCode", node: Prepare) -> str:
    """Write PREPARE as an assignment. Raises CannotDraft where the text is not known well enough."""
    site = code.rewriter.sites.get(node)
    if site is None or site.problem:
        raise CannotDraft(site.problem if site is not None else "a statement built at run time")
    return f"{prepared_name(node.name, code)} := {code.rewriter.node(node.text)}"


def execute_statement(code: "PsmCode", node: ExecuteImmediate | Execute) -> str:
    """Write EXECUTE of a prepared statement or of a text: its rows are a result, its values go into variables."""
    site = code.rewriter.sites.get(node)
    if site is None or site.problem or node.text is None:
        raise CannotDraft(site.problem if site is not None else "a statement built at run time")
    is_prepared = isinstance(node, Execute)
    values = node.arguments if isinstance(node, Execute) else node.using
    text = prepared_name(site.node.name, code) if is_prepared else code.rewriter.node(node.text)
    using = f" USING {code.rewriter.nodes(values)}" if values else ""
    if site.gives_rows:
        place = code.results.get(node)
        if place is None:
            raise CannotDraft("a result set that nothing takes")
        return f"OPEN {result_name(place)} FOR EXECUTE {text}{using}"
    targets = [code.session.name(name) if name.startswith("@") else "" for name in site.outputs]
    if isinstance(node, ExecuteImmediate):
        targets = targets or [code.rewriter.node(each) for each in node.into]
    if not all(targets):
        raise CannotDraft("a variable of the routine inside of a text that is run")
    return f"EXECUTE {text}{' INTO ' + ', '.join(targets) if targets else ''}{using}"


def open_prepared(code: "PsmCode", node: OpenCursor, declared: CursorDeclaration, result: str = "") -> str:
    """Write OPEN of a cursor that is declared over a prepared statement, with values for its marks.

    `result` is the result of the procedure that takes the cursor's place.
    """
    name = code.words[declared.last - 1]
    if not any(each.name == name for each in code.rewriter.subject.all(Prepare)):
        raise CannotDraft("a cursor over a statement that is prepared elsewhere")
    using = f" USING {code.rewriter.nodes(node.using)}" if node.using else ""
    return f"OPEN {result or code.rewriter.node(node.cursor)} FOR EXECUTE {prepared_name(name, code)}{using}"


def is_release(node: OtherStatement, words: list[str]) -> bool:
    """Whether a statement gives a prepared one back: DEALLOCATE PREPARE, DROP PREPARE."""
    return words[node.first] == "DEALLOCATE" or words[node.first : node.first + 2] == ["DROP", "PREPARE"]
