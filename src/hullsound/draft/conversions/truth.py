"""Numbers that serve as truth values, and truth values that serve as numbers.

MySQL has no truth values: conditions are numbers, and comparisons give 1 or 0. SQL Server has a type bit, which becomes
boolean: 1 and 0 beside it become TRUE and FALSE.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Assign,
    Call,
    Case,
    CaseStatement,
    ColumnDefinition,
    Comparison,
    Delete,
    If,
    Insert,
    Join,
    Literal,
    Loop,
    Name,
    Node,
    Operation,
    Parameter,
    Paren,
    Return,
    Select,
    SelectItem,
    Subquery,
    Update,
    Variable,
)

from .bits import add_bit_numbers
from .row_values import inserted_literals, inserted_types

NUMBERS_AS_TRUTH: Final = frozenset(("mysql", "mariadb", "sqlite"))
BITS_AS_TRUTH: Final = frozenset(("sqlserver", "ase"))
_PATTERNS: Final = frozenset(("~", "~*", "!~", "!~*"))
"""Tests of patterns in PostgreSQL; ~ before a value turns its bits around."""
_CONNECTIVES: Final = frozenset(("AND", "OR", "NOT", "&&", "!", "XOR"))
_SIGNS: Final = ("=", "==", "<>", "!=", "<", ">", "<=", ">=", "<=>")
_COMPARED: Final = frozenset((*_SIGNS, *(f"{sign} {word}" for sign in _SIGNS for word in ("ANY", "ALL", "SOME"))))


def add_truth_points(rewriter: Rewriter) -> None:
    """Add the points that turn numbers into conditions and conditions into numbers."""
    engine = rewriter.catalog.engine
    if engine in NUMBERS_AS_TRUTH:
        _add_connectives(rewriter)
        conditions = conditions_of(rewriter)
        tests = (each for each in rewriter.subject.all(Comparison) if each.operator.startswith("IS ") and each.operands)
        conditions += [test.operands[0] for test in tests if test.operator.split()[-1] in ("TRUE", "FALSE", "UNKNOWN")]
        for condition in conditions:
            _add_condition(condition, rewriter)
        _add_values(rewriter)
        _add_bit_strings(rewriter)
        _add_date_numbers(rewriter)
        if engine == "sqlite":
            _add_bits(rewriter)
    elif engine in BITS_AS_TRUTH:
        _add_bits(rewriter)
        add_bit_numbers(rewriter, _bit_choices(rewriter))


# --- numbers as truth ---


def conditions_of(rewriter: Rewriter) -> list[Node]:
    """Return the nodes that stand where a condition is asked for."""
    subject = rewriter.subject
    found: list[Node | None] = []
    for select in subject.all(Select):
        found += [select.where, select.having]
    found += [change.where for change in subject.all(Update)]
    found += [change.where for change in subject.all(Delete)]
    found += [join.condition for join in subject.all(Join)]
    for branch in subject.all(If):
        found += [condition for condition, _ in branch.branches]
    for loop in subject.all(Loop):
        if loop.form in ("while", "repeat"):
            found += loop.bounds
    for case in subject.all(Case):
        found += [condition for condition, _ in case.branches] if case.subject is None else []
    for statement in subject.all(CaseStatement):
        found += [condition for condition, _ in statement.branches] if statement.subject is None else []
    found += [call.arguments[0] for call in subject.all(Call) if call.parts in (("IF",), ("IIF",)) and call.arguments]
    return [node for node in found if node is not None]


def _add_condition(node: Node, rewriter: Rewriter) -> None:
    """Make a condition of a node: compare a number with 0; look inside AND, OR, NOT and brackets."""
    if isinstance(node, Paren):
        _add_condition(node.inner, rewriter)
    elif _is_search(node):
        _searches(rewriter).add(node)
    elif isinstance(node, Operation) and node.operators and set(node.operators) <= connectives(rewriter):
        for operand in node.operands:
            _add_condition(operand, rewriter)
    elif isinstance(node, Literal) and node.form == "number":
        rewriter.replace(node.first, node.last, "FALSE" if rewriter.subject.source(node) == "0" else "TRUE")
    elif isinstance(node, Literal) and node.form in ("true", "false"):
        rewriter.replace(node.first, node.last, node.form.upper())
    elif not is_truth(node) and rewriter.types.family(node) in NUMBERS:
        rewriter.add(Point(node.first, node.last, partial(_nonzero, node), rank=8))  # around what rounds or casts it
    elif rewriter.types.family(node) in (Family.DATE, Family.TIMESTAMP, Family.TIME):
        rewriter.add(Point(node.first, node.last, lambda r: f"({r.node(node)} IS NOT NULL)", rank=1))
    elif isinstance(node, Literal) and node.form == "string":
        rewriter.add(Point(node.first, node.last, _refuse_text, rank=1))
    elif rewriter.types.family(node) is Family.BITS:
        rewriter.add(Point(node.first, node.last, lambda r: f"(position(B'1' IN {r.node(node)}) > 0)", rank=1))


def _is_search(node: Node) -> bool:
    """Whether a node searches for words, which gives a rank, or a truth value where one is asked for."""
    return isinstance(node, Comparison) and node.operator == "MATCH"


def _searches(rewriter: Rewriter) -> set[Node]:
    found: set[Node] = rewriter.subject.memory.setdefault("searches as conditions", set())  # type: ignore[assignment]
    return found


def stands_as_condition(node: Comparison, rewriter: Rewriter) -> bool:
    """Whether a search for words stands where a condition is asked for."""
    return node in _searches(rewriter)


def _refuse_text(rewriter: Rewriter) -> str:
    raise CannotDraft("a text as a condition")


def _nonzero(node: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(node)} <> 0)"


def is_truth(node: Node) -> bool:
    """Whether an expression gives a truth value in PostgreSQL, where the source counts it as a number."""
    if isinstance(node, Paren):
        return is_truth(node.inner)
    if isinstance(node, Operation):
        is_pattern = len(node.operands) > 1 and node.operators[0] in _PATTERNS
        signs = {operator.partition(" ")[0] for operator in node.operators}  # = ANY is a comparison as well
        return is_pattern or bool(signs & (_COMPARED | _CONNECTIVES))
    if isinstance(node, Call):
        return node.parts in (("ISNULL",), ("REGEXP_LIKE",), ("STARTS_WITH",)) and len(node.arguments) < 3
    return (isinstance(node, Comparison) and not _is_search(node)) or (
        isinstance(node, Subquery) and node.form == "EXISTS"
    )


def _add_connectives(rewriter: Rewriter) -> None:
    for node in rewriter.subject.all(Operation):
        signs = set(node.operators) & connectives(rewriter)
        if signs & {"&&", "!", "XOR", "||"}:
            rewriter.add(Point(node.first, node.last, partial(_connected, node)))
        for operand in node.operands if signs else ():
            _add_condition(operand, rewriter)


def connectives(rewriter: Rewriter) -> frozenset[str]:
    """Return the signs that join conditions in the source: || joins texts but in MySQL and MariaDB."""
    # It means OR there unless the script's sql_mode says otherwise.
    return _CONNECTIVES | {"||"} if rewriter.catalog.engine in ("mysql", "mariadb") else _CONNECTIVES


def _connected(node: Operation, rewriter: Rewriter) -> str:
    signs = {"&&": "AND", "||": "OR", "XOR": "<>"}
    if node.operators == ["!"]:
        return f"NOT ({rewriter.node(node.operands[0])})"
    xor = "XOR" in node.operators
    parts = [f"({rewriter.node(each)})" if xor else rewriter.node(each) for each in node.operands]
    text = parts[0]
    for operator, part in zip(node.operators, parts[1:], strict=True):
        text += f" {signs.get(operator, operator)} {part}"
    return text


def _add_values(rewriter: Rewriter) -> None:
    """Count a comparison as 1 or 0 where its value is kept, given out or counted; TRUE and FALSE are 1 and 0."""
    subject = rewriter.subject
    values: list[Node | None] = [assign.value for assign in subject.all(Assign)]
    values += [each.value for each in subject.all(Return)]
    values += [variable.default for variable in subject.all(Variable)]
    values += [parameter.default for parameter in subject.all(Parameter)]
    exists = [query.query for query in subject.all(Subquery) if query.form]
    for item in subject.all(SelectItem):
        if not any(query.first <= item.first < query.blocks[0].last for query in exists if query.blocks):
            values.append(item.value)
    for call in subject.all(Call):
        start = 1 if call.parts in (("IF",), ("IIF",)) else 0
        if call.parts not in (("ISNULL",), ("POSITION",)):
            values += call.arguments[start:]
    for case in subject.all(Case):
        values += [result for _, result in case.branches] + [case.otherwise]
    for update in subject.all(Update):
        values += [value for _, value in update.assignments]
    for operation in subject.all(Operation):
        if not set(operation.operators) & connectives(rewriter):
            values += [operand for operand in operation.operands if is_truth(operand)]
    for value in values:
        if value is not None and is_truth(value):
            rewriter.wrap(value, partial(_as_number, value))
    for constant in subject.all(Literal):
        if constant.form in ("true", "false"):
            rewriter.replace(constant.first, constant.last, "1" if constant.form == "true" else "0")


def _as_number(node: Node, rewriter: Rewriter) -> str:
    return f"CAST(({rewriter.node(node)}) AS integer)"


def _add_bit_strings(rewriter: Rewriter) -> None:
    """Write a number beside a bit string as bits of its length."""
    for node in rewriter.subject.all(Operation):
        if len(node.operands) == 2 and node.operators[0] in _COMPARED:
            for value, other in (node.operands, node.operands[::-1]):
                kind = rewriter.types.source_type(value)
                if kind is not None and kind.name == "BIT" and isinstance(other, Literal) and other.form == "number":
                    _add_bits_of(other, kind.arguments[0] if kind.arguments else "1", rewriter)
    for update in rewriter.subject.all(Update):
        for target, given in update.assignments:
            kind = rewriter.types.source_type(target)
            if kind is not None and kind.name == "BIT" and isinstance(given, Literal) and given.form == "number":
                _add_bits_of(given, kind.arguments[0] if kind.arguments else "1", rewriter)
    for insert in rewriter.subject.all(Insert):
        _add_inserted_bit_strings(insert, rewriter)


def _add_inserted_bit_strings(insert: Insert, rewriter: Rewriter) -> None:
    """Write the numbers in VALUES (...) that go into bit strings as bits."""
    kinds = inserted_types(insert, rewriter)
    places = {place for place, kind in enumerate(kinds) if kind.name == "BIT"}
    if places and insert.query is None:
        for place, literal in inserted_literals(insert, places, rewriter):
            if literal.form == "number":
                _add_bits_of(literal, kinds[place].arguments[0] if kinds[place].arguments else "1", rewriter)


def _add_date_numbers(rewriter: Rewriter) -> None:
    """Write a number of eight digits beside a date as a date; refuse sums with the members of a set."""
    for node in rewriter.subject.all(Operation):
        for value, other in (node.operands, node.operands[::-1]) if len(node.operands) == 2 else ():
            source = rewriter.types.source_type(value)
            if source is None:
                continue
            digits = rewriter.subject.source(other) if isinstance(other, Literal) else ""
            if source.name in ("DATE", "DATETIME", "TIMESTAMP") and digits.isdigit() and len(digits) == 8:
                rewriter.replace(other.first, other.last, f"DATE '{digits[:4]}-{digits[4:6]}-{digits[6:]}'")
            elif source.name == "SET" and set(node.operators) <= set("+-*/&|"):
                rewriter.add(Point(node.first, node.last, _refuse_members))


def _refuse_members(rewriter: Rewriter) -> str:
    raise CannotDraft("the members of a set used as a number")


def _add_bits_of(number: Literal, length: str, rewriter: Rewriter) -> None:
    source = rewriter.subject.source(number)
    rewriter.replace(number.first, number.last, f"CAST({source} AS bit({length}))")


# --- bits as truth ---


def _add_bits(rewriter: Rewriter) -> None:
    subject = rewriter.subject
    for node in subject.all(Operation):
        if len(node.operands) == 2 and node.operators[0] in _COMPARED:
            for value, other in (node.operands, node.operands[::-1]):
                if isinstance(value, Name | Call) and rewriter.types.family(value) is Family.BOOLEAN:
                    _add_compared_bit(value, other, rewriter)
    for update in subject.all(Update):
        for target, value in update.assignments:
            if isinstance(target, Name) and rewriter.types.family(target) is Family.BOOLEAN:
                _add_bit(value, rewriter)
    for assign in subject.all(Assign):
        if isinstance(assign.target, Name) and rewriter.types.family(assign.target) is Family.BOOLEAN:
            _add_bit(assign.value, rewriter)
    declared: list[Variable | Parameter | ColumnDefinition] = [*subject.all(Variable), *subject.all(Parameter)]
    declared += subject.all(ColumnDefinition)
    for each in declared:
        if each.default is not None and each.type is not None and each.type.name == "BIT":
            _add_bit(each.default, rewriter)
    for insert in subject.all(Insert):
        _add_inserted_bits(insert, rewriter)
    for call in subject.all(Call):
        _add_bit_arguments(call, rewriter)
        replaces = call.parts[-1] in ("COALESCE", "ISNULL", "NULLIF") and call.arguments
        if replaces and rewriter.types.family(call.arguments[0]) is Family.BOOLEAN:
            for argument in call.arguments[1:]:
                _add_bit(argument, rewriter)


def _add_compared_bit(value: Node, other: Node, rewriter: Rewriter) -> None:
    """Compare a bit with 0 and 1 as a truth value, and with any other number as the number that it is."""
    bare = other
    while isinstance(bare, Paren):
        bare = bare.inner
    is_constant = isinstance(bare, Literal) and rewriter.subject.source(bare) in ("0", "1")
    is_number = not is_constant and not isinstance(bare, Case) and rewriter.types.family(bare) in NUMBERS
    if is_number and not (isinstance(bare, Call) and bare.parts == ("IIF",)):
        rewriter.wrap(value, partial(_as_number, value), rank=1)
    else:
        _add_bit(other, rewriter)


def _add_bit(value: Node, rewriter: Rewriter) -> None:
    """Make a truth value of what becomes a bit."""
    if isinstance(value, Paren):
        _add_bit(value.inner, rewriter)
    elif isinstance(value, Literal) and value.form == "number":
        rewriter.replace(value.first, value.last, "FALSE" if rewriter.subject.source(value) == "0" else "TRUE")
    elif isinstance(value, Case):
        _bit_choices(rewriter).add(value)
        for result in [result for _, result in value.branches] + ([value.otherwise] if value.otherwise else []):
            _add_bit(result, rewriter)
    elif isinstance(value, Call) and value.parts == ("IIF",):
        _bit_choices(rewriter).add(value)
        for argument in value.arguments[1:]:
            _add_bit(argument, rewriter)
    elif isinstance(value, Operation) and value.operators == ["~"]:
        rewriter.add(Point(value.first, value.last, lambda r: f"NOT {r.node(value.operands[0])}"))
    elif rewriter.types.family(value) in NUMBERS:
        rewriter.add(Point(value.first, value.last, partial(_as_truth, value), rank=1))


def _bit_choices(rewriter: Rewriter) -> set[Node]:
    """The expressions with CASE or IIF that become a bit."""
    found: set[Node] = rewriter.subject.memory.setdefault("bit choices", set())  # type: ignore[assignment]
    return found


def _as_truth(node: Node, rewriter: Rewriter) -> str:
    return f"(({rewriter.node(node)}) <> 0)"


def _add_inserted_bits(insert: Insert, rewriter: Rewriter) -> None:
    """Look at the values that stand for bit columns, in rows and in select lists."""
    loose = rewriter.catalog.engine == "sqlite"  # whose BOOLEAN keeps numbers
    bits = {
        place for place, kind in enumerate(inserted_types(insert, rewriter))
        if kind.name == "BIT" or (loose and rewriter.types.family_of(kind) is Family.BOOLEAN)
    }  # fmt: skip
    if bits and insert.query is not None:
        for block in insert.query.blocks:
            for place, each in enumerate(block.items if isinstance(block, Select) else ()):
                if place in bits:
                    _add_bit(each.value, rewriter)
    elif bits:
        for _, literal in inserted_literals(insert, bits, rewriter):
            _add_bit(literal, rewriter)


def _add_bit_arguments(call: Call, rewriter: Rewriter) -> None:
    """Look at the arguments of the catalogue's own functions that are bits."""
    item = rewriter.catalog.resolve(call.parts, rewriter.default_schema) if len(call.parts) > 1 else None
    if item is None or not item.routines:
        return
    for parameter, argument in zip(item.routines[0].parameters, call.arguments, strict=False):
        if parameter.type.upper() == "BIT":
            _add_bit(argument, rewriter)
