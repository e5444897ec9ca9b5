"""Sees what rows of knowledge say by name: functions, types, clauses, operators, statements and words in a row."""

from collections.abc import Callable, Iterable
from functools import cached_property
from typing import Any, Final, NamedTuple

from hullsound.analyze.subject import Subject
from hullsound.knowledge.model import Construct, ConstructId
from hullsound.sql.lexer import QUOTED
from hullsound.sql.tree import (
    Call,
    Cast,
    Clause,
    Comparison,
    Execute,
    Insert,
    Merge,
    Name,
    Node,
    Operation,
    OtherStatement,
    PlainStatement,
    TableRef,
    TypeName,
)

from .conditions import CONDITIONS, Condition
from .detector import Found
from .detectors.functions import COVERED
from .words import WordSequences

_KEYS: Final = ("function", "package", "procedure", "word", "type", "clause", "operator", "statement", "relation")
_NAMES_KEPT: Final = 50_000
_HEAD: Final = 6
"""Most tokens of a statement that are shown for the whole of it."""


class Hit(NamedTuple):
    """A construct seen at a place."""

    construct: ConstructId
    found: Found


Add = Callable[[Hit], object]
Seen = Callable[[Iterable[Any], Subject, Add], None]


class Table:
    """Names that make constructs seen; a name with * behind it stands for all that begin so, and the longest wins."""

    def __init__(self) -> None:
        self.exact: dict[str, ConstructId] = {}
        self.beginnings: list[tuple[str, ConstructId]] = []
        self._found: dict[str, ConstructId | None] = {}
        """Names looked up before: the same few come again and again."""

    def put(self, name: str, construct: ConstructId) -> None:
        if name.endswith("*") and name[0].isalpha():
            self.beginnings.append((name[:-1], construct))
        else:
            self.exact[name] = construct

    @cached_property
    def get(self) -> Callable[[str], ConstructId | None]:
        """Look a name up; a plain dictionary does where no beginning is given."""
        return self._search if self.beginnings else self.exact.get

    def _search(self, name: str) -> ConstructId | None:
        if name in self._found:
            return self._found[name]
        construct = self.exact.get(name)
        if construct is None:
            fitting = (pair for pair in self.beginnings if name.startswith(pair[0]))
            _, construct = max(fitting, key=lambda pair: len(pair[0]), default=("", None))
        if len(self._found) < _NAMES_KEPT:
            self._found[name] = construct
        return construct


_NILADIC: Final = frozenset(
    """CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER SESSION_USER SYSTEM_USER USER UTC_DATE
    UTC_TIME UTC_TIMESTAMP CURRENT_ROLE CURRENT_SCHEMA CURRENT_CATALOG CURRENT_TIMEZONE SYSDATE""".split()
)
"""Functions of standard SQL and its kin that stand without brackets."""


