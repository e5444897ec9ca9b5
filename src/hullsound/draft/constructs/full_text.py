"""Searches for words: CONTAINS and FREETEXT of SQL Server, MATCH of MySQL, by text search of PostgreSQL.

Words are compared as they are spelled, but for case (configuration `simple`, as the indexes that are drafted have it).
Sources: Transact-SQL reference, "CONTAINS"; MySQL 8.4 Reference Manual, "Full-Text Search Functions"; PostgreSQL 18
documentation, "Controlling Text Search".
"""

import re
from typing import Final

from hullsound.analyze.choices import listed
from hullsound.catalog.model import Object
from hullsound.draft.conversions.truth import stands_as_condition
from hullsound.draft.edits.names import Names, literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Comparison, Name, Node, Paren, Star

from . import fixer

_PIECE: Final = re.compile(
    r"\s*(?:(FORMSOF|ISABOUT)\s*\(([^()]*(?:\([^()]*\)[^()]*)*)\)|\"([^\"]*)\"|(AND NOT\b|AND\b|OR\b|NEAR\b|&!|[&|~()])"
    r"|([^\s\"&|~()!]+))",
    re.IGNORECASE,
)
"""One piece of a search condition: FORMSOF (...), a phrase, an operator, or a word."""
_OPERATORS: Final = {"AND": "&", "&": "&", "OR": "|", "|": "|", "AND NOT": "& !", "&!": "& !", "NEAR": "&", "~": "&"}
_MARKED: Final = re.compile(r"([+-]?)(?:\"([^\"]*)\"|([^\s\"()+<>~@-][^\s\"()<>~@]*))")
"""One part of a search in MySQL's Boolean mode."""


@fixer("contains_words")
def fix_contains_words(place: Found, rewriter: Rewriter) -> str:
    """Write CONTAINS, FREETEXT and the tables of ranks that go with them."""
    call = place.node
    if not isinstance(call, Call) or len(call.arguments) < 2:
        raise CannotDraft("a search for words in a form that is not known")
    name = call.parts[-1]
    if name in ("CONTAINS", "FREETEXT"):
        condition = call.arguments[1]
        search = _condition(condition, rewriter) if name == "CONTAINS" else _any_word(condition, rewriter)
        return f"({_vector(call.arguments[0], rewriter)} @@ {search})"
    if name not in ("CONTAINSTABLE", "FREETEXTTABLE"):
        raise CannotDraft("a search by meaning")
    return _ranks(call, rewriter)


def _ranks(call: Call, rewriter: Rewriter) -> str:
    """Write a table of keys and ranks."""
    table = _table(call.arguments[0], rewriter)
    key = _key(table, rewriter)
    columns = _columns(call.arguments[1], table)
    condition = call.arguments[2]
    is_plain = call.parts[-1] == "FREETEXTTABLE"
    search = _any_word(condition, rewriter) if is_plain else _condition(condition, rewriter)
    write = rewriter.names.write
    vector = words_expression(columns, rewriter.names)
    limit = ""
    if len(call.arguments) > 3:
        limit = f" ORDER BY 2 DESC LIMIT {rewriter.node(call.arguments[3])}"
    return (
        f"(SELECT {write(key)} AS key, CAST(1000 * ts_rank({vector}, {search}) AS integer) AS rank"
        f" FROM {rewriter.names.qualified(table.schema, table.name)} WHERE {vector} @@ {search}{limit})"
    )


def _table(node: Node, rewriter: Rewriter) -> Object:
    table = rewriter.table(node.parts) if isinstance(node, Name) else None
    if table is None:
        raise CannotDraft("a search in a table that is not known")
    return table


def _key(table: Object, rewriter: Rewriter) -> str:
    keys = [
        each.constraint.columns
        for each in rewriter.catalog.belonging(table.id)
        if each.constraint is not None and each.constraint.form == "primary key"
    ]
    if not keys or len(keys[0]) != 1:
        raise CannotDraft("ranks of a table without a primary key of one column")
    return keys[0][0]


def _vector(columns: Node, rewriter: Rewriter) -> str:
    """Write the words of the columns that are searched."""
    while isinstance(columns, Paren):
        columns = columns.inner
    if isinstance(columns, Star):
        alias = columns.parts[0] if columns.parts else ""
        tables = [each for each in rewriter.columns.tables(alias) if _indexed(each)]
        if len(tables) != 1:
            raise CannotDraft("a search in all columns of a table that is not clear")
        head = f"{rewriter.names.write(alias)}." if alias else ""
        return words_expression(_indexed(tables[0]), rewriter.names, head)
    named = listed(columns)
    if not all(isinstance(each, Name) for each in named):
        raise CannotDraft("a search in something that is no column")
    joined = " || ' ' || ".join(f"COALESCE({rewriter.node(each)}, '')" for each in named)
    return f"to_tsvector('simple', {joined})"


