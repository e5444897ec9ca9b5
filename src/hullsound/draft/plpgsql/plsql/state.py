"""Variables of packages: a pair of functions reads and writes a setting of the session for each.

A setting holds '=' and the value, or '-' for NULL; a session that has set nothing yet gives the value of the declaration.
Statements that a package runs when a session first uses it become the function hs_start, which whatever reads or writes a
variable calls first.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.catalog.model import ObjectType
from hullsound.draft.conversions.arguments import widens
from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.shared import dollar_quote
from hullsound.sql.tree import (
    Assign,
    Call,
    CallStatement,
    CreatePackage,
    Fetch,
    Literal,
    Name,
    Node,
    QueryStatement,
    Routine,
    Select,
    Variable,
)

from .collections import Collections
from .package_names import getter, setter
from .types import beginning, collection_of, element_text, specified_variable

_VALUE: Final = "p_value"
_START: Final = "HS_START"
_CONVERTED: Final = frozenset(
    ("smallint", "integer", "bigint", "numeric", "real", "double precision", "text", "timestamp")
)
"""Types that PL/pgSQL converts to in assignments."""
_INTO: Final = "hs_into"
"""Start of the names of variables that a query fills before their values go into settings."""


def accessors(item: Variable, package: str, rewriter: Rewriter) -> str:
    """Write the two functions for a variable of a package."""
    kind = element_text(item.type, rewriter)
    name = rewriter.names.qualified(package, item.name)
    setting = literal(plain_setting(package, item.name))
    default = "NULL"
    if item.default is not None:
        default = rewriter.node(item.default)
    elif begun := beginning(item.type, rewriter):
        default = begun
    elif (found := collection_of(item.type, rewriter)) is not None and found.is_associative:
        default = "'{}'"
    value = f"CASE left(s, 1) WHEN '=' THEN CAST(substr(s, 2) AS {kind}) WHEN '-' THEN NULL ELSE CAST({default} AS {kind}) END"
    read = f"SELECT {value} FROM current_setting({setting}, true) AS s"
    write = f"set_config({setting}, COALESCE('=' || {_VALUE}::text, '-'), false)"
    language, getting, setting_body = "sql", read, f"SELECT {write}"
    if _starts(package, rewriter):
        language, start = "plpgsql", f"PERFORM {rewriter.names.qualified(package, _START)}();"
        getting = f"BEGIN {start} RETURN ({read}); END"
        setting_body = f"BEGIN {start} PERFORM {write}; END"
    quote = dollar_quote(getting + setting_body)
    return (
        f"CREATE OR REPLACE FUNCTION {name}()\n  RETURNS {kind} LANGUAGE {language} VOLATILE\n"
        f"AS {quote} {getting} {quote};\n"
        f"CREATE OR REPLACE FUNCTION {setter(package, item.name, rewriter)}({_VALUE} {kind})\n"
        f"  RETURNS void LANGUAGE {language} VOLATILE\n"
        f"AS {quote} {setting_body} {quote};"
    )


def _starts(package: str, rewriter: Rewriter) -> bool:
    """Whether a package runs statements when a session first uses it."""
    return any(item.details.get("initialization") for item in rewriter.catalog.with_name(package))


def start_head(package: str, hoisted: str, rewriter: Rewriter) -> str:
    """Return the beginning of the function that runs a package's statements once in each session."""
    setting = literal(plain_setting(package, "hs_started"))
    quote = dollar_quote(rewriter.subject.read.text)
    return (
        f"CREATE OR REPLACE FUNCTION {rewriter.names.qualified(package, _START)}()\n  RETURNS void LANGUAGE plpgsql VOLATILE\n"
        f"AS {quote}\n{hoisted}BEGIN\n  IF current_setting({setting}, true) = 'yes' THEN RETURN; END IF;\n"
        f"  PERFORM set_config({setting}, 'yes', false);"
    )


def plain_setting(prefix: str, name: str) -> str:
    """Return the name of a setting of the session, of plain letters whatever the names are."""
    return f"{_plain(prefix)}.{_plain(name)}"


def _plain(name: str) -> str:
    """Return a part of a setting's name: letters, digits and underscores."""
    text = "".join(sign if sign.isascii() and (sign.isalnum() or sign == "_") else "_" for sign in name.lower())
    return f"_{text}" if text[:1].isdigit() else text


def variables_of(package: str, rewriter: Rewriter) -> set[str]:
    """Return the variables that a package's specification and body declare."""
    kinds = (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY)
    items = (item for item in rewriter.catalog.with_name(package) if item.type in kinds)
    return {name for item in items for name in item.details.get("variables", "").split()}


