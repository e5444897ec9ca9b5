"""Fixers for operators that count otherwise: division, comparison signs, functions of regular expressions."""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.dividing import is_kept, not_zero
from hullsound.draft.conversions.fractions import fraction_of
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Comparison, Operation

from . import call_of, fixer

_SIGNS: Final = {"!<": ">=", "!>": "<=", "¬=": "<>", "¬>": "<=", "¬<": ">=", "EQ": "=", "NE": "<>", "LT": "<", "LE": "<=",
                 "GT": ">", "GE": ">=", "^=": "<>", "~=": "<>", "NOT=": "<>", "==": "=", "!=": "<>"}  # fmt: skip


@fixer("odd_comparison_sign")
def fix_odd_comparison_sign(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    if place.last == place.first + 1:  # the sign alone is the place
        return _SIGNS[rewriter.words[place.first]]
    if isinstance(node, Comparison) and len(node.operands) == 2 and node.operator in _SIGNS and not node.negated:
        return f"{rewriter.node(node.operands[0])} {_SIGNS[node.operator]} {rewriter.node(node.operands[1])}"
    if not isinstance(node, Operation):
        raise CannotDraft("a comparison in a form that is not known")
    text = rewriter.node(node.operands[0])
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        text += f" {_SIGNS.get(operator, operator)} {rewriter.node(operand)}"
    return text


@fixer("fraction_division")
def fix_fraction_division(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Operation)
    return fraction_of(place.node, rewriter)


@fixer("bit_operators")
def fix_bit_operators(place: Found, rewriter: Rewriter) -> str:
    """Write ^ as #, which is the exclusive or; shifts are counted in 64 bits with a sign."""
    node = place.node
    if not isinstance(node, Operation):
        raise CannotDraft("bit operators in a form that is not known")
    text = rewriter.node(node.operands[0])
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        shift = operator in ("<<", ">>")
        right = f"CAST({rewriter.node(operand)} AS integer)" if shift else rewriter.node(operand)
        left = f"CAST({text} AS bigint)" if shift else text
        text = f"({left} {'#' if operator == '^' else operator} {right})"
    return text


@fixer("regex_function")
def fix_regex_function(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    name = call.parts[-1]
    arguments = [rewriter.node(each) for each in call.arguments]
    if name == "REGEXP_REPLACE" and len(arguments) == 3:
        replacement = text_value(call.arguments[2], rewriter)
        if rewriter.catalog.engine in ("mysql", "mariadb") and replacement is not None and "$" in replacement:
            arguments[2] = literal(replacement.replace("$", "\\"))
        return f"regexp_replace({', '.join(arguments)}, 'gi')"
    if name in ("REGEXP_SUBSTR", "REGEXP_INSTR") and len(arguments) == 2:
        return f"{name.lower()}({', '.join(arguments)}, 1, 1, {'' if name == 'REGEXP_SUBSTR' else '0, '}'i')"
    raise CannotDraft(f"{name} with further arguments")


@fixer("div_operator")
def fix_div_operator(place: Found, rewriter: Rewriter) -> str:
    """Divide whole numbers as such and cut off the fraction of others, step by step from the left."""
    node = place.node
    if not isinstance(node, Operation) or "/" in node.operators:
        raise CannotDraft("DIV among other divisions")
    text = rewriter.node(node.operands[0])
    is_whole = rewriter.types.family(node.operands[0]) is Family.INTEGER
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        right = rewriter.node(operand)
        is_whole = is_whole and rewriter.types.family(operand) is Family.INTEGER
        if operator != "DIV":
            text = f"{text} {'%' if operator == 'MOD' else operator} {right}"
            continue
        if not is_kept(node, rewriter):
            right = not_zero(operand, right, rewriter)
        text = f"{text} / {right}" if is_whole else f"trunc(({text}) / ({right}))"
        is_whole = True
    return text
