"""Parameters of a target that neither changes nor sizes them, as Oracle: a variable takes the place of one where that counts.

Sources: Oracle Database 19c, PL/SQL Language Reference, "Formal Parameter Declaration" (no length, precision or scale; IN
parameters cannot be assigned to); of the source engines see `plpgsql.parameters`.
"""

from typing import Final

from hullsound.catalog.definitions import data_type
from hullsound.draft.conversions.assigned import cut_text, shortened
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Name, Parameter

from .speech import Declared, Lines, Unit
from .types import type_text
from .variables import assigned_names

_CONSTRUCT: Final = "convert.parameter-size"
_NUMBERS: Final = frozenset(("DECIMAL", "NUMERIC", "DEC"))
_TEXTS: Final = frozenset(("VARCHAR", "NVARCHAR", "CHAR", "NCHAR"))
_CHANGED: Final = {
    "sqlserver": _TEXTS | _NUMBERS, "ase": _TEXTS | _NUMBERS, "mysql": _NUMBERS, "mariadb": _NUMBERS,
    "db2": _NUMBERS,
}  # fmt: skip
"""Types whose size each source brings what a caller gives to, without an error."""


def keep_parameters(parameters: list[Parameter], unit: Unit, variables: dict[str, str], rewriter: Rewriter) -> Lines:
    """Give parameters that are assigned to, or whose size counts, a variable; return what is done first for those that stay."""
    assigned, lines = assigned_names(rewriter), []
    read = {name.parts for name in rewriter.subject.all(Name)}
    for parameter in parameters:
        if parameter.name not in variables or parameter.mode == "out":
            continue
        given = variables[parameter.name]
        counts = parameter.mode != "in" or (parameter.name,) in read
        sized = _sized(parameter, given, rewriter) if counts else ""
        if sized:
            rewriter.rendered.append((_CONSTRUCT, parameter.first))
        if parameter.mode != "in":
            lines += [f"{given} := {sized};"] if sized else []
        elif sized or parameter.name in assigned:
            variables[parameter.name] = _variable(parameter, variables, rewriter)
            kind = type_text(parameter.type, rewriter)
            unit.variables.append(Declared(variables[parameter.name], kind, "", default=sized or given))
    return lines


def _variable(parameter: Parameter, variables: dict[str, str], rewriter: Rewriter) -> str:
    """Return the name of the variable that takes a parameter's place; no other variable has it."""
    bare = f"v_{rewriter.names.folded(parameter.name.lstrip('@'))}"
    while rewriter.names.parameter(bare) in variables.values():
        bare += "_given"
    return rewriter.names.parameter(bare)


def _sized(parameter: Parameter, given: str, rewriter: Rewriter) -> str:
    """Return a parameter as its source sizes it; '' where its size is none, or does not count."""
    source = data_type(parameter.type)
    if source.name not in _CHANGED.get(rewriter.catalog.engine, ()):
        return ""
    kind = type_text(parameter.type, rewriter)
    size, _, digits = kind.partition("(")[2].rstrip(")").removesuffix(" char").partition(",")
    if not size:
        return ""
    if source.name in _NUMBERS:
        places = digits.strip() or "0"
        if rewriter.catalog.engine == "db2":
            return cut_text(given, places, rewriter.target.engine)
        return f"ROUND({given}, {places})"
    return shortened(given, size, rewriter.target.engine)
