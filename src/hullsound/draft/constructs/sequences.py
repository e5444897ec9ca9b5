"""Values of sequences: the next one, and the one that a sequence gave the session last.

Sources: Oracle Database 19c, "SQL Language Reference", "Sequence Pseudocolumns"; Transact-SQL reference, NEXT VALUE FOR;
PostgreSQL 18, "Sequence Manipulation Functions"; MariaDB Server documentation, "NEXT VALUE for sequence_name".
"""

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Name, Node

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
    item = rewriter.catalog.resolve(tuple(parts), rewriter.default_schema)
    name = rewriter.names.qualified(*((item.schema, item.name) if item else parts))
    return sequence_value(name, rewriter.target.engine, is_last=words[place.first].startswith("PREV"))


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
    owner = rewriter.catalog.objects.get(rewriter.owner)
    item = rewriter.catalog.resolve(node.parts[:-1], owner.default_schema if owner else "")
    name = rewriter.names.qualified(item.schema, item.name) if item else rewriter.names.qualified(*node.parts[:-1])
    return sequence_value(name, rewriter.target.engine, is_last=is_last)
