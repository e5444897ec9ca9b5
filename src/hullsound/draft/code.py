"""Drafts of views, queries and code: the source text with edits."""

from contextlib import closing
from dataclasses import dataclass, field
from functools import cache, partial
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.analyze.unseen import Unseen, unseen_columns
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.draft.constructs.queries import PREPARED, prepare_queries
from hullsound.draft.constructs.template import fill_template
from hullsound.draft.edits.comments import with_plain_comments
from hullsound.draft.edits.names import DUMMY_TABLE
from hullsound.draft.edits.reading import read_again, read_object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter, Skipped
from hullsound.draft.edits.text import quote_name
from hullsound.draft.plpgsql.shared import write_type
from hullsound.draft.statements.change_parts import add_temporary_names
from hullsound.draft.statements.dynamic import prepare_dynamic
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.model import Stance, Way
from hullsound.knowledge.stances import stances_for
from hullsound.sight.detector import Found
from hullsound.sight.rows import Hit
from hullsound.sight.see import load_engine_names, load_seer
from hullsound.sight.values import needs_hold
from hullsound.sql.edit import Edit, apply_edits
from hullsound.sql.positions import Positions
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Bind, Clause, CreateView, Insert, Merge, Name, Node, Query, Select, TableRef, TypeName

from .constructs import load_fixers
from .passes import add_passes
from .plpgsql import add_plsql_points, add_unit_points

_NOT_IMMUTABLE: Final = frozenset(("oracle.null-concatenation",))
"""Constructs whose counterpart is not immutable, so that index keys and generated columns keep the source's text."""


_NILADIC: Final = frozenset(
    """DEFAULT CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP CURRENT_USER SESSION_USER SYSTEM_USER USER LOCALTIME LOCALTIMESTAMP
    CURRENT""".split()
)
"""Reserved words that stand where a name could and are none."""


@dataclass(slots=True)
class CodeDraft:
    """The edits on one object's text, and what was skipped: (construct, line, reason)."""

    source: str
    edits: list[Edit]
    skipped: list[tuple[str, int, str]] = field(default_factory=list)
    written: list[tuple[str, int]] = field(default_factory=list)
    """Every construct in whose name something was written, with the line of its first place; edits tell the outermost alone."""
    unseen: Unseen = field(default_factory=dict)
    """Columns of tables that were not surveyed."""
    by_types: frozenset[str] = frozenset()
    """Constructs that the types of columns make, and that a person must look at."""

    @property
    def text(self) -> str:
        return apply_edits(self.source, self.edits)


def make_rewriter(read: ReadStatement, catalog: Catalog, target: Target, owner: str) -> Rewriter:
    """Return a rewriter with the points of all constructs that have a template or fixer."""
    subject = Subject(read, Scope(read), catalog.engine)
    rewriter = Rewriter(subject, catalog, target, owner)
    prepare_queries(rewriter, add_construct_points(rewriter))
    add_passes(rewriter)
    with rewriter.asked_by("draft.name"):
        _add_default_schema(rewriter)
        _add_quoting(rewriter)
    rewriter.another = partial(_another, outer=rewriter)
    if target.engine == "postgresql":
        with rewriter.asked_by("draft.dynamic-sql"):
            rewriter.sites = prepare_dynamic(rewriter)
    return rewriter


def add_construct_points(rewriter: Rewriter) -> dict[str, str]:
    """Add the points of all constructs with a template or fixer; return those that whole queries take care of.

    These come as the construct's id by the name of the fixer.
    """
    read, catalog, scope = rewriter.subject.read, rewriter.catalog, rewriter.subject.scope
    hits = load_seer(catalog.engine).see(read, scope)
    stances = stances_for(catalog, rewriter.target)
    prepared: dict[str, str] = {}
    for hit in hits:
        stance = stances.get(hit.construct)
        if stance is None or stance.way is Way.SAME or not needs_hold(hit.found.needs, catalog):
            continue
        if hit.found.needs and stance.way is not Way.DRAFT:
            rewriter.by_types.add(hit.construct)
        if stance.way is Way.CONFIRM:
            rewriter.asks.add(hit.construct)
        if stance.way in (Way.REWRITE, Way.NONE):
            rewriter.unconverted.append(Skipped(hit.construct, hit.found.first, stance.remedy))
        if not stance.is_rendered or stance.way not in (Way.DRAFT, Way.CONFIRM):
            continue
        if stance.fixer in PREPARED:
            prepared[stance.fixer] = hit.construct
        else:
            rewriter.answer(_point(hit, stance))
    return prepared


