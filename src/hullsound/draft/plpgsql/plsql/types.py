"""Types in PL/pgSQL code."""

from hullsound.catalog.build import data_type
from hullsound.draft.plpgsql.shared import unsized_text
from hullsound.draft.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import CreatePackage, CursorDeclaration, Node, Parameter, Routine, TypeDeclaration, TypeName


def unsized_types(nodes: list[Node]) -> set[TypeName]:
    """Return the types of parameters and results, which carry no length or precision."""
    found: set[TypeName] = set()
    for node in nodes:
        if isinstance(node, Parameter):
            found.add(node.type)
        elif isinstance(node, Routine) and node.returns is not None:
            found.add(node.returns)
    return found


def write_type(node: TypeName, rewriter: Rewriter, *, unsized: bool) -> str:
    """Return the target's text for a type in code. Raises CannotDraft if it has none."""
    if node.borrowed:
        return _borrowed(node, rewriter, unsized=unsized)
    source = data_type(node)
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is not None:
        if not choice.text:
            raise CannotDraft(f"no type for {source}")
        return unsized_text(choice.text) if unsized else choice.text
    local = _declared_type(node.name, rewriter)
    if local is not None:
        return local
    if _is_cursor_type(node.reference, rewriter):
        return "refcursor"
    item = rewriter.catalog.resolve(node.reference, _schema(rewriter))
    if item is None or item.details.get("form") != "object":
        raise CannotDraft(f"no type for {source}")
    return rewriter.names.qualified(item.schema, item.name)


def _declared_type(name: str, rewriter: Rewriter) -> str | None:
    for declared in rewriter.subject.all(TypeDeclaration):
        if declared.name == name:
            if declared.form == "ref cursor":
                return "refcursor"
            raise CannotDraft(f"the local type {name.lower()}")
    return None


def _is_cursor_type(parts: tuple[str, ...], rewriter: Rewriter) -> bool:
    """Whether a name is a REF CURSOR type of a package: its own, or one named with its package."""
    tree = rewriter.subject.tree
    package = parts[-2] if len(parts) > 1 else tree.name[-1] if isinstance(tree, CreatePackage) else ""
    return any(
        parts[-1] in item.details.get("cursor types", "").split() for item in rewriter.catalog.with_name(package)
    )


def _borrowed(node: TypeName, rewriter: Rewriter, *, unsized: bool) -> str:
    """Write name%TYPE; a row type of a cursor is a record, that of a table in a parameter the table's own name."""
    reference = node.reference
    cursors = {cursor.name for cursor in rewriter.subject.all(CursorDeclaration)}
    if node.borrowed == "ROWTYPE" and reference[-1] in cursors:
        return "record"
    if len(reference) == 1 and node.borrowed == "TYPE":
        return f"{rewriter.names.write(reference[0])}%TYPE"
    table = reference[:-1] if node.borrowed == "TYPE" else reference
    item = rewriter.catalog.table(table, _schema(rewriter))
    if item is None:
        raise CannotDraft(f"{'.'.join(reference).lower()}%{node.borrowed} leads nowhere")
    name = rewriter.names.qualified(item.schema, item.name)
    if node.borrowed == "ROWTYPE":
        return name if unsized else f"{name}%ROWTYPE"
    return f"{name}.{rewriter.names.write(reference[-1])}%TYPE"


def _schema(rewriter: Rewriter) -> str:
    owner = rewriter.catalog.objects.get(rewriter.owner)
    return owner.default_schema if owner else ""
