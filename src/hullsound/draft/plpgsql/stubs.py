"""Stand-ins for routines that a person must write: the right name and parameters, and a body that says what is missing."""

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.variables import prefixed
from hullsound.draft.plpgsql.plsql.types import write_type as write_plsql_type
from hullsound.sql.dialect import Grammar, load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import CreateTable, Routine, TypeName

from .shared import dollar_quote, write_type

_MODES = {"in": "", "out": "OUT ", "in out": "INOUT "}


def stub_text(routine: Routine, name: str, source: str, reason: str, results: list[str], rewriter: Rewriter) -> str:
    """Write a routine that raises `reason` when called and keeps `source` as a comment.

    `name` is qualified and quoted; `results` are parameters that stand for its result sets.
    """
    parameters = [*_parameters(routine, rewriter), *results]
    quote = dollar_quote(source)
    kept = "\n".join(f"  -- {line.rstrip()}" for line in source.splitlines())
    return (
        f"CREATE OR REPLACE {routine.form.upper()} {name}({', '.join(parameters)})"
        f"{_returns(routine, rewriter)}\nLANGUAGE plpgsql\nAS {quote}\nBEGIN\n{kept}\n"
        f"  RAISE EXCEPTION '%', {literal(reason)};\nEND;\n{quote};"
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
    table = f"CREATE TABLE t {rewriter.tokens.source(opening, at)}"
    read = next(read_script(table, load_dialect(rewriter.catalog.engine)).statements(), None)
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