def _another(read: ReadStatement, outer: Rewriter) -> Rewriter:
    rewriter = make_rewriter(read, outer.catalog, outer.target, outer.owner)
    outer.closing.append(rewriter.close)
    _add_types(rewriter)
    add_temporary_names(rewriter)
    return rewriter


def _add_types(rewriter: Rewriter) -> None:
    """Add the types in casts, and for Oracle whatever stands in code."""
    if rewriter.target.engine != "postgresql":
        return
    if rewriter.catalog.engine == "oracle":
        with rewriter.asked_by("draft.procedural-code"):
            add_plsql_points(rewriter)
        return
    with rewriter.asked_by("draft.type"):
        for kind in rewriter.subject.all(TypeName):
            rewriter.add(Point(kind.first, kind.last, partial(_render_type, kind)))


def _render_type(kind: TypeName, rewriter: Rewriter) -> str:
    return write_type(kind, rewriter)


def _point(hit: Hit, stance: Stance) -> Point:
    place = hit.found
    render = (
        partial(_render_template, stance.template, place)
        if stance.template
        else partial(_render_fixer, stance.fixer, place)
    )
    # A cast goes around what else becomes of the same tokens.
    rank = 2 if stance.fixer.startswith("cast_to_") or stance.fixer == "predicate_as_number" else 0
    return Point(place.first, place.last, render, hit.construct, rank=rank)


def _render_template(template: str, place: Found, rewriter: Rewriter) -> str:
    return fill_template(template, place, rewriter)


def _render_fixer(name: str, place: Found, rewriter: Rewriter) -> str:
    return load_fixers()[name](place, rewriter)


def draft_code(item: Object, catalog: Catalog, target: Target, *, is_partial: bool = False) -> CodeDraft:
    """Draft a view, query, change, routine, package, trigger or block. Raises CannotDraft if it cannot be done.

    With `is_partial` the statements of code that cannot be drafted become errors, and the rest is drafted.
    """
    read = read_again(item, catalog.engine)
    if read is None or not read.is_complete or read.unread():
        raise CannotDraft("its text could not be read in full")
    with closing(make_rewriter(read, catalog, target, item.id)) as rewriter:
        rewriter.is_partial = is_partial
        return _draft_object(item, rewriter)


_PACKAGES: Final = (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY)


