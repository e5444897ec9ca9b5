"""Programs as scripts: their SQL at the lines where it stands, with values of the program as binds of the engine."""

import hashlib
import re
from functools import partial
from pathlib import Path
from typing import Final, NamedTuple

from hullsound.errors import SourceError
from hullsound.survey.files import ScriptFile, decode

from . import basic
from .elsewhere import Elsewhere
from .embedded import find_embedded, find_in_heredocs, has_embedded
from .keyed import find_in_json, find_in_properties, find_in_xml, find_in_yaml
from .languages import GRAMMARS, SHELL
from .model import FoundSql, Piece
from .settings import Setting, find_settings
from .strings import find_in_source

EMBEDDED: Final = frozenset((".pc", ".sqc", ".sqx", ".ec", ".cob", ".cbl", ".cpy"))
_MAY_EMBED: Final = frozenset((".c", ".h", ".cpp", ".cc", ".cxx", ".hpp"))
"""Read as EXEC SQL where there is some, else by their strings."""
_COBOL: Final = frozenset((".cob", ".cbl", ".cpy"))
_XML: Final = frozenset((".xml", ".jrxml", ".rptdesign", ".hbm"))
_CONFIGURATION: Final = frozenset((".ini", ".cfg", ".conf", ".config", ".env", ".toml", ".gradle"))
"""Files that hold settings rather than SQL."""
_MOST_BYTES: Final = 20_000_000
_PASSED_OVER: Final = frozenset(
    (".git", "node_modules", ".venv", "venv", "target", "build", "dist", "__pycache__", ".idea", "vendor")
)
"""Folders that hold what others wrote, or what a build makes."""
SPLICED: Final = "spliced_text"
"""Name that stands where a program puts a name into a text."""
_BINDS: Final = {
    "oracle": ":b", "postgresql": "$1", "mysql": "?", "mariadb": "?", "sqlserver": "@b", "ase": "@b", "db2": "?", "sqlite": "?",
    "teradata": "?",
}  # fmt: skip
_PLACEHOLDER: Final = re.compile(
    r"""('(?:[^']|'')*'|--[^\n]*|/\*.*?\*/)|(\#\{[^}]*\}|\$\{[^}]*\}|%\(\w+\)s|%[sdif]\b|(?<![:\w]):[A-Za-z_][\w\-]*|\$\d+|(?<![\w?])\?(?![?|&])"""
    r"""|@[pP]\d+\b|\{\d+\})""",
    re.DOTALL,
)
"""Text and remarks that are kept, and what stands for a value in some framework."""
_WANTS_NAME: Final = re.compile(
    r"(?is)\b(?:FROM|JOIN|INTO|UPDATE|TABLE|TRUNCATE|BY|SELECT|CALL|EXEC|EXECUTE|DELETE|VIEW|INDEX|ADD|COLUMN|CHANGE|MODIFY"
    r"|CONSTRAINT|KEY|AS|IF\s+(?:NOT\s+)?EXISTS|(?:FROM|JOIN|INTO\s+\S+)\s*\()\s*$|\.\s*$|\w$"
)
"""What stands before a name, or the rest of one, rather than before a value."""
_ENDS_VALUE: Final = re.compile(
    r"(?is)(?:[)'\"`\]?]|\b(?!(?:WHERE|AND|OR|NOT|IN|LIKE|BETWEEN|SET|VALUES?|THEN|ELSE|WHEN|CASE|ON|HAVING|LIMIT|OFFSET|RETURN"
    r"|DISTINCT|ALL|IS|INTERVAL|ESCAPE|TOP|DEFAULT|CHECK|REGEXP|RLIKE|ANY|SOME|EXISTS)\b)\w+)\s*$"
)
"""A value or a name that ends: what is put in behind it is a clause, and no value."""
_CALL: Final = re.compile(r"(?is)\A\s*\{\s*(?:\?\s*=\s*)?call\s+(.*?)\}\s*\Z")
_SELECTS: Final = re.compile(r"(?i)\bSELECT\s*$")
_OPENS_LIST: Final = re.compile(r"(?i)\s*(?:\*|(?!FROM\b|AS\b)[A-Za-z_\"`\[])")
"""What follows an option of SELECT, rather than a column."""
_IN_CONDITION: Final = re.compile(r"(?is)\b(?:WHERE|ON|HAVING)\b(?!.*\b(?:GROUP|ORDER|LIMIT|UNION)\b)")
_OPENS_CONDITION: Final = re.compile(
    r"(?i)\s*(?:NOT\s+)?\(?\s*(?!(?:AND|OR|GROUP|ORDER|LIMIT|HAVING|UNION|FOR|FETCH|OFFSET|WINDOW|RETURNING|ON|INNER|LEFT|RIGHT|JOIN"
    r"|WHERE|COLLATE|IS|IN|LIKE|BETWEEN|SELECT|THEN|ELSE|END|AS|WITH|MINUS|EXCEPT|INTERSECT)\b)[A-Za-z_]"
)


