"""Runs all constructs of an engine over statements: rows of knowledge first, then the named predicates."""

from collections.abc import Iterator
from functools import cache
from importlib import import_module
from typing import Final, NamedTuple

from hullsound.catalog.model import Sighting
from hullsound.catalog.references import KnownNames, Scope, Use
from hullsound.errors import KnowledgeError
from hullsound.knowledge.load import load_constructs, load_engine, load_source_types
from hullsound.knowledge.model import ConstructId
from hullsound.knowledge.targets import functions_everywhere
from hullsound.sql.lexer import QUOTED, Tokens
from hullsound.sql.positions import Positions, excerpt
from hullsound.sql.script import ReadStatement
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
    Statement,
    TableRef,
    TypeName,
)

from .detectors.functions import COVERED
from .subject import REGISTRY, Detector, Found, Predicate, Subject
from .words import WordSequences

_DETECTOR_MODULES: Final = (
    "queries",
    "functions",
    "definitions",
    "code",
    "names",
    "shared",
    "tsql",
    "meaning",
    "mysql",
)


class Hit(NamedTuple):
    """A construct seen at a place."""

    construct: ConstructId
    found: Found


class Table:
    """Names that make constructs seen; a name with * behind it stands for all that begin so."""

    def __init__(self) -> None:
        self.exact: dict[str, ConstructId] = {}
        self.beginnings: list[tuple[str, ConstructId]] = []

    def put(self, name: str, construct: ConstructId) -> None:
        if name.endswith("*") and name[0].isalpha():
            self.beginnings.append((name[:-1], construct))
        else:
            self.exact[name] = construct

    def get(self, name: str) -> ConstructId | None:
        construct = self.exact.get(name)
        if construct is None and self.beginnings:
            return next((c for beginning, c in self.beginnings if name.startswith(beginning)), None)
        return construct


class Seer:
    """The constructs of one engine, sorted by what makes them seen."""

    def __init__(self, engine: str) -> None:
        self.engine = engine
        self.tables = {
            key: Table()
            for key in (
                "function",
                "package",
                "procedure",
                "word",
                "type",
                "clause",
                "operator",
                "statement",
                "relation",
            )
        }
        self.sequences = WordSequences()
        self.detectors: list[tuple[ConstructId, Detector]] = []
        self.unsaid = load_engine(engine).function_names - functions_everywhere()
        """Functions of the engine that some target lacks."""
        for module in _DETECTOR_MODULES:
            import_module(f".detectors.{module}", __package__)
        missing: list[str] = []
        for construct in load_constructs(engine).values():
            for key, table in self.tables.items():
                for name in construct.match.names(key):
                    table.put(name, construct.id)
            for pattern in construct.match.names("words"):
                self.sequences.put(pattern, construct.id)
            if construct.match.detector:
                detector = REGISTRY.get(construct.match.detector)
                if detector is None:
                    missing.append(f"{construct.file}: [{construct.id}]: no detector {construct.match.detector!r}")
                else:
                    self.detectors.append((construct.id, detector))
        if missing:
            raise KnowledgeError("\n".join(missing))
        self._by_kind: dict[type[Node], list[tuple[ConstructId, Detector]]] = {}
        self._active_for: Tokens | None = None
        self._active_now: dict[type[Node], list[tuple[ConstructId, Predicate]]] = {}
        self._active_sets: dict[frozenset[str], dict[type[Node], list[tuple[ConstructId, Predicate]]]] = {}
        self._by_call: dict[str, list[tuple[ConstructId, Detector]]] = {}
        for entry in self.detectors:
            for name in entry[1].names:
                self._by_call.setdefault(name, []).append(entry)
            for kind in entry[1].kinds if not entry[1].names else ():
                self._by_kind.setdefault(kind, []).append(entry)

    def see(self, read: ReadStatement, scope: Scope) -> list[Hit]:
        """Return every construct in a statement, in no particular order."""
        subject = Subject(read, scope, self.engine)
        hits = list(self._see_rows(subject))
        add = hits.append
        by_call = self._by_call
        for call in subject.all(Call):
            for construct, detector in by_call.get(call.parts[-1], ()):
                for place in detector.predicate(call, subject):
                    add(Hit(construct, place))
        for kind, entries in self._active(read.tokens).items():
            nodes = [read.tree] if kind is Statement else subject.by_kind.get(kind)
            if nodes:
                for construct, predicate in entries:
                    for node in nodes:
                        for place in predicate(node, subject):
                            add(Hit(construct, place))
        return hits

    def _active(self, tokens: Tokens) -> dict[type[Node], list[tuple[ConstructId, Predicate]]]:
        """Return the predicates by kind of node that can hold anywhere in a text; worked out once for all its statements."""
        if self._active_for is not tokens:
            upper = tokens.upper
            able = frozenset(e.name for _, e in self.detectors if not e.texts or any(t in upper for t in e.texts))
            self._active_for = tokens
            known = self._active_sets.get(able)
            self._active_now = self._active_sets[able] = known if known is not None else self._choose(able)
        return self._active_now

    def _choose(self, able: frozenset[str]) -> dict[type[Node], list[tuple[ConstructId, Predicate]]]:
        chosen = {
            kind: [(construct, entry.predicate) for construct, entry in entries if entry.name in able]
            for kind, entries in self._by_kind.items()
        }
        return {kind: entries for kind, entries in chosen.items() if entries}

    def _see_rows(self, subject: Subject) -> Iterator[Hit]:
        yield from self._see_calls(subject)
        tables, declared = self.tables, subject.scope.declared
        kinds = subject.tokens.kinds
        functions, words, packages = tables["function"], tables["word"], tables["package"]
        for name in subject.all(Name):
            parts = name.parts
            if len(parts) == 1:
                construct = functions.get(parts[0]) or words.get(parts[0])
            else:
                construct = words.get(parts[-1]) or (
                    self._package(parts) if parts[0] in packages.exact or parts[0] == "SYS" else None
                )
            if construct and parts[0] not in declared and kinds[name.last - 1] != QUOTED:
                yield Hit(construct, _head(name))
        for kind in subject.all(TypeName):
            construct = tables["type"].get(kind.name)
            if construct is None and len(kind.reference) > 1 and not kind.borrowed:
                construct = tables["type"].get(kind.reference[-1]) or self._package(kind.reference)
            if construct:
                yield Hit(construct, _head(kind))
        for clause in subject.all(Clause):
            construct = tables["clause"].get(clause.name)
            if construct:
                yield Hit(construct, _head(clause))
        for table in subject.all(TableRef):
            construct = tables["relation"].get(table.parts[-1])
            if construct and table.parts[-1] not in subject.scope.locals:
                yield Hit(construct, _head(table))
        yield from self._see_operators(subject)
        yield from self._see_statements(subject)
        for construct, first, last in self.sequences.see(subject.tokens, subject.read.first, subject.read.last):
            yield Hit(construct, Found(subject.tree, first, last))

    def _see_calls(self, subject: Subject) -> Iterator[Hit]:
        functions, kinds, declared = self.tables["function"], subject.tokens.kinds, subject.scope.declared
        for node in subject.all(Call):
            parts = node.parts
            if parts[0] in declared or kinds[node.first] == QUOTED:
                continue
            construct = functions.get(parts[-1]) if len(parts) == 1 else self._package(parts)
            if construct:
                yield Hit(construct, _head(node))
            elif len(parts) == 1 and parts[0] in self.unsaid and parts[0] not in self._by_call:
                yield Hit("assess.function-missing", Found(node, node.first, node.last, parts[0]))
        for cast in subject.all(Cast):
            word = subject.words[cast.first]
            construct = functions.get(word) if word != "CAST" else None
            if construct:
                yield Hit(construct, _head(cast))

    def _see_operators(self, subject: Subject) -> Iterator[Hit]:
        operators = self.tables["operator"].exact
        if not operators:
            return
        for node in subject.all(Operation):
            for operator in node.operators:
                if operator in operators:
                    yield Hit(operators[operator], _head(node))
        for comparison in subject.all(Comparison):
            if comparison.operator in operators:
                yield Hit(operators[comparison.operator], _head(comparison))

    def _see_statements(self, subject: Subject) -> Iterator[Hit]:
        statements, procedures = self.tables["statement"], self.tables["procedure"]
        for call in subject.all(Execute):
            construct = procedures.get(call.routine[-1]) if call.routine else None
            if construct:
                yield Hit(construct, _head(call))
        for plain in subject.all(PlainStatement):
            construct = statements.get(plain.words)
            if construct:
                yield Hit(construct, _head(plain))
        for node in (*subject.all(OtherStatement), *subject.all(Merge), *subject.all(Insert)):
            words = node.words if isinstance(node, OtherStatement) else node.kind
            construct = statements.get(words) or statements.get(words.replace(" public ", " "))
            if construct:
                yield Hit(construct, Found(node, node.first, min(node.first + 6, node.last)))

    def _package(self, parts: tuple[str, ...]) -> ConstructId | None:
        """Return the construct of a supplied package, unless its member has one of its own."""
        start = 1 if parts[0] == "SYS" and len(parts) > 2 else 0
        if parts[start : start + 2] in COVERED:
            return None
        return self.tables["package"].get(parts[start])


