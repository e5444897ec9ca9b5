"""Stand-ins for routines: the right name and parameters, a body that says what is missing, the source as a comment."""

from contextlib import suppress

from hullsound.catalog.model import Catalog, Object
from hullsound.catalog.references import Scope
from hullsound.knowledge.model import Target
from hullsound.sight.subject import Subject
from hullsound.sql.dialect import Grammar, load_dialect
from hullsound.sql.tree import CreateRoutine, CreateTable, Routine, TypeName

from .code import read_object
from .names import literal
from .plpgsql.plsql.types import write_type as write_plsql_type
from .plpgsql.results import routine_shape
from .plpgsql.shared import dollar_quote, write_type
from .plpgsql.tsql.names import prefixed
from .rewrite import CannotDraft, Rewriter

_MODES = {"in": "", "out": "OUT ", "in out": "INOUT "}


def stub_routine(item: Object, catalog: Catalog, target: Target) -> str:
    """Write a routine that raises an error when called. Raises CannotDraft if not even its header can be read."""
    read = read_object(item.text, catalog.engine)
    if read is None or not isinstance(read.tree, CreateRoutine):
        raise CannotDraft("its header could not be read")
    routine = read.tree.routine
    rewriter = Rewriter(Subject(read, Scope(read), catalog.engine), catalog, target, item.id)
    parameters = _parameters(routine, rewriter)
    if load_dialect(catalog.engine).grammar is not Grammar.PLSQL and routine.block is not None:
        with suppress(CannotDraft):  # what it gives out is for the person who writes it
            parameters += routine_shape(read, catalog, item.default_schema or item.schema).parameters()
    quote = dollar_quote(item.text)
    source = "\n".join(f"  -- {line.rstrip()}" for line in item.text.splitlines())
    return (
        f"CREATE OR REPLACE {routine.form.upper()} {rewriter.names.qualified(item.schema, item.name)}({', '.join(parameters)})"
        f"{_returns(routine, rewriter)}\nLANGUAGE plpgsql\nAS {quote}\nBEGIN\n{source}\n"
        f"  RAISE EXCEPTION '%', {literal('not converted: ' + item.id)};\nEND;\n{quote};"
    )


def _known_type(kind: TypeName, rewriter: Rewriter) -> str:
    is_plsql = load_dialect(rewriter.catalog.engine).grammar is Grammar.PLSQL
    try:
        return (write_plsql_type if is_plsql else write_type)(kind, rewriter, unsized=True)
    except CannotDraft:
        return "text"


def _parameters(routine: Routine, rewriter: Rewriter) -> list[str]:
    is_tsql = load_dialect(rewriter.catalog.engine).grammar is Grammar.TSQL
    parameters: list[str] = []
    may_default = True
    for parameter in reversed(routine.parameters):
        # A default stands only where every parameter behind it has one too.
        may_default = may_default and parameter.default is not None
        mode = "" if routine.form == "function" else _MODES[parameter.mode]
        name = rewriter.names.write(prefixed("P", parameter.name) if is_tsql else parameter.name)
        default = " DEFAULT NULL" if may_default else ""
        parameters.insert(0, f"{mode}{name} {_known_type(parameter.type, rewriter)}{default}")
    return parameters


def _table_columns(kind: TypeName, rewriter: Rewriter) -> str:
    """Return the columns of RETURNS TABLE (...), so that what reads them can be created; '' where none are written."""
    words = rewriter.words
    opening = next((at for at in range(kind.first, min(kind.last + 2, len(words))) if words[at] == "("), -1)
    if opening < 0:
        return ""
    depth, at = 1, opening + 1
    while depth and words[at]:
        depth += (words[at] == "(") - (words[at] == ")")
        at += 1
    read = read_object(f"CREATE TABLE t {rewriter.tokens.source(opening, at)}", rewriter.catalog.engine)
    if read is None or not isinstance(read.tree, CreateTable):
        return ""
    columns = [(column.name, column.type) for column in read.tree.columns if column.type is not None]
    return ", ".join(f"{rewriter.names.parameter(name)} {_known_type(kind, rewriter)}" for name, kind in columns)


def _returns(routine: Routine, rewriter: Rewriter) -> str:
    if routine.returns is not None and routine.returns.name == "TABLE":
        columns = _table_columns(routine.returns, rewriter)
        return f"\nRETURNS TABLE ({columns})" if columns else "\nRETURNS SETOF record"
    if routine.returns is not None:
        return f"\nRETURNS {_known_type(routine.returns, rewriter)}"
    return "\nRETURNS text" if routine.form == "function" else ""