class Spliced(NamedTuple):
    """A place where a program puts text into SQL at run time."""

    line: int
    column: int
    what: str


class Text(NamedTuple):
    """One text of SQL in a program, with ? for what the program puts in."""

    line: int
    text: str


class Program(NamedTuple):
    """One program that holds SQL: its texts one by one, where text is spliced in, and scripts of all that."""

    name: str
    scripts: list[ScriptFile]
    """More than one where a block ends in lines that the program has not, so that places stay."""
    texts: list[Text]
    spliced: list[Spliced]


class Programs(NamedTuple):
    """What was found in a folder of programs."""

    programs: list[Program]
    settings: list[tuple[str, Setting]]
    """(file, place) where the engine of the source is named."""
    files: int
    """Files that were looked into."""
    lines: int
    unread: list[tuple[str, str]]
    """(file, reason) of files that could not be read."""


def read_programs(folder: Path, engine: str) -> Programs:
    """Look for SQL in all programs below a folder, or in one file. Raises SourceError where there is none of them."""
    if not folder.exists():
        raise SourceError("no such file or folder", where=str(folder))
    root = folder if folder.is_dir() else folder.parent
    paths = sorted(_program_paths(folder)) if folder.is_dir() else [folder]
    elsewhere = Elsewhere(paths)
    found: list[Program] = []
    settings: list[tuple[str, Setting]] = []
    unread: list[tuple[str, str]] = []
    files = lines = 0
    for path in paths:
        name = path.relative_to(root).as_posix()
        try:
            if path.stat().st_size > _MOST_BYTES:
                unread.append((name, "larger than 20 MB"))
                continue
            text = decode(path.read_bytes(), name)
        except (OSError, SourceError) as error:
            unread.append((name, error.what if isinstance(error, SourceError) else str(error.strerror)))
            continue
        files += 1
        lines += text.count("\n") + 1
        settings += [(name, each) for each in find_settings(text, engine)]
        sql = find_sql(text, path.suffix.lower(), elsewhere)
        if sql is None:
            unread.append((name, f"the grammar of {path.suffix} files is not installed"))
        elif sql:
            found.append(as_script(name, sql, engine))
    return Programs(found, settings, files, lines, unread)


def _program_paths(folder: Path) -> list[Path]:
    known = (
        frozenset(GRAMMARS)
        | EMBEDDED
        | basic.SUFFIXES
        | _XML
        | {".properties", ".yaml", ".yml", ".json"}
        | _CONFIGURATION
    )
    return [
        path
        for path in folder.rglob("*")
        if path.suffix.lower() in known
        and path.is_file()
        and not _PASSED_OVER.intersection(path.relative_to(folder).parts[:-1])
    ]


def find_sql(text: str, suffix: str, elsewhere: Elsewhere | None = None) -> list[FoundSql] | None:
    """Return the SQL in a text of a language, by the ending of its file; None where its grammar is not installed.

    `elsewhere` holds the constants of the other files of its application.
    """
    if suffix in EMBEDDED or (suffix in _MAY_EMBED and has_embedded(text)):
        return find_embedded(text, is_cobol=suffix in _COBOL)
    if suffix in SHELL:
        return _find_in_shell(text, suffix)
    if suffix in GRAMMARS:
        return find_in_source(text, suffix, partial(elsewhere.constant, suffix) if elsewhere else lambda *_: None)
    if suffix in basic.SUFFIXES:
        return basic.find_in_basic(text)
    if suffix in _XML:
        return find_in_xml(text)
    finders = {".properties": find_in_properties, ".yaml": find_in_yaml, ".yml": find_in_yaml, ".json": find_in_json}
    return finders[suffix](text) if suffix in finders else []


def _find_in_shell(text: str, suffix: str) -> list[FoundSql] | None:
    """Return what stands in heredocs, statement by statement, and what stands in strings elsewhere."""
    strings = find_in_source(text, suffix)
    if strings is None:
        return None
    found, covered = find_in_heredocs(text)
    found += [each for each in strings if each.line not in covered]
    return sorted(found, key=lambda each: each.line)


def as_script(name: str, found: list[FoundSql], engine: str) -> Program:
    """Put the texts of a program one behind the other, each at its line and, where there is room, at its column."""
    writer = _Writer(engine)
    for each in found:
        writer.add(each)
    scripts = [ScriptFile(name, text, hashlib.sha256(text.encode()).hexdigest()) for text in writer.scripts()]
    texts = [Text(each.line, each.text) for each in found]
    return Program(name, scripts, texts, writer.spliced)