class Rows:
    """The rows of one engine, by the kind of node that shows them."""

    def __init__(self, constructs: Iterable[Construct], lacking: frozenset[str], engine: str) -> None:
        self.calls_without_brackets = engine in ("oracle", "mariadb")
        self.tables = {key: Table() for key in _KEYS}
        self.sequences = WordSequences()
        self.prefixes = ("TD_",) if engine == "teradata" else ()
        """How names of functions begin that the engine alone has."""
        self.lacking = lacking
        """Functions of the engine that some target lacks and no construct speaks of."""
        self.narrower: dict[tuple[str, str], list[tuple[Condition, ConstructId]]] = {}
        """Conditions under which a name makes another construct seen, by key and name."""
        for construct in constructs:
            for key, table in self.tables.items():
                for name in construct.match.names(key):
                    if construct.match.where:
                        part = CONDITIONS[construct.match.where], construct.id
                        self.narrower.setdefault((key, name), []).append(part)
                    else:
                        table.put(name, construct.id)
            for pattern in construct.match.names("words"):
                self.sequences.put(pattern, construct.id)
        self.by_kind: dict[type[Node], Seen] = {
            Call: self._calls, Cast: self._casts, Name: self._names, TypeName: self._types, Clause: self._clauses,
            TableRef: self._relations, Operation: self._operations, Comparison: self._comparisons,
            Execute: self._procedures, PlainStatement: self._plain, OtherStatement: self._statements,
            Merge: self._statements, Insert: self._statements,
        }  # fmt: skip

    def see_words(self, subject: Subject, add: Add) -> None:
        """Add what words that follow each other show, wherever they stand."""
        for construct, first, last in self.sequences.see(subject.tokens, subject.read.first, subject.read.last):
            add(Hit(construct, Found(subject.tree, first, last)))

    def _calls(self, nodes: Iterable[Call], subject: Subject, add: Add) -> None:
        functions, kinds, declared = self.tables["function"].get, subject.tokens.kinds, subject.scope.declared
        for node in nodes:
            parts = node.parts
            if len(parts) == 1:
                name = parts[0]
                construct = functions(name)
                if (
                    construct is None
                    and name not in self.lacking
                    and not (self.prefixes and name.startswith(self.prefixes))
                ):
                    continue
            else:
                construct = self._package(parts)
                if construct is None:
                    continue
            if parts[0] in declared or kinds[node.first] == QUOTED:
                continue
            if construct:
                part = self._part("function", parts[0], node, subject) if len(parts) == 1 else None
                add(Hit(part or construct, _whole(node)))
            else:
                add(Hit("assess.function-missing", Found(node, node.first, node.last, parts[0])))

    def _part(self, key: str, name: str, node: Node, subject: Subject) -> ConstructId | None:
        """Return the part of a construct whose condition holds for a node; None where none does."""
        for holds, construct in self.narrower.get((key, name), ()):
            if holds(node, subject):
                return construct
        return None

    def _casts(self, nodes: Iterable[Cast], subject: Subject, add: Add) -> None:
        for node in nodes:
            word = subject.words[node.first]
            is_call = node.value.first > node.first  # which value::type is not
            construct = self.tables["function"].get(word) if word != "CAST" and is_call else None
            if construct:
                add(Hit(construct, _whole(node)))

    def _names(self, nodes: Iterable[Name], subject: Subject, add: Add) -> None:
        functions, words, packages = self.tables["function"].get, self.tables["word"].get, self.tables["package"].exact
        kinds, declared = subject.tokens.kinds, subject.scope.declared
        for name in nodes:
            parts = name.parts
            if len(parts) == 1:
                # Most engines call a function by its brackets; a bare name is a column or a word of its own.
                is_called = self.calls_without_brackets or parts[0] in _NILADIC
                construct = (functions(parts[0]) if is_called else None) or words(parts[0])
            else:
                construct = words(parts[-1]) or (
                    self._package(parts) if parts[0] in packages or parts[0] == "SYS" else None
                )
            if construct and parts[0] not in declared and kinds[name.last - 1] != QUOTED:
                add(Hit(construct, _whole(name)))

    def _types(self, nodes: Iterable[TypeName], subject: Subject, add: Add) -> None:
        types = self.tables["type"].get
        for node in nodes:
            construct = types(node.name)
            if construct is None and len(node.reference) > 1 and not node.borrowed:
                construct = types(node.reference[-1]) or self._package(node.reference)
            if construct:
                add(Hit(construct, _whole(node)))

    def _clauses(self, nodes: Iterable[Clause], subject: Subject, add: Add) -> None:
        clauses = self.tables["clause"].get
        for node in nodes:
            construct = clauses(node.name)
            if construct:
                add(Hit(construct, _whole(node)))

    def _relations(self, nodes: Iterable[TableRef], subject: Subject, add: Add) -> None:
        relations = self.tables["relation"].get
        for node in nodes:
            construct = relations(node.parts[-1])
            if construct and node.parts[-1] not in subject.scope.locals:
                add(Hit(construct, _whole(node)))

    def _operations(self, nodes: Iterable[Operation], subject: Subject, add: Add) -> None:
        operators = self.tables["operator"].exact
        for node in nodes if operators else ():
            for operator in node.operators:
                if operator in operators:
                    add(Hit(operators[operator], _whole(node)))

    def _comparisons(self, nodes: Iterable[Comparison], subject: Subject, add: Add) -> None:
        operators = self.tables["operator"].exact
        for node in nodes:
            if node.operator in operators:
                part = self._part("operator", node.operator, node, subject)
                add(Hit(part or operators[node.operator], _whole(node)))

    def _procedures(self, nodes: Iterable[Execute], subject: Subject, add: Add) -> None:
        for node in nodes:
            construct = self.tables["procedure"].get(node.routine[-1]) if node.routine else None
            if construct:
                add(Hit(construct, _whole(node)))

    def _plain(self, nodes: Iterable[PlainStatement], subject: Subject, add: Add) -> None:
        for node in nodes:
            construct = self.tables["statement"].get(node.words)
            if construct:
                add(Hit(construct, _whole(node)))

    def _statements(self, nodes: Iterable[OtherStatement | Merge | Insert], subject: Subject, add: Add) -> None:
        statements = self.tables["statement"].get
        for node in nodes:
            words = node.words if isinstance(node, OtherStatement) else node.kind
            construct = (
                self._part("statement", words, node, subject)
                or statements(words)
                or statements(words.replace(" public ", " "))
            )
            if construct:
                add(Hit(construct, Found(node, node.first, min(node.first + _HEAD, node.last))))

    def _package(self, parts: tuple[str, ...]) -> ConstructId | None:
        """Return the construct of a supplied package, unless its member has one of its own."""
        start = 1 if parts[0] == "SYS" and len(parts) > 2 else 0
        construct = self.tables["package"].get(parts[start])
        return None if construct is None or parts[start : start + 2] in COVERED else construct


def _whole(node: Node) -> Found:
    return Found(node, node.first, node.last)