class State:
    """The variables of packages that a unit uses."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.rewriter = rewriter
        tree = rewriter.subject.tree
        self.own = tree.name[-1] if isinstance(tree, CreatePackage) else ""
        self.own_names = variables_of(self.own, rewriter) if self.own else set()

    def place_of(self, node: Node) -> tuple[str, str] | None:
        """Return package and variable that a name means; None for any other name."""
        if not isinstance(node, Name):
            return None
        parts = node.parts
        if len(parts) == 1 and parts[0] in self.own_names and not self._is_local(node):
            return self.own, parts[0]
        if len(parts) == 2 and parts[1] in variables_of(parts[0], self.rewriter):
            return parts[0], parts[1]
        return None

    def _is_local(self, name: Name) -> bool:
        """Whether a routine around a name declares the same name itself."""
        routines = [
            r for r in self.rewriter.subject.all(Routine) if r.first <= name.first < r.last and r.block is not None
        ]
        for routine in routines:
            declared = {p.name for p in routine.parameters}
            declared |= {v.name for v in self.rewriter.subject.all(Variable) if routine.first <= v.first < routine.last}
            if name.parts[0] in declared:
                return True
        return False

    def add(self) -> None:
        """Add the points of reading and writing."""
        rewriter = self.rewriter
        written: set[Node] = set()
        for assign in rewriter.subject.all(Assign):
            place = self.place_of(assign.target)
            if place is not None:
                written.add(assign.target)
                rewriter.add(Point(assign.first, assign.last, partial(self._set, assign, place), rank=3))
        for select in rewriter.subject.all(Select):
            written |= {into for into in select.into if self.place_of(into) is not None}
        for fetch in rewriter.subject.all(Fetch):
            written |= {into for into in fetch.into if self.place_of(into) is not None}
        for node in written:
            if not any(assign.target is node for assign in rewriter.subject.all(Assign)):
                self._fill(node)
        for name in rewriter.subject.all(Name):
            place = self.place_of(name)
            if place is not None and name not in written:
                rewriter.put_point(Point(name.first, name.last, partial(self._get, place)))
        others = self.own_names - Collections.of(rewriter).kept
        for call in rewriter.subject.all(Call):
            if len(call.parts) == 1 and call.parts[0] in others and len(call.arguments) == 1:
                rewriter.add(Point(call.first, call.last, _refuse, rank=3))
        for statement in rewriter.subject.all(CallStatement):
            node = statement.call
            if isinstance(node, Name | Call) and len(node.parts) == 2 and node.parts[0] in others:
                rewriter.add(Point(statement.first, statement.last, _refuse, rank=3))

    def _fill(self, node: Node) -> None:
        """Have a query or FETCH fill a variable of the routine, whose value the setting gets behind the statement."""
        place, statements = (
            self.place_of(node),
            [*self.rewriter.subject.all(QueryStatement), *self.rewriter.subject.all(Fetch)],
        )
        around = [s for s in statements if s.first <= node.first and node.last <= s.last]
        if place is None or place[0] != self.own or not around or self._variable(place[1]) is None:
            self.rewriter.add(Point(node.first, node.last, _refuse, rank=3))
            return
        local = f"{_INTO}_{node.first}"
        self.rewriter.add(Point(node.first, node.last, lambda r: local, rank=3))
        self.rewriter.insert_behind(around[-1], f"; PERFORM {setter(*place, self.rewriter)}({local})")

    def _variable(self, name: str) -> Variable | None:
        """Return the declaration of a variable in the body at hand, or in the specification of its package."""
        tree = self.rewriter.subject.tree
        declared = tree.declarations if isinstance(tree, CreatePackage) else []
        found = [node for node in declared if isinstance(node, Variable) and node.name == name]
        return found[0] if found else specified_variable(self.own, name, self.rewriter)

    def hoisted(self, first: int, last: int) -> list[str]:
        """Return the declarations of the variables that queries fill in place of settings."""
        lines = []
        nodes = [n for select in self.rewriter.subject.all(Select) for n in select.into]
        nodes += [n for fetch in self.rewriter.subject.all(Fetch) for n in fetch.into]
        for node in nodes:
            place = self.place_of(node) if first <= node.first < last else None
            variable = self._variable(place[1]) if place is not None and place[0] == self.own else None
            if variable is not None:
                lines.append(f"{_INTO}_{node.first} {element_text(variable.type, self.rewriter)};")
        return lines

    def _get(self, place: tuple[str, str], rewriter: Rewriter) -> str:
        return getter(*place, rewriter)

    def _set(self, assign: Assign, place: tuple[str, str], rewriter: Rewriter) -> str:
        return f"PERFORM {setter(*place, rewriter)}({self._given(assign.value, place, rewriter)})"

    def _given(self, value: Node, place: tuple[str, str], rewriter: Rewriter) -> str:
        """Render a value for a setter: an argument is not converted by itself as an assigned value is."""
        text, wanted = rewriter.node(value), self._plain_type(place, rewriter)
        if wanted not in _CONVERTED or (isinstance(value, Literal) and value.form == "null"):
            return text
        if wanted == "timestamp":  # what SYSTIMESTAMP gives has a zone, as its kind does not tell
            is_alike = (
                rewriter.types.source_type(value) is not None
                and target_type(value, rewriter).partition("(")[0] == wanted
            )
        elif wanted == "text":
            is_alike = rewriter.types.family(value) is Family.TEXT
        else:
            is_alike = widens(target_type(value, rewriter), wanted)
        return text if is_alike else f"CAST({text} AS {wanted})"

    def _plain_type(self, place: tuple[str, str], rewriter: Rewriter) -> str:
        """Return the type of a variable without precision; '' where it is not known from here."""
        variable = self._variable(place[1]) if place[0] == self.own else specified_variable(*place, rewriter)
        try:
            kind = element_text(variable.type, rewriter) if variable is not None else ""
        except CannotDraft:
            return ""
        plain = kind.partition("(")[0]
        return "text" if plain in ("varchar", "char") else plain


def _refuse(rewriter: Rewriter) -> str:
    raise CannotDraft("a variable of a package that something else than an assignment fills")