class _Writer:
    def __init__(self, engine: str) -> None:
        self.bind = _BINDS.get(engine, "?")
        self.engine = engine
        self.parts: list[str] = []
        self.line = self.column = 1
        self.begin = 0
        """Where the text that is being written begins in `parts`."""
        self.quotes = dict.fromkeys("'`", 0)
        """How many of each it has so far: an odd number opens a string or a name."""
        self.spliced: list[Spliced] = []
        self.ended: list[str] = []

    def scripts(self) -> list[str]:
        return [text for text in (*self.ended, "".join(self.parts)) if text.strip()]

    def add(self, found: FoundSql) -> None:
        whole = found.text
        self.begin = len(self.parts)
        self.quotes = dict.fromkeys("'`", 0)
        for number, piece in enumerate(found.pieces):
            if not number or not self._goes_on(piece):
                self._go_to(piece.line, piece.column)
            if piece.hole:
                after = "".join(each.text for each in found.pieces[number + 1 : number + 2])
                self._splice(piece, after)
            else:
                self._write(piece.text)
        call = _CALL.match(whole)
        if call is not None:
            self._rewrite_call(found)
        self._end(whole)

    def _goes_on(self, piece: Piece) -> bool:
        """Whether a piece goes on with the word or the quoted text that was written last, so that nothing may come between."""
        if any(count % 2 for count in self.quotes.values()):
            return True
        last = next((part[-1] for part in reversed(self.parts) if part), " ")
        return (
            bool(piece.text) and (last.isalnum() or last == "_") and (piece.text[0].isalnum() or piece.text[0] == "_")
        )

    def _go_to(self, line: int, column: int) -> None:
        """Go on at a place of the program, unless what was written is there or beyond already."""
        if line > self.line:
            self._raw("\n" * (line - self.line))
        if line == self.line and column > self.column:
            self._raw(" " * (column - self.column))

    def _raw(self, text: str) -> None:
        self.parts.append(text)
        for sign in self.quotes:
            self.quotes[sign] += text.count(sign)
        lines = text.count("\n")
        self.line += lines
        self.column = len(text) - text.rfind("\n") if lines else self.column + len(text)

    def _write(self, text: str) -> None:
        self._raw(_PLACEHOLDER.sub(self._as_bind, text))

    def _as_bind(self, match: re.Match[str]) -> str:
        """Write a placeholder as the bind of the engine, as long as it was, so that places stay."""
        if match[1] is not None:
            return match[1]
        written = match[2]
        if written.startswith("${"):
            ahead = match.string[: match.start()]  # is written only when all placeholders of the piece are
            lines = ahead.count("\n")
            column = len(ahead) - ahead.rfind("\n") if lines else self.column + len(ahead)
            self.spliced.append(Spliced(self.line + lines, column, written))
            before = "".join(self.parts[-3:]) + match.string[: match.start()]
            stands = SPLICED if _WANTS_NAME.search(before) else self.bind
            return stands.ljust(len(written))
        return self.bind.ljust(len(written))

    def _splice(self, piece: Piece, after: str) -> None:
        """Write what can be read where text is put in: a name, a value, a sign between conditions, or nothing for a clause."""
        self.spliced.append(Spliced(piece.line, piece.column, piece.hole))
        before = "".join(self.parts[max(self.begin, len(self.parts) - 6) :])
        if self.quotes["'"] % 2:
            self._raw("x")
        elif self.quotes["`"] % 2:
            self._raw(SPLICED)
        elif _SELECTS.search(before) and _OPENS_LIST.match(after):
            return
        elif _WANTS_NAME.search(before):
            self._raw(SPLICED)
        elif not _ENDS_VALUE.search(before):
            is_apart = not before or before[-1:].isspace() or before[-1:] in "(=,<>+-*/|"
            self._raw(self.bind if is_apart else f" {self.bind}")
        elif _IN_CONDITION.search(before) and _OPENS_CONDITION.match(after):
            self._raw(" AND ")

    def _rewrite_call(self, found: FoundSql) -> None:
        """Write {call p(?)} as a CALL, which the readers know."""
        written = "".join(self.parts)
        begin = written.rfind("{")
        head, body = written[:begin], written[begin:]
        plain = re.sub(r"(?i)\{\s*(?:\S+\s*=\s*)?call\b", lambda m: "CALL".ljust(len(m[0])), body, count=1).replace(
            "}", " "
        )
        self.parts = [head, plain]

    def _end(self, text: str) -> None:
        is_block = bool(re.match(r"(?is)\s*(?:BEGIN|DECLARE)\b", text))
        if is_block and self.engine == "oracle":
            end = "\n/\n" if text.rstrip().endswith(";") else ";\n/\n"
            self.ended.append("".join(self.parts) + end)
            self.parts = ["\n" * (self.line - 1), " " * (self.column - 1)]
        elif not text.rstrip().endswith(";"):
            self._raw(";")
