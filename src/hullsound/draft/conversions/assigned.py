"""Values that a variable, result or column of another type keeps: digits that one engine cuts and another rounds, and long texts.

Sources: Transact-SQL reference, "CAST and CONVERT" (a number that becomes whole is cut, money is rounded), "char and varchar"; Db2
11.5, SQL Reference, "Assignments and comparisons" (digits behind the scale are cut); Teradata SQL Data Types and Literals,
"Numeric Conversion"; PostgreSQL 18, Oracle Database 19c and MySQL 8.4, which round.
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import Family
from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.literals import string_content
from hullsound.sql.tree import (
    Assign,
    Call,
    Case,
    Cast,
    CursorDeclaration,
    Fetch,
    Literal,
    Name,
    Node,
    Operation,
    Parameter,
    Paren,
    Select,
    SelectItem,
    Variable,
)

from .handed_values import returned_values
from .rounding import may_be_float
from .row_values import kept_in_columns

_TSQL: Final = frozenset(("sqlserver", "ase"))
_CUTTING: Final = _TSQL | {"db2", "teradata"}
"""Engines in which a number loses its fraction where it becomes whole; the others round it."""
_ROUNDING_RESULTS: Final = _TSQL | {"mysql", "mariadb"}
"""Engines that round what a function gives to the digits it is declared to give; PostgreSQL passes them over."""
_CUTTING_DIGITS: Final = frozenset(("db2",))
"""Engines that cut the digits behind the scale as well; the others round them."""
_DECIMALS: Final = frozenset(("DECIMAL", "NUMERIC", "DEC"))
_PRECISIONS: Final = {"sqlserver": "18", "ase": "18", "mysql": "10", "mariadb": "10", "db2": "5"}
"""Digits of a decimal that says none, which are all before the point (the references of the engines, "DECIMAL")."""
_UNSIZED: Final = frozenset(("oracle", "postgresql"))
"""Targets whose parameters have neither a length nor digits."""
_VARYING: Final = frozenset(("VARCHAR", "NVARCHAR"))
_FIXED: Final = frozenset(("CHAR", "NCHAR"))
_RANK: Final = 6
_CUT: Final = {"postgresql": "trunc({0}, {1})", "oracle": "TRUNC({0}, {1})", "sqlserver": "ROUND({0}, {1}, 1)"}
_SHORT: Final = {"postgresql": "CAST({0} AS varchar({1}))", "oracle": "SUBSTR({0}, 1, {1})"}


def add_assigned_values(rewriter: Rewriter) -> None:
    """Cut or round what becomes whole as the source does, and cut texts that are longer than the variable that keeps them."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    is_other = (source in _CUTTING) != (target in _CUTTING)
    is_cut = is_other or (source in _CUTTING_DIGITS and target not in _CUTTING_DIGITS)
    # A function of Oracle gives a number of any digits, whatever it is declared to give.
    for kind, value in returned_values(rewriter):
        if is_cut or target == "oracle":
            _add_number(kind, value, rewriter, is_free=target == "oracle" and source != "oracle")
        if source in _TSQL and target not in (
            "postgresql",
            "sqlserver",
        ):  # for PostgreSQL the writer of routines does it
            _add_text(kind, value, rewriter)
    if source in _ROUNDING_RESULTS and target in _UNSIZED:
        for kind, value in kept_in_parameters(rewriter):
            _add_number(kind, value, rewriter, is_free=True)
    for kind, value in kept_in_variables(rewriter) if is_cut else ():
        _add_number(kind, value, rewriter)
        if source in _TSQL:
            _add_text(kind, value, rewriter)
    for kind, value in kept_in_columns(rewriter) if is_cut else ():
        _add_number(kind, value, rewriter)
    if source in _TSQL and target not in _TSQL:
        _add_replacements(rewriter)


def _add_replacements(rewriter: Rewriter) -> None:
    """Give the second value of ISNULL the type of its first: a day has no time of day, a whole number no fraction."""
    for call in rewriter.subject.all(Call):
        if call.parts != ("ISNULL",) or len(call.arguments) != 2:
            continue
        families = [rewriter.types.family(each) for each in call.arguments]
        second = call.arguments[1]
        if families == [Family.DATE, Family.TIMESTAMP]:
            rewriter.wrap(second, partial(_day, second), rank=_RANK)
        elif families == [Family.INTEGER, Family.NUMBER] and rewriter.target.engine == "oracle":
            rewriter.wrap(second, partial(_whole, second), rank=_RANK)