def _head(node: Node) -> Found:
    return Found(node, node.first, node.last)


@cache
def load_seer(engine: str) -> Seer:
    """Return the seer of an engine. Raises KnowledgeError if a construct names a detector that does not exist."""
    return Seer(engine)


def to_sighting(hit: Hit, read: ReadStatement, owner: str, file: str, positions: Positions) -> Sighting:
    """Turn a hit into what the hull file keeps: a place in lines and columns, and an excerpt."""
    tokens = read.tokens
    place = hit.found
    start, end = tokens.starts[place.first], tokens.ends[max(place.last - 1, place.first)]
    line, column = positions.at(start)
    end_line, end_column = positions.at(end)
    return Sighting(
        hit.construct, owner, file, line, column, end_line, end_column, excerpt(tokens.text, start, end),
        place.detail, place.needs,
    )  # fmt: skip


class EngineNames(KnownNames):
    """Names that a source engine itself provides."""

    def __init__(self, engine: str) -> None:
        seer, row = load_seer(engine), load_engine(engine)
        self.names = (
            row.function_names | frozenset(seer.tables["function"].exact) | frozenset(seer.tables["word"].exact)
        )
        self.packages = frozenset(seer.tables["package"].exact) | frozenset(row.relations) | frozenset(row.schemas)
        types = frozenset(load_source_types(engine)) | row.type_names
        self.types = types | {name.split(" ")[0] for name in types}
        self.schemas = frozenset(row.schemas)
        self.prefixes = row.prefixes

    def knows(self, use: Use) -> bool:
        parts = use.parts
        head, last = parts[0], parts[-1]
        if self.schemas.intersection(parts[:-1]):
            return True
        match use.kind:
            case "name" | "column" | "member":
                return True
            case "sequence":
                return False
            case "table":
                return head in self.packages or last in self.packages or last.startswith(self.prefixes)
            case "type" | "borrowed":
                return head in self.types or last.removesuffix("[]") in self.types or head in self.packages
            case _:
                return (
                    head in self.names or last in self.names or head in self.packages or last.startswith(self.prefixes)
                    or last in self.types or head in self.types
                )  # fmt: skip