def _draft_object(item: Object, rewriter: Rewriter) -> CodeDraft:
    read = rewriter.subject.read
    if item.type in CODE_TYPES and rewriter.target.engine != "postgresql":
        from hullsound.draft.routines.write import write_routine

        edits = [Edit(0, len(item.text), write_routine(item, rewriter), "draft.procedural-code")]
        lost = rewriter.left_out()
        if lost is not None:
            raise CannotDraft(f"a part that would be left out: {rewriter.tokens.source(lost.first, lost.last)[:60]}")
        return CodeDraft(item.text, edits, [], _written(item, rewriter))
    if item.type in _PACKAGES and not rewriter.is_partial:
        others = (each.schema for each in rewriter.catalog.with_name(item.name) if each.type is item.type)
        if any(schema != item.schema for schema in others):
            raise CannotDraft(
                "a package of a name that another schema has too, since each becomes the schema of its name"
            )
    if item.type is ObjectType.BLOCK and any(rewriter.words[bind.first] == "?" for bind in rewriter.subject.all(Bind)):
        raise CannotDraft("values that a program gives at each call")
    if item.type in CODE_TYPES:
        with rewriter.asked_by("draft.procedural-code"):
            add_unit_points(rewriter, item)
    elif item.type in (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW):
        with rewriter.asked_by("draft.heading"):
            _add_view(item, rewriter)
    else:
        _add_types(rewriter)
    edits = [Edit(e.start + read.start, e.end + read.start, e.new, e.construct) for e in rewriter.edits()]
    edits = with_plain_comments(item.text, rewriter.catalog.engine, edits)
    positions = Positions(item.text, item.line)
    lines = [(s.construct, positions.line(read.tokens.starts[s.token]), s.reason) for s in rewriter.skipped]
    is_declared = item.type is ObjectType.PACKAGE  # whose body has all that it declares
    lost = None if lines or rewriter.is_partial or is_declared else rewriter.left_out()
    if lost is not None:
        part = rewriter.tokens.source(lost.first, lost.last)[:60]
        lines.append(
            (lost.construct, positions.line(read.tokens.starts[lost.first]), f"a part that would be left out: {part}")
        )
    unseen = unseen_columns(rewriter.types, load_engine_names(rewriter.catalog.engine).supplies)
    return CodeDraft(item.text, edits, lines, _written(item, rewriter), unseen, frozenset(rewriter.by_types))


def _written(item: Object, rewriter: Rewriter) -> list[tuple[str, int]]:
    """Return every construct in whose name something was written, with the line of its first place."""
    positions, starts = Positions(item.text, item.line), rewriter.subject.tokens.starts
    first: dict[str, int] = {}
    for construct, token in rewriter.rendered:
        first[construct] = min(token, first.get(construct, token))
    return [(construct, positions.line(starts[token])) for construct, token in first.items()]


def draft_expression(
    text: str, table: Object, catalog: Catalog, target: Target, *, immutable: bool = False, is_condition: bool = False
) -> str:
    """Draft an expression of a table: a default, a check (a condition), a generated column or an index key.

    Raises CannotDraft if the expression cannot be read or drafted.
    """
    names = ".".join(quote_name(name, catalog.engine) for name in (table.schema, table.name) if name)
    query = f"SELECT 1 FROM {names} WHERE {text}" if is_condition else f"SELECT {text}\nFROM {names}"
    read = read_object(query, catalog.engine)
    if read is None or not read.is_complete or read.unread():
        raise CannotDraft(f"the expression {text[:60]} cannot be read")
    with closing(make_rewriter(read, catalog, target, table.id)) as rewriter:
        if rewriter.unconverted:
            raise CannotDraft(rewriter.unconverted[0].reason)
        if immutable:
            rewriter.drop(_NOT_IMMUTABLE)
        _add_types(rewriter)
        rewriter.edits()
        if is_condition:
            at = next(i for i in range(read.first, read.last) if rewriter.words[i] == "WHERE")
            result = rewriter.text(at + 1, read.last)
        else:
            at = max(i for i in range(read.first, read.last) if rewriter.words[i] == "FROM")
            result = rewriter.text(read.first + 1, at)
        if rewriter.skipped:
            raise CannotDraft(rewriter.skipped[0].reason)
        return result


def draft_statement(
    read: ReadStatement, item: Object, catalog: Catalog, target: Target
) -> tuple[str, list[tuple[str, int]]]:
    """Draft a statement that changes rows; return its text, and what `CodeDraft.written` holds.

    Raises CannotDraft if it was not read in full or cannot be drafted.
    """
    if not read.is_complete or read.unread():
        raise CannotDraft("its text could not be read in full")
    with closing(make_rewriter(read, catalog, target, item.id)) as rewriter:
        _add_types(rewriter)
        result = rewriter.result()
        if rewriter.skipped:
            raise CannotDraft(rewriter.skipped[0].reason)
        return result, _written(item, rewriter)


