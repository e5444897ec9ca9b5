"""Text constants: what they hold in the source, and how the target writes them."""

import re
from functools import partial
from typing import Final

from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import NUMBER, QUOTED, STRING
from hullsound.sql.literals import bytes_content, string_content
from hullsound.sql.tree import Literal, Node

from .rewrite import CannotDraft, Point, Rewriter


def text_value(node: Node, rewriter: Rewriter) -> str | None:
    """Return the content of a text constant; None for anything else."""
    if isinstance(node, Literal) and node.form == "string" and node.last == node.first + 1:
        return string_content(rewriter.subject.source(node), rewriter.catalog.engine)
    return None


def pattern_as_regex(pattern: str) -> str:
    """Turn a pattern of the T-SQL family (% _ and [classes]) into a regular expression, without its anchors."""
    pieces = []
    for piece in re.findall(r"\[\^?[^\]]+\]|[\s\S]", pattern):
        plain = {"%": ".*", "_": "."}.get(piece, re.sub(r"([^\w\s])", r"\\\1", piece))
        pieces.append(piece if len(piece) > 1 else plain)
    return "".join(pieces)


def quote_name(name: str, engine: str) -> str:
    """Quote a stored name as its own engine would."""
    if engine in ("mysql", "mariadb"):
        return "`" + name.replace("`", "``") + "`"
    if engine in ("sqlserver", "ase"):
        return "[" + name.replace("]", "]]") + "]"
    return '"' + name.replace('"', '""') + '"'


def name_content(source: str) -> str:
    """Return what stands between the quotes of a name."""
    closing = source[-1]
    return source[1:-1].replace(closing * 2, closing)


_WRITTEN_ANEW: Final = frozenset((STRING, QUOTED, NUMBER))


def add_lexical_points(rewriter: Rewriter) -> None:
    """Write quoted names, text constants and bytes as the target does."""
    engine, tokens = rewriter.catalog.engine, rewriter.tokens
    dialect = load_dialect(engine)
    ignores_case = dialect.name_case.name == "INSENSITIVE"
    previous_string = False
    first = rewriter.subject.read.first
    for at, kind in enumerate(tokens.kinds[first : rewriter.subject.read.last], start=first):
        if kind not in _WRITTEN_ANEW:
            previous_string = False
            continue
        if kind == STRING:
            source = tokens.source(at, at + 1)
            if source[:7].upper() == "_BINARY":
                rewriter.add(Point(at, at + 1, partial(_binary, source)))
                continue
            new = _constant(source, rewriter)
            # Texts side by side are one where the source says so; here they need an operator.
            if previous_string and dialect.adjacent_strings and rewriter.target.engine == "postgresql":
                new = f"|| {new}"
            if new != source:
                rewriter.replace(at, at + 1, new)
        elif kind == QUOTED:
            stored = name_content(tokens.source(at, at + 1))
            rewriter.replace(at, at + 1, rewriter.names.write(stored.upper() if ignores_case else stored))
        elif kind == NUMBER and rewriter.words[at].startswith("$") and engine in ("sqlserver", "ase"):
            rewriter.replace(at, at + 1, tokens.source(at, at + 1)[1:])
        elif kind == NUMBER and _is_bytes(rewriter.words[at], rewriter):
            rewriter.replace(at, at + 1, f"'\\x{tokens.source(at, at + 1)[2:]}'::bytea")
        previous_string = kind == STRING


def _is_bytes(word: str, rewriter: Rewriter) -> bool:
    """Whether 0x... stands for bytes, which PostgreSQL writes otherwise; in SQLite it is a number."""
    return word.startswith("0X") and rewriter.catalog.engine != "sqlite" and rewriter.target.engine == "postgresql"


def _constant(source: str, rewriter: Rewriter) -> str:
    if source[0] == "'" and "\\" not in source and source.count("'") == 2:
        return source
    if source[:1] in ("q", "Q") or source[:2].upper() == "NQ":
        return source  # a fixer of its own writes it
    prefix = source[: source.index("'")].upper() if source[0] != '"' and "'" in source else ""
    if prefix == "X" and rewriter.target.engine == "postgresql":
        return f"'\\x{source[2:-1]}'::bytea"
    if prefix in ("B", "U&", "X") or (prefix == "E" and rewriter.target.engine == "postgresql"):
        return source
    return rewriter.names.text(string_content(source, rewriter.catalog.engine))


def _binary(source: str, rewriter: Rewriter) -> str:
    """Write _binary 'text' of MySQL as bytes. Raises CannotDraft for other signs than those of ASCII."""
    content = bytes_content(source, rewriter.catalog.engine)
    if content is None or rewriter.target.engine != "postgresql":
        raise CannotDraft("bytes that are written as a text")
    return f"'\\x{content.hex()}'::bytea"
