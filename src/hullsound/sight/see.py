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
from hullsound.sql.lexer import QUOTED, Tokens
from hullsound.sql.positions import Positions, excerpt
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, Clause, Insert, Merge, Name, Node, OtherStatement, Statement, TableRef, TypeName

from .detectors.functions import COVERED
from .subject import REGISTRY, Detector, Found, Predicate, Subject

_DETECTOR_MODULES: Final = ("queries", "functions", "definitions", "code")


class Hit(NamedTuple):
    """A construct seen at a place."""

    construct: ConstructId
    found: Found


class Seer:
    """The constructs of one engine, sorted by what makes them seen."""

    def __init__(self, engine: str) -> None:
        self.engine = engine
        self.functions: dict[str, ConstructId] = {}
        self.packages: dict[str, ConstructId] = {}
        self.words: dict[str, ConstructId] = {}
        self.types: dict[str, ConstructId] = {}
        self.clauses: dict[str, ConstructId] = {}
        self.statements: dict[str, ConstructId] = {}
        self.relations: dict[str, ConstructId] = {}
        self.detectors: list[tuple[ConstructId, Detector]] = []
        for module in _DETECTOR_MODULES:
            import_module(f".detectors.{module}", __package__)
        tables = {
            "function": self.functions, "package": self.packages, "word": self.words, "type": self.types,
            "clause": self.clauses, "statement": self.statements, "relation": self.relations,
        }  # fmt: skip
        missing: list[str] = []
        for construct in load_constructs(engine).values():
            for key, table in tables.items():
                name = getattr(construct.match, key)
                if name:
                    table[name] = construct.id
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
        kinds = subject.tokens.kinds
        declared = subject.scope.declared
        functions, words, packages = self.functions, self.words, self.packages
        for node in subject.all(Call):
            parts = node.parts
            construct = functions.get(parts[-1]) if len(parts) == 1 else self._package(parts)
            if construct and parts[0] not in declared and kinds[node.first] != QUOTED:
                yield Hit(construct, _head(node))
        for name in subject.all(Name):
            parts = name.parts
            if len(parts) == 1:
                construct = functions.get(parts[0]) or words.get(parts[0])
            else:
                construct = words.get(parts[-1]) or (
                    self._package(parts) if parts[0] in packages or parts[0] == "SYS" else None
                )
            if construct and parts[0] not in declared and kinds[name.last - 1] != QUOTED:
                yield Hit(construct, _head(name))
        for kind in subject.all(TypeName):
            construct = self.types.get(kind.name)
            if construct is None and len(kind.reference) > 1 and not kind.borrowed:
                construct = self.types.get(kind.reference[-1]) or self._package(kind.reference)
            if construct:
                yield Hit(construct, _head(kind))
        for clause in subject.all(Clause):
            construct = self.clauses.get(clause.name)
            if construct:
                yield Hit(construct, _head(clause))
        for table in subject.all(TableRef):
            construct = self.relations.get(table.parts[-1])
            if construct and table.parts[-1] not in subject.scope.locals:
                yield Hit(construct, _head(table))
        yield from self._see_statements(subject)

    def _see_statements(self, subject: Subject) -> Iterator[Hit]:
        for node in (*subject.all(OtherStatement), *subject.all(Merge), *subject.all(Insert)):
            words = node.words if isinstance(node, OtherStatement) else node.kind
            construct = self.statements.get(words) or self.statements.get(words.replace(" public ", " "))
            if construct:
                yield Hit(construct, Found(node, node.first, min(node.first + 6, node.last)))

    def _package(self, parts: tuple[str, ...]) -> ConstructId | None:
        """Return the construct of a supplied package, unless its member has one of its own."""
        start = 1 if parts[0] == "SYS" and len(parts) > 2 else 0
        if parts[start : start + 2] in COVERED:
            return None
        return self.packages.get(parts[start])


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
        self.names = row.function_names | frozenset(seer.functions) | frozenset(seer.words)
        self.packages = frozenset(seer.packages) | frozenset(row.relations) | frozenset(row.schemas)
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
