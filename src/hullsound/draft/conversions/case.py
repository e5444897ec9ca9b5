"""Texts that the source compares without case, by its default collation, where PostgreSQL and Oracle tell case apart.

Comparisons get lower() on both sides, unless an index or key serves a column of them: those are said once for the database.
Sources: Transact-SQL reference, "Collation and Unicode support"; MySQL 8.4 Reference Manual, "Case Sensitivity in String Searches";
Teradata 17.20 SQL Data Types and Literals, "CASESPECIFIC Phrase", in sessions of Teradata mode.
"""

import re
from collections.abc import Callable, Iterator
from functools import partial
from typing import Final

from hullsound.analyze.choices import compared_choices, listed
from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import Family
from hullsound.catalog.model import Object
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.types import logical_type
from hullsound.sql.literals import has_letters
from hullsound.sql.tree import (
    Call,
    Case,
    Comparison,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Query,
    Row,
    Select,
    SelectItem,
    Subquery,
)

from .collations import is_exact
from .implicit import selected

SOURCES: Final = frozenset(("sqlserver", "mysql", "mariadb", "teradata"))
"""Engines whose default collations take no notice of case."""
_TELLING: Final = frozenset(("postgresql", "oracle"))
"""Targets whose usual comparisons tell case apart."""
_PADDING: Final = frozenset(("sqlserver", "teradata"))
"""Engines in which blanks at the end of a text do not count in a comparison."""
_EQUAL: Final = frozenset(("=", "<>", "!=", "<=>", "<", ">", "<=", ">="))
_SEARCHING: Final = {
    "sqlserver": frozenset(("CHARINDEX",)),
    **dict.fromkeys(("mysql", "mariadb"), frozenset(("INSTR", "LOCATE", "POSITION", "FIELD", "FIND_IN_SET", "STRCMP"))),
    "teradata": frozenset(("INDEX", "POSITION")),
}
"""Functions that look for a text in another, or compare texts."""
_FOLDING: Final = {"LOWER": str.lower, "LCASE": str.lower, "UPPER": str.upper, "UCASE": str.upper}
_MYSQL: Final = ("mysql", "mariadb")
_OF_JSON: Final = frozenset(("JSON_UNQUOTE", "JSON_EXTRACT"))
_NEW_TEXTS: Final = frozenset(
    ("MD5", "SHA", "SHA1", "SHA2", "HEX", "TO_BASE64", "CHAR", "BIN", "CONV", "SPACE", "FORMAT")
)
"""Functions whose text has the collation of the session, whatever they are given."""
_LISTED: Final = frozenset(("enum", "set"))
"""Kinds of types whose values are written in one way."""
_DATE: Final = re.compile(r"\s*(\d{4}-?\d\d-?\d\d|\d{1,2}[./ -]\w+[./ -]\d{2,4}|[A-Za-z]{3,9} \d{1,2},? \d{4})\b.*")


def ignores_case(rewriter: Rewriter) -> bool:
    """Whether drafts compare texts without case by themselves."""
    is_crossing = rewriter.catalog.engine in SOURCES and rewriter.target.engine in _TELLING
    return is_crossing and rewriter.target.case == "lower"


def add_case_points(rewriter: Rewriter) -> None:
    """Add lower() around what is compared without case, and look for patterns by ILIKE."""
    if not ignores_case(rewriter):
        return
    for group, is_search in _groups(rewriter):
        values = [value for each in group for value in _values(each)]
        if may_differ(values, rewriter) and (is_search or not any(_is_served(each, rewriter) for each in values)):
            for value in values:
                _fold(value, rewriter, is_padded=not is_search and rewriter.catalog.engine in _PADDING)
    for call in rewriter.subject.all(Call):
        if call.parts == ("NULLIF",) and len(call.arguments) == 2 and may_differ(call.arguments, rewriter):
            rewriter.wrap(call, partial(_null_if_same, call), rank=6)
    for comparison in rewriter.subject.all(Comparison):
        is_exact_test = comparison.operator != "LIKE" or _is_case_specific(comparison, rewriter)
        if is_exact_test or not may_differ(comparison.operands[:2], rewriter):
            continue
        if rewriter.target.engine == "oracle":
            for value in comparison.operands[:2]:
                _fold(value, rewriter, is_padded=False)
        else:
            at = next(
                i
                for i in range(comparison.operands[0].last, comparison.operands[1].first)
                if rewriter.words[i] == "LIKE"
            )
            rewriter.replace(at, at + 1, "ILIKE")