def draft_query(text: str, item: Object, catalog: Catalog, target: Target) -> str:
    """Draft a query that makes a table. Raises CannotDraft if it cannot be read or drafted."""
    read = read_object(text, catalog.engine)
    if read is None or not read.is_complete or read.unread():
        raise CannotDraft("its query cannot be read")
    with closing(make_rewriter(read, catalog, target, item.id)) as rewriter:
        _add_types(rewriter)
        for clause in read.all(Clause):
            if clause.name == "select-into-table":
                rewriter.replace(clause.first, clause.last, "")
        result = rewriter.result()
        if rewriter.skipped:
            raise CannotDraft(rewriter.skipped[0].reason)
        return result


@cache
def _own_words(engine: str) -> frozenset[str]:
    """Return the words that mean something to the source itself, so that they are no names to be quoted."""
    return frozenset(load_seer(engine).rows.tables["function"].exact) | _NILADIC


def _add_default_schema(rewriter: Rewriter) -> None:
    """Write the schema of tables that the scripts name by what they call the default schema."""
    alias = rewriter.catalog.default_schema_alias
    for node in rewriter.subject.all(TableRef) if alias else ():
        item = rewriter.table(node.parts) if len(node.parts) == 2 and node.parts[0] == alias else None
        if item is not None:
            schema = f"{rewriter.names.write(item.schema)}." if item.schema else ""
            rewriter.replace(node.first, node.first + 2, schema)


def _add_quoting(rewriter: Rewriter) -> None:
    """Quote unquoted names that are reserved on the target."""
    reserved = rewriter.names.reserved
    subject = rewriter.subject
    own = _own_words(rewriter.catalog.engine)
    named: list[Name | TableRef] = [*subject.all(Name), *subject.all(TableRef)]
    for node in named:
        for at in range(node.first, node.first + 2 * len(node.parts), 2):
            word = rewriter.words[at]
            is_dummy = isinstance(node, TableRef) and word == DUMMY_TABLE
            if word in reserved and word not in own and not is_dummy:
                rewriter.replace(at, at + 1, rewriter.names.write(word))
            if rewriter.words[at + 1] != ".":
                break
    written: list[Node] = [column for insert in subject.all(Insert) for column in insert.columns]
    for merge in subject.all(Merge):
        written += [*merge.columns, *(target for target, _ in merge.assignments)]
    for target in written:
        if isinstance(target, Name) and len(target.parts) > 1:
            rewriter.replace(target.first, target.last, rewriter.names.write(target.parts[-1]), "oracle.update-alias")


def _is_of_one_table(query: Query) -> bool:
    """Whether rows of a query are rows of one table, so that they can be changed through a view."""
    body = query.blocks[0]
    if len(query.blocks) > 1 or not isinstance(body, Select) or body.group or len(body.sources) != 1:
        return False
    return isinstance(body.sources[0], TableRef)


def _add_view(item: Object, rewriter: Rewriter) -> None:
    tree = rewriter.subject.tree
    if not isinstance(tree, CreateView):
        raise CannotDraft("no view")
    _add_types(rewriter)
    kind = "MATERIALIZED VIEW" if tree.materialized else "OR REPLACE VIEW"
    columns = f" ({', '.join(map(rewriter.names.write, tree.columns))})" if tree.columns else ""
    if "RECURSIVE" in rewriter.words[tree.first : tree.query.first] and rewriter.target.engine != "postgresql":
        raise CannotDraft("a view that is recursive without saying WITH RECURSIVE")
    if tree.materialized and rewriter.target.engine != "postgresql":
        raise CannotDraft("a materialized view")
    if rewriter.target.engine == "sqlserver":
        kind = "OR ALTER VIEW"
    name = rewriter.names.qualified(item.schema, item.name)
    rewriter.replace(tree.first, tree.query.first, f"CREATE {kind} {name}{columns} AS")
    if tree.check_option and rewriter.target.engine == "postgresql" and not _is_of_one_table(tree.query):
        raise CannotDraft("WITH CHECK OPTION on a view of more than one table, or of groups")
    tail = "\nWITH CHECK OPTION" if tree.check_option else ""
    if tree.query.last < tree.last:
        rewriter.replace(tree.query.last, tree.last, tail.strip())
