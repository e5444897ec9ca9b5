"""Runs all constructs of an engine over statements: rows of knowledge first, then the named predicates."""

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from importlib import import_module
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.catalog.model import Sighting
from hullsound.catalog.references import KnownNames, Scope, Use
from hullsound.errors import KnowledgeError
from hullsound.knowledge.load import load_constructs, load_engine, load_source_types
from hullsound.knowledge.model import ConstructId
from hullsound.knowledge.targets import functions_everywhere
from hullsound.sql.lexer import Tokens
from hullsound.sql.positions import Positions, excerpt
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, Loop, Name, Node, Parts, Statement, TableRef

from .conditions import CONDITIONS, Condition
from .detector import REGISTRY, Detector, Found, Predicate
from .detectors.shared import inserts_row_by_row
from .rows import Hit, Rows
from .table_changes import add_table_changes

_DETECTOR_MODULES: Final = (
    "queries",
    "functions",
    "definitions",
    "code",
    "attributes",
    "names",
    "server",
    "shared",
    "tsql",
    "meaning",
    "mysql",
    "restricted",
    "history",
)


class Seer:
    """The constructs of one engine, sorted by what makes them seen."""

    def __init__(self, engine: str) -> None:
        self.engine = engine
        self.row = load_engine(engine)
        constructs = load_constructs(engine)
        self.detectors: list[tuple[ConstructId, Detector]] = []
        for module in _DETECTOR_MODULES:
            import_module(f".detectors.{module}", __package__)
        missing: list[str] = []
        for construct in constructs.values():
            if construct.match.where and not construct.wider:
                missing.append(f"{construct.file}: [{construct.id}]: a condition needs a wider construct")
            if construct.match.where and construct.match.where not in CONDITIONS:
                missing.append(f"{construct.file}: [{construct.id}]: no condition {construct.match.where!r}")
            if construct.match.detector:
                detector = REGISTRY.get(construct.match.detector)
                if detector is None:
                    missing.append(f"{construct.file}: [{construct.id}]: no detector {construct.match.detector!r}")
                else:
                    self.detectors.append((construct.id, detector))
        parts = {c.id: (c.wider, CONDITIONS[c.match.where]) for c in constructs.values() if c.match.where in CONDITIONS}
        self.detectors = [(name, _told_apart(name, detector, parts)) for name, detector in self.detectors]
        if missing:
            raise KnowledgeError("\n".join(missing))
        self._by_kind: dict[type[Node], list[tuple[ConstructId, Detector]]] = {}
        self._active_for: Tokens | None = None
        self._active_now: dict[type[Node], list[tuple[ConstructId, Predicate]]] = {}
        self._active_sets: dict[frozenset[str], dict[type[Node], list[tuple[ConstructId, Predicate]]]] = {}
        self._always_able = frozenset(each.name for _, each in self.detectors if not each.texts)
        self._able_by_text: dict[str, set[str]] = {}
        for _, each in self.detectors:
            for text in each.texts:
                self._able_by_text.setdefault(text, set()).add(each.name)
        self._by_call: dict[str, list[tuple[ConstructId, Detector]]] = {}
        for entry in self.detectors:
            for name in entry[1].names:
                self._by_call.setdefault(name, []).append(entry)
            for kind in entry[1].kinds if not entry[1].names else ():
                self._by_kind.setdefault(kind, []).append(entry)

        called = frozenset(self._by_call)
        self.rows = Rows(constructs.values(), self.row.function_names - functions_everywhere() - called, engine)

    def see(self, read: ReadStatement, scope: Scope) -> list[Hit]:
        """Return every construct in a statement, in no particular order."""
        subject = Subject(read, scope, self.engine)
        hits: list[Hit] = []
        add = hits.append
        active, rows, by_call = self._active(read.tokens), self.rows.by_kind, self._by_call
        for kind, nodes in subject.by_kind.items():
            see_rows = rows.get(kind)
            if see_rows is not None:
                see_rows(nodes, subject, add)
            for construct, predicate in active.get(kind, ()):
                for node in nodes:
                    for place in predicate(node, subject):
                        add(Hit(construct, place))
        for call in subject.all(Call):
            for construct, detector in by_call.get(call.parts[-1], ()):
                for place in detector.predicate(call, subject):
                    add(Hit(construct, place))
        for construct, predicate in active.get(Statement, ()):
            for place in predicate(read.tree, subject):
                add(Hit(construct, place))
        for loop in subject.all(Loop):
            if inserts_row_by_row(loop, subject):
                add(Hit("improve.insert-in-loop", Found(loop, loop.first, min(loop.first + 4, loop.last))))
        self.rows.see_words(subject, add)
        self._add_own_relations(subject, hits)
        add_table_changes(subject, hits)
        if self.row.package_prefixes:
            self._add_own_packages(subject, hits)
        return hits

    def _add_own_packages(self, subject: Subject, hits: list[Hit]) -> None:
        """Add calls into packages that the engine itself supplies and no construct speaks of."""
        spoken, declared = self.rows.tables["package"].get, subject.scope.declared
        told = {id(hit.found.node) for hit in hits}
        used: list[Call | Name] = [*subject.all(Call), *subject.all(Name)]
        for node in used:
            parts = node.parts[1:] if node.parts[0] == "SYS" else node.parts
            if len(parts) < 2 or not parts[0].startswith(self.row.package_prefixes) or parts[0] in declared:
                continue
            if id(node) not in told and spoken(parts[0]) is None:
                needs = (("", parts[0], "no package"),)
                hits.append(Hit("assess.package-missing", Found(node, node.first, node.last, parts[0], needs)))

    def _add_own_relations(self, subject: Subject, hits: list[Hit]) -> None:
        """Add tables and views that the engine itself provides and no construct speaks of."""
        told = {id(hit.found.node) for hit in hits}
        for table in subject.all(TableRef):
            if id(table) not in told and self._is_own(table, subject):
                needs = (("", ".".join(table.parts), "no relation"),)
                hits.append(
                    Hit("assess.relation-missing", Found(table, table.first, table.last, table.parts[-1], needs))
                )

    def _is_own(self, table: TableRef, subject: Subject) -> bool:
        row, parts = self.row, table.parts
        last = parts[-1] if parts else ""
        if not last or last[0] in "@:#" or last in row.relations or last in subject.scope.locals:
            return False
        return bool(set(parts[:-1]).intersection(row.schemas)) or (len(parts) == 1 and last.startswith(row.prefixes))

    def _active(self, tokens: Tokens) -> dict[type[Node], list[tuple[ConstructId, Predicate]]]:
        """Return the predicates by kind of node that can hold anywhere in a text; worked out once for all its statements."""
        if self._active_for is not tokens:
            upper = tokens.upper
            able = self._always_able.union(*(names for text, names in self._able_by_text.items() if text in upper))
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