def _groups(rewriter: Rewriter) -> Iterator[tuple[list[Node], bool]]:
    """Yield the values that are compared with each other, and whether a function looks for one in another."""
    items = (
        {item.value for item in rewriter.subject.all(SelectItem)} if rewriter.catalog.engine == "sqlserver" else set()
    )
    for node in rewriter.subject.all(Operation):
        if node in items:  # title = value, or @variable = value
            continue
        if _is_case_specific(node, rewriter):
            continue
        if len(node.operators) == 1 and node.operators[0].partition(" ")[0] in _EQUAL and len(node.operands) == 2:
            yield node.operands, False
    for comparison in rewriter.subject.all(Comparison):
        if comparison.operator in ("IN", "BETWEEN"):
            pairs = _pairs(comparison)
            if pairs:
                yield from ((pair, False) for pair in pairs)
            else:
                yield comparison.operands, False
    for _, subject, tests in compared_choices(rewriter.subject.read):
        yield [subject, *tests], False
    searching = _SEARCHING[rewriter.catalog.engine]
    for call in rewriter.subject.all(Call):
        if len(call.parts) == 1 and call.parts[0] in searching and len(call.arguments) > 1:
            yield (call.arguments if call.parts[0] == "FIELD" else call.arguments[:2]), True


def _pairs(comparison: Comparison) -> list[list[Node]]:
    """Return the values that (a, b) IN (SELECT x, y ...) compares with each other."""
    row, *others = comparison.operands
    subquery = others[0] if len(others) == 1 else None
    if not isinstance(row, Row) or not isinstance(subquery, Subquery) or not isinstance(subquery.query, Query):
        return []
    blocks = subquery.query.blocks
    items = blocks[0].items if len(blocks) == 1 and isinstance(blocks[0], Select) else []
    return (
        [[one, item.value] for one, item in zip(row.items, items, strict=False)] if len(items) == len(row.items) else []
    )


def _is_case_specific(node: Node, rewriter: Rewriter) -> bool:
    """Whether (CASESPECIFIC) of Teradata stands behind a compared value."""
    words = rewriter.words
    if rewriter.catalog.engine != "teradata":
        return False
    return any(
        words[at] in ("CASESPECIFIC", "CS") and words[at - 1] == "("
        for at in range(node.first, min(node.last + 2, len(words)))
    )


def _values(node: Node) -> list[Node]:
    inner = selected(node)
    if inner is not None:
        return [inner]
    return listed(node)


def may_differ(values: list[Node], rewriter: Rewriter) -> bool:
    """Whether all values are texts, and case may make a difference to whether they are equal."""
    texts = [text_value(each, rewriter) for each in values]
    others = [each for each, text in zip(values, texts, strict=True) if text is None]
    written = [text for text in texts if text is not None]
    folds = {folding(each) for each in others}
    if len(folds) == 1 and None not in folds and all(fold(text) == text for fold in folds if fold for text in written):
        return False  # UPPER(a) = 'ABC'
    if len(others) < 2 and not any(map(has_letters, written)):
        return False
    kinds = [rewriter.types.family(each) for each in others]
    is_known = Family.TEXT in kinds or any(has_letters(text) and not _DATE.fullmatch(text) for text in written)
    is_text = all(
        kind is Family.TEXT or _is_null(each) or (not kind and isinstance(each, Name))
        for kind, each in zip(kinds, others, strict=True)
    )
    return is_known and is_text and not any(tells_case(each, rewriter) for each in values)


def _is_null(node: Node) -> bool:
    return isinstance(node, Literal) and node.form == "null"


