"""Surveys a folder of scripts: reads every file, in the order in which the scripts call each other."""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Final

from hullsound.catalog.build import ScriptBuilder
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import FileFacts, Sighting
from hullsound.catalog.references import Scope, Use, find_uses
from hullsound.sql.dialect import Client, Dialect
from hullsound.sql.positions import Positions
from hullsound.sql.quoted_bodies import with_dollar_quotes
from hullsound.sql.script import Directive, ReadStatement, read_script

from .called import ScriptNames
from .files import ScriptFile

_CALLING: Final = frozenset(("@", "@@", "START", "STA", ":R", "\\I", "\\IR", "\\.", "SOURCE", ".READ", ".RUN"))
MAX_CALL_DEPTH: Final = 20
GROUP_SIZE: Final = 200_000
"""Characters that are read together as one piece of work."""
_CALL_LINE: Final = re.compile(
    r"^[ \t]*(?:@@?|:r\b|\\ir?\b|\\\.|source\b|\.read\b|\.run[ \t]+file[ \t]*=?)[ \t]*(\S+)",
    re.MULTILINE | re.IGNORECASE,
)


@dataclass(slots=True)
class SurveyedStatement:
    """One statement with what is needed to look for constructs in it."""

    read: ReadStatement
    owner: str
    file: str
    scope: Scope
    positions: Positions
    has_effect: bool
    """Whether it changes what another statement created."""


@dataclass
class ScriptSurvey:
    """Reads files into `catalog`, handing each statement to `on_statement` while its tree is at hand."""

    catalog: Catalog
    dialect: Dialect
    files: dict[str, ScriptFile]
    on_statement: Callable[[SurveyedStatement], None]
    schema: str = ""
    uses: list[Use] = field(default_factory=list)
    missing: list[tuple[str, int, str]] = field(default_factory=list)
    """Calls of files that are not there: (file, line, called name)."""
    _done: set[str] = field(default_factory=set)
    _variables: dict[str, str] = field(default_factory=dict)

    @cached_property
    def _names(self) -> ScriptNames:
        return ScriptNames(self.files)

    def run(self) -> None:
        """Read all files, those that no other calls first, each called file where it is called."""
        called = {c for calls in _calls(self.files).values() for c in calls}
        for name in self.files:
            if name not in called:
                self._run_alone(name)
        for name in self.files:
            if name not in self._done:
                self._run_alone(name)

    def _run_alone(self, name: str) -> None:
        """Read a file as a client would in a session of its own, so that the order of other files tells nothing."""
        self._variables = {}
        self._read(name, self.schema, 0)

    def _read(self, name: str, schema: str, depth: int) -> str:
        """Read one file; return the schema that is current at its end."""
        if name in self._done:
            return schema
        self._done.add(name)
        text = self.files[name].text
        if self.dialect.client is Client.PSQL:
            text = with_dollar_quotes(text)
        script = read_script(text, self.dialect, self._variables)
        builder = ScriptBuilder(self.catalog, name, schema)
        builder.open_text(text)
        statements = directives = 0
        for item in script.items:
            if isinstance(item, Directive):
                directives += 1
                if item.word == "GO":
                    line = builder.positions.line(item.start)
                    place = ("database", name, line, 1, line, 1, f"GO {item.rest}", f"{item.rest} times")
                    self.catalog.sightings.append(Sighting("survey.repeated-batch", *place))
                if item.word in _CALLING:
                    builder.schema = self._call(name, item, builder.schema, depth, builder.positions)
                continue
            statements += 1
            self._add(builder, item, name)
        self.catalog.files.append(
            FileFacts(name, len(builder.positions.starts), statements, directives, self.files[name].digest)
        )
        return builder.schema

    def _add(self, builder: ScriptBuilder, read: ReadStatement, file: str) -> None:
        changes = len(self.catalog.changes)
        owner = builder.add(read)
        has_effect = len(self.catalog.changes) > changes
        scope = Scope(read)
        self.uses += find_uses(read, scope, owner, builder.positions)
        self.on_statement(SurveyedStatement(read, owner, file, scope, builder.positions, has_effect))

    def _call(self, caller: str, item: Directive, schema: str, depth: int, positions: Positions) -> str:
        found = self._names.find(caller, item.rest)
        if found is None or depth >= MAX_CALL_DEPTH:
            self.missing.append((caller, positions.line(item.start), item.rest.strip()))
            return schema
        return self._read(found, schema, depth + 1)


def _calls(files: dict[str, ScriptFile]) -> dict[str, list[str]]:
    """Return for each file which others it seems to call, by the look of its lines."""
    calls: dict[str, list[str]] = {}
    names = ScriptNames(files)
    for name, script in files.items():
        for match in _CALL_LINE.finditer(script.text):
            found = names.find(name, match[1])
            if found and found != name:
                calls.setdefault(name, []).append(found)
    return calls


def called_files(files: list[ScriptFile]) -> frozenset[str]:
    """Return the names of the files that others seem to call."""
    return frozenset(name for names in _calls({file.name: file for file in files}).values() for name in names)


def file_groups(files: list[ScriptFile]) -> list[list[ScriptFile]]:
    """Split files into groups that can be read apart: files that call each other stay together, in their order."""
    by_name = {file.name: file for file in files}
    group_of = {name: name for name in by_name}

    def root(name: str) -> str:
        while group_of[name] != name:
            group_of[name] = group_of[group_of[name]]
            name = group_of[name]
        return name

    for caller, called in _calls(by_name).items():
        for name in called:
            group_of[root(name)] = root(caller)
    groups: dict[str, list[ScriptFile]] = {}
    for file in files:
        groups.setdefault(root(file.name), []).append(file)
    return list(groups.values())


def pack_groups(groups: list[list[ScriptFile]]) -> list[list[list[ScriptFile]]]:
    """Put small neighbouring groups together, as pieces of work that are worth a process."""
    packed: list[list[list[ScriptFile]]] = []
    size = 0
    for group in groups:
        length = sum(len(file.text) for file in group)
        if not packed or size + length > GROUP_SIZE:
            packed.append([])
            size = 0
        packed[-1].append(group)
        size += length
    return packed
