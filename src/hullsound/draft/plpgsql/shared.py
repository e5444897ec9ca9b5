"""What code of every grammar needs in PL/pgSQL: quotes, results, temporary tables, types, triggers."""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Final

from hullsound.analyze.branches import branches_of
from hullsound.catalog.definitions import cast_type, data_type
from hullsound.catalog.model import Object, ObjectType, Parameter
from hullsound.draft.conversions.arguments import parameter_type
from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.change_parts import local_table
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sql.tree import (
    Block,
    Cast,
    ColumnDefinition,
    ConstraintDefinition,
    Handler,
    Label,
    Name,
    Node,
    Parts,
    Query,
    Routine,
    TypeName,
)

QUOTE: Final = "$hull$"
"""Dollar quote around bodies; `dollar_quote` picks another where a body holds it."""


def dollar_quote(text: str) -> str:
    """Return a dollar quote that does not stand in `text`."""
    quote, count = QUOTE, 1
    while quote in text:
        count += 1
        quote = f"$hull{count}$"
    return quote


def shares_line(at: int, rewriter: Rewriter) -> bool:
    """Whether a token follows another on the same line, so that what is put between them must end its line."""
    tokens = rewriter.tokens
    return at == 0 or "\n" not in tokens.text[tokens.ends[at - 1] : tokens.starts[at]]


@dataclass
class Hoisted:
    """Declarations that PL/pgSQL needs at the head of a block, in order, each once."""

    lines: list[str] = field(default_factory=list)

    def add(self, line: str) -> None:
        if line not in self.lines:
            self.lines.append(line)

    def section(self) -> str:
        return "DECLARE\n" + "".join(f"  {line}\n" for line in self.lines) if self.lines else ""


# --- types ---

_CAST_TYPES: Final = {
    "SIGNED": "bigint", "SIGNED INTEGER": "bigint", "SIGNED INT": "bigint", "UNSIGNED": "bigint",
    "UNSIGNED INTEGER": "bigint", "UNSIGNED INT": "bigint", "BINARY": "bytea",
}  # fmt: skip
"""Types that MySQL knows in casts only (8.4 Reference Manual, "Cast Functions")."""
_TEXTS_WITHOUT_LENGTH: Final = dict.fromkeys(("mysql", "mariadb"), ("CHAR", "NCHAR", "CHARACTER")) | dict.fromkeys(
    ("sqlserver", "ase"), ("VARCHAR", "NVARCHAR", "CHAR", "NCHAR")
)
"""Types of which a cast without a length makes a text of any length, or of thirty characters in Transact-SQL."""


def write_type(node: TypeName, rewriter: Rewriter, *, unsized: bool = False) -> str:
    """Return the target's text for a type in code. Raises CannotDraft if it has none."""
    if node.borrowed:
        return _borrowed(node, rewriter)
    engine = rewriter.catalog.engine
    is_cast = any(cast.type is node for cast in rewriter.subject.all(Cast))
    if is_cast and node.name in _CAST_TYPES:
        return _CAST_TYPES[node.name]
    if is_cast and not node.arguments and node.name in _TEXTS_WITHOUT_LENGTH.get(engine, ()):
        return "varchar(30)" if engine in ("sqlserver", "ase") else "text"
    source = cast_type(node, engine) if is_cast else data_type(node)
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        return _named_type(node, rewriter)
    return unsized_text(choice.text) if unsized else choice.text


def _named_type(node: TypeName, rewriter: Rewriter) -> str:
    """Return the type behind an alias type of the source."""
    for item in rewriter.catalog.with_name(node.reference[-1] if node.reference else node.name):
        if item.type is ObjectType.TYPE and item.details.get("form") == "alias":
            choice = choose_type(rewriter.catalog.engine, parse_type(item.details["element"]), rewriter.target)
            if choice is not None and choice.text:
                return choice.text
    raise CannotDraft(f"no type for {data_type(node)}")


def unsized_text(text: str) -> str:
    """Return a type without its length or precision, as parameters and results have it.

    A small whole number is taken as integer: PostgreSQL narrows no constant to smallint for a call.
    """
    head, _, rest = text.partition("(")
    plain = head + (rest.split(")", 1)[1] if rest else "")
    return "integer" if plain == "smallint" else plain


def table_name(parts: Parts, rewriter: Rewriter) -> str:
    """Write the name of a table that a type is taken from, be it surveyed or not. Raises CannotDraft for a stand-in."""
    table = rewriter.table(parts)
    if table is not None:
        return rewriter.names.qualified(table.schema, table.name)
    if rewriter.is_partial:  # which must let other objects be created
        raise CannotDraft(f"{'.'.join(parts).lower()} is not in the survey")
    return ".".join(map(rewriter.names.write, parts))


def _borrowed(node: TypeName, rewriter: Rewriter) -> str:
    if node.borrowed == "ROWTYPE" or len(node.reference) < 2:
        raise CannotDraft("a type taken from something that is no column")
    name = table_name(node.reference[:-1], rewriter)
    return f"{name}.{rewriter.names.write(node.reference[-1])}%TYPE"


def sized(value: Node, rewriter: Rewriter) -> str:
    """Render the value of RETURN, cut to the length or digits of the function's type, which PostgreSQL does not keep."""
    text = f"({rewriter.node(value)})" if isinstance(value, Query) else rewriter.node(value)
    routine = next((r for r in rewriter.subject.all(Routine) if r.returns is not None), None)
    if routine is None or routine.returns is None:
        return text
    kind = write_type(routine.returns, rewriter)
    return f"CAST({text} AS {kind})" if kind.startswith(("numeric(", "varchar(", "char(", "timestamp(")) else text