def folding(node: Node) -> Callable[[str], str] | None:
    while isinstance(node, Paren):
        node = node.inner
    return _FOLDING.get(node.parts[0]) if isinstance(node, Call) and len(node.parts) == 1 else None


def tells_case(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value has a collation that tells case apart, or a type whose values are listed."""
    kind = rewriter.types.source_type(node) if isinstance(node, Name) else None
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return (logical is not None and logical.kind in _LISTED) or has_exact_collation(node, rewriter)


def has_exact_collation(node: Node, rewriter: Rewriter) -> bool:
    """Whether a collation that tells case apart is that of a value: its own, of its column, or of what a function is given.

    Texts of JSON have such a one in MySQL (8.4 Reference Manual, "The JSON Data Type").
    """
    while isinstance(node, Paren):
        node = node.inner
    if any(each.operators == ["COLLATE"] for each in rewriter.subject.read.inside(Operation, node.first, node.last)):
        return True
    if rewriter.words[node.first] == "BINARY":
        return True
    if isinstance(node, Name):
        return any(is_exact(table, node.parts[-1]) for table in tables_of(node, rewriter))
    if rewriter.catalog.engine in _MYSQL and _is_of_json(node):
        return True
    if isinstance(node, Call) and node.parts[-1] in _NEW_TEXTS:
        return False
    is_text = isinstance(node, Call | Case | Operation) and rewriter.types.family(node) is Family.TEXT
    return is_text and any(has_exact_collation(each, rewriter) for each in _text_parts(node, rewriter))


def _is_of_json(node: Node) -> bool:
    if isinstance(node, Call):
        return node.parts[-1] in _OF_JSON
    return isinstance(node, Operation) and not {"->", "->>"}.isdisjoint(node.operators)


def _text_parts(node: Node, rewriter: Rewriter) -> list[Node]:
    if isinstance(node, Operation):
        return node.operands
    parts = choices_of(node, rewriter.catalog.engine) or (node.arguments if isinstance(node, Call) else [])
    return [each for each in parts if rewriter.types.family(each) is Family.TEXT]


def tables_of(name: Name, rewriter: Rewriter) -> list[Object]:
    alias = name.parts[-2] if len(name.parts) > 1 else ""
    column = name.parts[-1]
    tables = rewriter.columns.tables(alias)
    return [table for table in tables if any(each.name.upper() == column.upper() for each in table.columns)]


def _is_served(node: Node, rewriter: Rewriter) -> bool:
    """Whether an index or key of a table begins with a column, which lower() would leave unused."""
    if not isinstance(node, Name):
        return False
    column = node.parts[-1].upper()
    return any(column in rewriter.catalog.leading_columns(table) for table in tables_of(node, rewriter))


def _fold(node: Node, rewriter: Rewriter, *, is_padded: bool) -> None:
    text = text_value(node, rewriter)
    if text is not None:
        folded = _plain(text, is_padded)
        if text != folded:
            rewriter.wrap(node, lambda _: literal(folded), rank=6)
    elif not _is_null(node):
        rewriter.wrap(node, partial(_folded, node, is_padded), rank=6)


def _plain(text: str, is_padded: bool) -> str:
    return text.lower().rstrip(" ") if is_padded else text.lower()


def _folded(node: Node, is_padded: bool, rewriter: Rewriter) -> str:
    """Write a text without case, and without the blanks at its end where they do not count."""
    text = rewriter.node(node)
    if is_padded and not (isinstance(node, Call) and node.parts == ("RTRIM",)):
        text = f"rtrim({text})"
    return text if folding(node) is str.lower and not is_padded else f"lower({text})"


def _null_if_same(call: Call, rewriter: Rewriter) -> str:
    """NULLIF gives its first value as it is."""
    value, other = call.arguments
    is_padded = rewriter.catalog.engine in _PADDING
    constant = text_value(other, rewriter)
    same = literal(_plain(constant, is_padded)) if constant is not None else _folded(other, is_padded, rewriter)
    return f"(CASE WHEN {_folded(value, is_padded, rewriter)} = {same} THEN NULL ELSE {rewriter.node(value)} END)"