def _day(value: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(value)
    return f"TRUNC({text})" if rewriter.target.engine == "oracle" else f"CAST({text} AS date)"


def kept_in_parameters(rewriter: Rewriter) -> Iterator[tuple[DataType, Node]]:
    """Yield what is given out through parameters, each with the parameter's type."""
    subject = rewriter.subject
    given = [*selected_values(rewriter), *fetched_values(rewriter)]
    if rewriter.target.engine != "postgresql":  # for which the writer of routines does it
        given += [(each.target, each.value) for each in subject.all(Assign) if each.value.first >= each.target.last]
    kinds = {each.name: data_type(each.type) for each in subject.all(Parameter) if each.mode != "in"}
    for target, value in given:
        if isinstance(target, Name) and target.parts[0] in kinds:
            yield kinds[target.parts[0]], value


def kept_in_variables(rewriter: Rewriter) -> Iterator[tuple[DataType, Node]]:
    """Yield what variables get, each with the variable's type."""
    subject, types = rewriter.subject, rewriter.types
    for assign in subject.all(Assign):
        kind = types.source_type(assign.target)
        if kind is not None and assign.value.first >= assign.target.last:
            yield kind, assign.value
        elif kind is not None and isinstance(assign.value, Operation) and _adds_fraction(kind, assign.value, rewriter):
            rewriter.wrap(assign, _refuse, rank=_RANK)
    for variable in subject.all(Variable):
        if variable.default is not None:
            yield data_type(variable.type), variable.default
    for target, value in (*selected_values(rewriter), *fetched_values(rewriter)):
        kind = types.source_type(target)
        if kind is not None:
            yield kind, value


def selected_values(rewriter: Rewriter) -> Iterator[tuple[Node, Node]]:
    """Yield the variables that queries fill, each with its value."""
    subject = rewriter.subject
    for select in subject.all(Select):
        yield from zip(select.into, (item.value for item in select.items), strict=False)
    for item in subject.all(SelectItem) if rewriter.catalog.engine in _TSQL else ():
        value = item.value
        if isinstance(value, Operation) and value.operators == ["="] and rewriter.words[item.first].startswith("@"):
            yield value.operands[0], value.operands[1]


def fetched_values(rewriter: Rewriter) -> Iterator[tuple[Node, Node]]:
    """Yield the variables that fetches fill, each with the value of the cursor's query."""
    subject = rewriter.subject
    queries = {each.name: each.query for each in subject.all(CursorDeclaration) if each.query is not None}
    for fetch in subject.all(Fetch):
        query = queries.get(fetch.cursor.parts[-1]) if isinstance(fetch.cursor, Name) else None
        block = query.blocks[0] if query is not None and len(query.blocks) == 1 else None
        if isinstance(block, Select):
            yield from zip(fetch.into, (item.value for item in block.items), strict=False)


def _add_number(kind: DataType, value: Node, rewriter: Rewriter, *, is_free: bool = False) -> None:
    """Cut or round a number that becomes whole, or has fewer digits where nothing else takes them off."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if rewriter.types.family(value) is not Family.NUMBER or _stays_whole(value, rewriter):
        return
    kind = _with_scale(kind, source)
    has_scale = len(kind.arguments) > 1 and kind.arguments[1].isdigit()
    if rewriter.types.family_of(kind) is Family.INTEGER:
        is_kept = target == "postgresql" or not is_free  # a type that is whole there as well
        if not _is_money(value, rewriter) and not (is_kept and (source in _CUTTING) == (target in _CUTTING)):
            rewriter.wrap(value, partial(_whole, value), rank=_RANK)
    elif not has_scale or fits(value, kind, rewriter):
        return
    elif source in _CUTTING_DIGITS:
        rewriter.wrap(value, partial(cut_digits, value, kind.arguments[1]), rank=_RANK)
    elif is_free and source in _ROUNDING_RESULTS:
        rewriter.wrap(value, partial(_rounded, value, kind), rank=_RANK)


def _with_scale(kind: DataType, source: str) -> DataType:
    """Return a decimal with the precision and the scale that it has where it says none."""
    if kind.name not in _DECIMALS or source not in _PRECISIONS or len(kind.arguments) > 1:
        return kind
    return DataType(kind.name, (*(kind.arguments or (_PRECISIONS[source],)), "0"))


def _rounded(value: Node, kind: DataType, rewriter: Rewriter) -> str:
    text = rewriter.node(value)
    if rewriter.target.engine == "postgresql":
        return f"CAST({text} AS numeric({', '.join(kind.arguments)}))"
    return f"ROUND({text}, {kind.arguments[1]})"


def _stays_whole(value: Node, rewriter: Rewriter) -> bool:
    """Whether a number is whole: a choice of whole numbers, or made of them where a division cuts its fraction off."""
    if isinstance(value, Paren):
        return _stays_whole(value.inner, rewriter)
    if isinstance(value, Operation) and rewriter.catalog.engine in _CUTTING:
        return all(
            rewriter.types.family(each) is Family.INTEGER or _stays_whole(each, rewriter) for each in value.operands
        )
    return rewriter.types.can_be_whole(value)


def _is_money(value: Node, rewriter: Rewriter) -> bool:
    """Whether a value is an amount, which the T-SQL family rounds."""
    source = rewriter.types.source_type(value)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    return logical is not None and logical.kind in ("money", "small-money")


def fits(value: Node, kind: DataType, rewriter: Rewriter) -> bool:
    """Whether a value surely has no more digits behind the point than a type."""
    source = rewriter.types.source_type(value)
    digits = rewriter.subject.source(value).partition(".")[2] if isinstance(value, Literal) else None
    if digits is not None:
        return len(digits) <= int(kind.arguments[1])
    choices = choices_of(value, rewriter.catalog.engine)
    if choices:
        return all(fits(each, kind, rewriter) for each in choices)
    return source is not None and len(source.arguments) > 1 and int(source.arguments[1]) <= int(kind.arguments[1])


def _adds_fraction(kind: DataType, value: Operation, rewriter: Rewriter) -> bool:
    """Whether a fraction is added to a whole number in place: @n += 1.5."""
    is_whole = rewriter.types.family_of(kind) is Family.INTEGER
    return (
        is_whole
        and rewriter.types.source_type(value.operands[-1]) is not None
        and (rewriter.types.family(value.operands[-1]) is Family.NUMBER)
    )


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a fraction that is added to a whole number in place")


def _whole(value: Node, rewriter: Rewriter) -> str:
    if rewriter.catalog.engine in _CUTTING:
        return cut_digits(value, "0", rewriter)
    return f"ROUND({rewriter.node(value)}{', 0' if rewriter.target.engine == 'sqlserver' else ''})"


def cut_digits(value: Node, digits: str, rewriter: Rewriter) -> str:
    """Write a number without the digits behind so many, as the target cuts them off."""
    text = rewriter.node(value)
    if rewriter.target.engine == "postgresql" and digits != "0" and may_be_float(value, rewriter):
        text = f"CAST({text} AS numeric)"
    return cut_text(text, digits, rewriter.target.engine)


def cut_text(number: str, digits: str, target: str) -> str:
    """Write an expression of the target without the digits behind so many."""
    text = _CUT.get(target, "TRUNCATE({0}, {1})").format(number, digits)
    return text.replace(", 0)", ")") if target in ("postgresql", "oracle") and digits == "0" else text


def _add_text(kind: DataType, value: Node, rewriter: Rewriter) -> None:
    """Cut a text that may be longer than the variable or result that keeps it."""
    is_text = kind.name in _VARYING or kind.name in _FIXED
    size = (kind.arguments or ("1",))[0] if is_text else ""
    if not size.isdigit() or rewriter.types.family(value) is not Family.TEXT:
        return
    length = _length(value, rewriter)
    if length is None or length > int(size):
        short = (
            partial(_filled, value, size) if kind.name in _FIXED and rewriter.target.engine == "postgresql" else None
        )
        rewriter.wrap(value, short or partial(_short, value, size), rank=_RANK)


def _filled(value: Node, size: str, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(value)} AS char({size}))"


def _short(value: Node, size: str, rewriter: Rewriter) -> str:
    text = rewriter.node(value)
    return text if text.endswith(f" AS varchar({size}))") else shortened(text, size, rewriter.target.engine)


def shortened(text: str, size: str, target: str) -> str:
    """Write a text with at most `size` characters; one of any length stays, and so does one whose size is no number."""
    return _SHORT.get(target, "LEFT({0}, {1})").format(text, size) if size.isdigit() else text


def _length(value: Node, rewriter: Rewriter) -> int | None:
    """Return how long a text can be; None where that is not known."""
    if isinstance(value, Paren):
        return _length(value.inner, rewriter)
    if isinstance(value, Literal):
        return len(string_content(rewriter.subject.source(value), rewriter.catalog.engine))
    if isinstance(value, Call) and value.parts in (("LEFT",), ("RIGHT",)) and len(value.arguments) > 1:
        digits = rewriter.subject.source(value.arguments[1])
        return int(digits) if digits.isdigit() else _length(value.arguments[0], rewriter)
    if isinstance(value, Call) and value.parts in (("UPPER",), ("LOWER",), ("LTRIM",), ("RTRIM",), ("TRIM",)):
        return _length(value.arguments[0], rewriter) if value.arguments else None
    if isinstance(value, Call) and value.parts == ("SUBSTRING",) and len(value.arguments) > 2:
        digits = rewriter.subject.source(value.arguments[2])
        return int(digits) if digits.isdigit() else _length(value.arguments[0], rewriter)
    if isinstance(value, Case):
        lengths = [_length(each, rewriter) for each in choices_of(value, rewriter.catalog.engine)]
        return None if None in lengths else max((each for each in lengths if each is not None), default=None)
    if isinstance(value, Operation) and set(value.operators) == {"+"}:
        parts = [_length(each, rewriter) for each in value.operands]
        return None if None in parts else sum(part for part in parts if part is not None)
    source = rewriter.types.source_type(value) if isinstance(value, Name | Cast | Call) else None
    size = source.arguments[0] if source is not None and source.arguments else ""
    return int(size) if size.isdigit() else None
