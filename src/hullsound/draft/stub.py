"""Stand-ins for routines: the right name and parameters, a body that says what is missing, the source as a comment."""

from hullsound.catalog.model import Catalog, Object
from hullsound.catalog.references import Scope
from hullsound.knowledge.model import Target
from hullsound.sight.subject import Subject
from hullsound.sql.tree import CreateRoutine, TypeName

from .code import read_object
from .names import literal
from .plpgsql.plsql.types import write_type
from .plpgsql.shared import dollar_quote
from .rewrite import CannotDraft, Rewriter

_MODES = {"in": "", "out": "OUT ", "in out": "INOUT "}


def stub_routine(item: Object, catalog: Catalog, target: Target) -> str:
    """Write a routine that raises an error when called. Raises CannotDraft if not even its header can be read."""
    read = read_object(item.text, catalog.engine)
    if read is None or not isinstance(read.tree, CreateRoutine):
        raise CannotDraft("its header could not be read")
    routine = read.tree.routine
    rewriter = Rewriter(Subject(read, Scope(read), catalog.engine), catalog, target, item.id)

    def known(kind: TypeName) -> str:
        try:
            return write_type(kind, rewriter, unsized=True)
        except CannotDraft:
            return "text"

    names = rewriter.names
    is_function = routine.form == "function"
    parameters: list[str] = []
    may_default = True
    for parameter in reversed(routine.parameters):
        # A default stands only where every parameter behind it has one too.
        may_default = may_default and parameter.default is not None
        mode = "" if is_function else _MODES[parameter.mode]
        default = " DEFAULT NULL" if may_default else ""
        parameters.insert(0, f"{mode}{names.write(parameter.name)} {known(parameter.type)}{default}")
    returns = (
        f"\nRETURNS {known(routine.returns)}"
        if routine.returns is not None
        else "\nRETURNS text"
        if is_function
        else ""
    )
    quote = dollar_quote(item.text)
    source = "\n".join(f"  -- {line.rstrip()}" for line in item.text.splitlines())
    return (
        f"CREATE OR REPLACE {routine.form.upper()} {names.qualified(item.schema, item.name)}({', '.join(parameters)})"
        f"{returns}\nLANGUAGE plpgsql\nAS {quote}\nBEGIN\n{source}\n"
        f"  RAISE EXCEPTION '%', {literal('not converted: ' + item.id)};\nEND;\n{quote};"
    )