def _told_apart(
    construct: ConstructId, detector: Detector, parts: Mapping[ConstructId, tuple[ConstructId, Condition]]
) -> Detector:
    """Return the detector of a construct without the places of its parts, or that of a part with its own places alone."""
    predicate = detector.predicate
    if construct in parts:
        holds = parts[construct][1]
        return replace(
            detector, predicate=lambda node, subject: (p for p in predicate(node, subject) if holds(p.node, subject))
        )
    others = [condition for wider, condition in parts.values() if wider == construct]
    if not others:
        return detector
    return replace(
        detector,
        predicate=lambda node, subject: (
            p for p in predicate(node, subject) if not any(holds(p.node, subject) for holds in others)
        ),
    )


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
            row.function_names
            | frozenset(seer.rows.tables["function"].exact)
            | frozenset(seer.rows.tables["word"].exact)
        )
        self.packages = frozenset(seer.rows.tables["package"].exact) | frozenset(row.relations) | frozenset(row.schemas)
        types = frozenset(load_source_types(engine)) | row.type_names
        self.types = types | {name.split(" ")[0] for name in types}
        self.schemas = frozenset(row.schemas)
        self.prefixes = row.prefixes

    def supplies(self, parts: Parts) -> bool:
        """Whether a table or view is one that the engine itself has."""
        heads = self.packages.intersection((parts[0], parts[-1])) or self.schemas.intersection(parts[:-1])
        return bool(heads) or parts[-1].startswith(self.prefixes)

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
                return self.supplies(parts)
            case "type" | "borrowed":
                return head in self.types or last.removesuffix("[]") in self.types or head in self.packages
            case _:
                return (
                    head in self.names or last in self.names or head in self.packages or last.startswith(self.prefixes)
                    or last in self.types or head in self.types
                )  # fmt: skip


@cache
def load_engine_names(engine: str) -> EngineNames:
    """Return the names that a source engine itself provides."""
    return EngineNames(engine)