def _columns(node: Node, table: Object) -> list[str]:
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Star):
        return _indexed(table)
    named = listed(node)
    return [each.parts[-1] for each in named if isinstance(each, Name)]


def _indexed(table: Object) -> list[str]:
    """Return the columns that hold text: which of them are indexed is not always told."""
    return [each.name for each in table.columns if each.type.name.split("(")[0] in _TEXTS]


_TEXTS: Final = frozenset(("CHAR", "VARCHAR", "NCHAR", "NVARCHAR", "TEXT", "NTEXT"))


def _condition(node: Node, rewriter: Rewriter) -> str:
    text = text_value(node, rewriter)
    if text is None:
        # What the variable holds is known only then: quotes, OR and words are read much alike.
        return f"websearch_to_tsquery('simple', {rewriter.node(node)})"
    return f"to_tsquery('simple', {literal(search_of(text))})"


def search_of(text: str) -> str:
    """Turn a search condition into the text of a tsquery. Raises CannotDraft for one that cannot be read."""
    pieces: list[str] = []
    at = 0
    while at < len(text.rstrip()):
        match = _PIECE.match(text, at)
        if match is None:
            raise CannotDraft("a search condition in a form that is not known")
        at = match.end()
        form, inside, phrase, operator, word = match.groups()
        if operator in ("(", ")"):
            pieces.append(operator)
        elif operator:
            pieces.append(_OPERATORS[" ".join(operator.upper().split())])
        elif form:
            words = re.findall(r"\"[^\"]*\"|[^\s,()\"]+", re.sub(r"(?i)^\s*(INFLECTIONAL|THESAURUS)\s*,", "", inside))
            kept = [each.strip('"') for each in words if not re.fullmatch(r"(?i)weight|[\d.]+", each)]
            pieces.append(f"({' | '.join(map(_words, kept))})")
        else:
            pieces.append(_words(phrase if phrase is not None else word))
    return " ".join(pieces)


def _words(phrase: str) -> str:
    """Write a word or phrase, whose words follow one another; * at its end stands for any ending."""
    is_beginning = phrase.rstrip().endswith("*")
    words = re.findall(r"\w+", phrase)
    if not words:
        raise CannotDraft("a search condition without words")
    text = " <-> ".join(f"'{word}'" for word in words) + (":*" if is_beginning else "")
    return f"({text})" if len(words) > 1 else text


def _any_word(node: Node, rewriter: Rewriter) -> str:
    """Write a search that any of the words meets."""
    return f"CAST(replace(CAST(plainto_tsquery('simple', {rewriter.node(node)}) AS text), '&', '|') AS tsquery)"


# --- MySQL ---


@fixer("match_words")
def fix_match_words(place: Found, rewriter: Rewriter) -> str:
    """Write MATCH ... AGAINST: a condition where one is asked for, a rank elsewhere."""
    node = next((n for n in rewriter.subject.all(Comparison) if n.operator == "MATCH" and n.first == place.first), None)
    if node is None:
        raise CannotDraft("a search for words in a form that is not known")
    words = rewriter.words[node.operands[1].last : node.last]
    if "EXPANSION" in words:
        raise CannotDraft("a search that widens itself")
    text = text_value(node.operands[1], rewriter)
    if "BOOLEAN" not in words:
        search = _any_word(node.operands[1], rewriter)
    elif text is not None:
        search = f"to_tsquery('simple', {literal(marked_search(text))})"
    else:
        raise CannotDraft("a search in Boolean mode for what is known only then")
    vector = _vector(node.operands[0], rewriter)
    if stands_as_condition(node, rewriter):
        return f"({vector} @@ {search})"
    return f"(CASE WHEN {vector} @@ {search} THEN ts_rank({vector}, {search}) ELSE 0 END)"


def marked_search(text: str) -> str:
    """Turn a search in Boolean mode into the text of a tsquery: + must be there, - must not, others may.

    Raises CannotDraft for brackets and weights.
    """
    wanted: list[str] = []
    unwanted: list[str] = []
    optional: list[str] = []
    rest = _MARKED.sub("", text)
    if rest.strip() or not text.strip():
        raise CannotDraft("a search in Boolean mode with brackets or weights")
    for sign, phrase, word in _MARKED.findall(text):
        {"+": wanted, "-": unwanted}.get(sign, optional).append(_words(phrase or word))
    if not wanted and not optional:
        raise CannotDraft("a search for what is not there")
    found = wanted or [f"({' | '.join(optional)})" if len(optional) > 1 else optional[0]]
    return " & ".join([*found, *(f"!{each}" for each in unwanted)])


def words_expression(columns: list[str], names: Names, head: str = "") -> str:
    """Write the words of some columns as a text search has them; `head` stands before each column."""
    text = " || ' ' || ".join(f"COALESCE({head}{names.write(each)}, '')" for each in columns)
    return f"to_tsvector('simple', {text})"
