"""Values of sequences: the next one, and the one that a sequence gave the session last.

Sources: Oracle Database 19c, "SQL Language Reference", "Sequence Pseudocolumns"; Transact-SQL reference, NEXT VALUE FOR;
PostgreSQL 18, "Sequence Manipulation Functions"; MariaDB Server documentation, "NEXT VALUE for sequence_name".
"""

from hullsound.catalog.model import ObjectType
from hullsound.draft.edits.names import Names, literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Cast, Insert, Name, Node, Parts, Query

from . import call_of, fixer


@fixer("next_value")
def fix_next_value(place: Found, rewriter: Rewriter) -> str:
    """Write NEXT VALUE FOR sequence and PREVIOUS VALUE FOR in the target's words."""
    words = rewriter.words
    at = next((i for i in range(place.first, place.last) if words[i] == "FOR"), -1)
    if at < 0:
        raise CannotDraft("a value of a sequence in a form that is not known")
    parts = [words[i].strip('[]"`') for i in range(at + 1, place.last) if words[i] != "."]
    if "OVER" in parts:
        raise CannotDraft("values of a sequence in an order")
    return _value_of(tuple(parts), rewriter, is_last=words[place.first].startswith("PREV"))


def counter_name(schema: str, name: str, names: Names) -> str:
    """Return what the function is called that gives the next number of a sequence on MySQL."""
    return names.qualified(*((schema,) if schema else ()), f"NEXT_{name}")


def _value_of(parts: Parts, rewriter: Rewriter, *, is_last: bool) -> str:
    item = rewriter.catalog.resolve(parts, rewriter.default_schema)
    if rewriter.target.engine != "mysql":
        name = rewriter.names.qualified(*((item.schema, item.name) if item else parts))
        return sequence_value(name, rewriter.target.engine, is_last=is_last)
    if item is None or item.type is not ObjectType.SEQUENCE:
        raise CannotDraft("a sequence that is not in the source")
    if is_last:
        raise CannotDraft("the value that a sequence gave last")
    _refuse_twice(parts, rewriter)
    return f"{counter_name(item.schema, item.name, rewriter.names)}()"


def _refuse_twice(parts: Parts, rewriter: Rewriter) -> None:
    """Refuse a sequence that one statement of SQL asks twice, which gives one number for a row in the source."""
    asked = [each for each in rewriter.subject.all(Name) if each.parts == (*parts, "NEXTVAL")]
    for kind in (Insert, Query):
        for statement in rewriter.subject.all(kind):
            if sum(statement.first <= each.first < statement.last for each in asked) > 1:
                raise CannotDraft("a sequence that one statement asks twice")


def sequence_value(name: str, target: str, *, is_last: bool) -> str:
    """Write the next value of a sequence, or the one that it gave the session last; `name` is the target's.

    Raises CannotDraft where the target has no word for it.
    """
    match target:
        case "postgresql":
            return f"{'currval' if is_last else 'nextval'}({literal(name)})"
        case "oracle":
            return f"{name}.{'CURRVAL' if is_last else 'NEXTVAL'}"
        case "mariadb":
            return f"{'LASTVAL' if is_last else 'NEXTVAL'}({name})"
        case "sqlserver" if not is_last:
            return f"NEXT VALUE FOR {name}"
    raise CannotDraft("the value that a sequence gave last" if is_last else "a sequence")


@fixer("next_value_call")
def fix_next_value_call(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    sequence = call.arguments[0]
    if not isinstance(sequence, Name):
        raise CannotDraft("a sequence that is not named")
    name = literal(rewriter.names.qualified(*sequence.parts))
    rest = "".join(f", {rewriter.node(each)}" for each in call.arguments[1:])
    return f"{call.parts[-1].lower()}({name}{rest})" if call.parts[-1] != "LASTVAL" else f"currval({name})"


@fixer("next_number")
def fix_next_number(place: Found, rewriter: Rewriter) -> str:
    """The next value of a sequence, or the one that it gave the session last: name.NEXTVAL, name.CURRVAL."""
    node: Node = place.node
    is_last = isinstance(node, Name) and node.parts[-1] == "CURRVAL"
    if not isinstance(node, Name):
        raise CannotDraft("a value of a sequence in a form that is not known")
    return _value_of(node.parts[:-1], rewriter, is_last=is_last)


@fixer("next_of_counter")
def fix_next_of_counter(place: Found, rewriter: Rewriter) -> str:
    """NEXTVAL('name') of PostgreSQL and NEXTVAL(name) of MariaDB, for MySQL."""
    call = call_of(place)
    sequence = call.arguments[0] if call.arguments else None
    if call.parts[-1] != "NEXTVAL" or len(call.arguments) != 1:
        raise CannotDraft(f"{call.parts[-1].lower()} of a sequence")
    if isinstance(sequence, Cast):
        sequence = sequence.value
    known = text_value(sequence, rewriter) if isinstance(sequence, Node) else None
    if isinstance(sequence, Name):
        return _value_of(sequence.parts, rewriter, is_last=False)
    if known is None:
        raise CannotDraft("a sequence that is not named")
    return _value_of(tuple(part.strip('"').upper() for part in known.split(".")), rewriter, is_last=False)