def kept_size(target: Node, value: str, rewriter: Rewriter) -> str:
    """Cut a value to the digits of the parameter that takes it to give it out: PostgreSQL keeps no size of parameters."""
    name = target.parts if isinstance(target, Name) else ()
    for routine in rewriter.subject.all(Routine):
        for parameter in routine.parameters:
            if parameter.mode != "in" and (parameter.name,) == name:
                kind = write_type(parameter.type, rewriter)
                return f"CAST({value} AS {kind})" if kind.startswith("numeric(") else value
    return value


# --- arguments that give something back ---


@dataclass(frozen=True)
class GoBetween:
    """A variable of a parameter's very type, which CALL wants, for an argument of another type."""

    name: str
    kind: str
    argument: str
    is_given_back: bool = True

    @property
    def declaration(self) -> str:
        return f"{self.name} {self.kind};"

    @property
    def before(self) -> str:
        return f"{self.name} := {self.argument}; "

    @property
    def behind(self) -> str:
        return f"; {self.argument} := {self.name}" if self.is_given_back else ""


def go_between(
    parameter: Parameter, argument: Node, written: str, item: Object, rewriter: Rewriter
) -> GoBetween | None:
    """Return the variable to pass in place of an argument whose type differs from that of an OUT parameter."""
    wanted = unsized_text(parameter_type(parameter.type, item, rewriter.catalog, rewriter.target))
    given = unsized_text(target_type(argument, rewriter))
    if not wanted or not given or wanted == given:
        return None
    return GoBetween(f"hs_out_{'_'.join(wanted.split())}_{argument.first}", wanted, written)


# --- parts that cannot be drafted ---


def add_partial_points(statements: list[Node], rewriter: Rewriter) -> None:
    """Guard each simple statement of semicolon-ended code, so that one that cannot be drafted becomes an error."""
    for each in statements:
        inner = [*branches_of(each), *([each.body] if isinstance(each, Handler) else [])]
        if isinstance(each, Block):
            inner += [[handler] for handler in each.handlers]
        if inner:
            for branch in inner:
                add_partial_points(branch, rewriter)
        elif not isinstance(each, Label):
            rewriter.add(Point(each.first, each.last, partial(guarded, each, None), rank=9))


def guarded(node: Node, render: Callable[[], str] | None, rewriter: Rewriter) -> str:
    """Render a statement, or an error that keeps its source as a comment where a part of it cannot be drafted."""
    known = len(rewriter.skipped)
    reason = next((s.reason for s in rewriter.unconverted if node.first <= s.token < node.last), "")
    if not reason:
        try:
            text = render() if render is not None else rewriter.text(node.first, node.last)
            if len(rewriter.skipped) == known:
                return text
            reason = rewriter.skipped[known].reason
        except CannotDraft as cannot:
            reason = str(cannot)
    del rewriter.skipped[known:]
    source = rewriter.tokens.source(node.first, node.last)
    lines = "".join(f"-- {line.strip()}\n" for line in source.splitlines())
    return f"-- Not converted:\n{lines}RAISE EXCEPTION '%', {literal('not converted: ' + ' '.join(reason.split()))}"


# --- temporary tables ---


def temporary_table(
    name: str, columns: list[ColumnDefinition], constraints: list[ConstraintDefinition], rewriter: Rewriter
) -> str:
    """Return name, columns and keys of a temporary table or table variable."""
    write = rewriter.names.write
    lines = []
    for column in columns:
        if column.generated is not None:
            lines.append(_computed(column, column.generated, rewriter))
            continue
        if column.type is None:
            raise CannotDraft("a column of a temporary table without a type")
        kind = _numbered_type(column.type, rewriter) if column.identity else write_type(column.type, rewriter)
        text = f"{write(column.name)} {kind}"
        if column.identity:
            text += " GENERATED BY DEFAULT AS IDENTITY"
        if column.default is not None:
            text += f" DEFAULT {rewriter.node(column.default)}"
        if not column.nullable:
            text += " NOT NULL"
        lines.append(text)
        constraints = constraints + [c for c in column.constraints if not c.columns or c.columns == [column.name]]
    for constraint in constraints:
        if constraint.form in ("primary key", "unique"):
            lines.append(f"{constraint.form.upper()} ({', '.join(map(write, constraint.columns))})")
        elif constraint.form == "check" and constraint.expression is not None:
            lines.append(f"CHECK ({rewriter.node(constraint.expression)})")
    table = write(local_table(name))
    body = ",\n  ".join(dict.fromkeys(lines))
    return f"{table} (\n  {body}\n)"


def _computed(column: ColumnDefinition, value: Node, rewriter: Rewriter) -> str:
    kind = write_type(column.type, rewriter) if column.type is not None else target_type(value, rewriter)
    if not kind:
        raise CannotDraft("a computed column of a temporary table, whose type is not known")
    return f"{rewriter.names.write(column.name)} {kind} GENERATED ALWAYS AS ({rewriter.node(value)}) STORED"


def _numbered_type(node: TypeName, rewriter: Rewriter) -> str:
    """Return the type of a column that counts by itself, which has no digits behind the point."""
    kind = write_type(node, rewriter)
    return kind if kind in ("smallint", "integer") else "bigint"


# --- errors ---


def raised(message: str, state: str) -> str:
    """Write RAISE with a message expression and an SQLSTATE."""
    return f"RAISE EXCEPTION '%', {message} USING ERRCODE = {literal(state)}"


def trigger_function(name: str) -> str:
    """Return the stored name of the function behind a trigger."""
    return f"{name}_FN" if name == name.upper() else f"{name}_fn"
