"""Surveys a folder of scripts: reads every file, in the order in which the scripts call each other."""

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final

from hullsound.catalog.build import ScriptBuilder
from hullsound.catalog.model import Catalog, FileFacts
from hullsound.catalog.references import Scope, Use, find_uses
from hullsound.sql.dialect import Dialect
from hullsound.sql.positions import Positions
from hullsound.sql.script import Directive, ReadStatement, read_script

from .files import ScriptFile

_CALLING: Final = frozenset(("@", "@@", "START", "STA"))
MAX_CALL_DEPTH: Final = 20


@dataclass(slots=True)
class SurveyedStatement:
    """One statement with what is needed to look for constructs in it."""

    read: ReadStatement
    owner: str
    file: str
    scope: Scope
    positions: Positions


@dataclass(slots=True)
class ScriptSurvey:
    """Reads files into `catalog`, handing each statement to `on_statement` while its tree is at hand."""

    catalog: Catalog
    dialect: Dialect
    files: dict[str, ScriptFile]
    on_statement: Callable[[SurveyedStatement], None]
    on_file: Callable[[str], None] = lambda name: None
    schema: str = ""
    uses: list[Use] = field(default_factory=list)
    missing: list[tuple[str, int, str]] = field(default_factory=list)
    """Calls of files that are not there: (file, line, called name)."""
    _done: set[str] = field(default_factory=set)
    _variables: dict[str, str] = field(default_factory=dict)

    def run(self) -> None:
        """Read all files, those that no other calls first, each called file where it is called."""
        called = self._called_files()
        for name in self.files:
            if name not in called:
                self._read(name, self.schema, 0)
        for name in self.files:
            if name not in self._done:
                self._read(name, self.schema, 0)

    def _called_files(self) -> set[str]:
        called: set[str] = set()
        for name, script in self.files.items():
            for line in script.text.splitlines():
                target = line.strip()
                if target.startswith("@"):
                    found = self._find(name, target.lstrip("@"))
                    if found and found != name:
                        called.add(found)
        return called

    def _find(self, caller: str, called: str) -> str | None:
        """Find a called script beside its caller, from the root, or by its bare name."""
        words = called.strip().strip(";").split()
        if not words:
            return None
        wanted = words[0].strip("\"'").replace("\\", "/").removeprefix("./")
        folder = caller.rpartition("/")[0]
        names = [wanted] if "." in wanted.rsplit("/", 1)[-1] else [wanted, f"{wanted}.sql"]
        for name in names:
            for candidate in (_normal(f"{folder}/{name}"), _normal(name)):
                if candidate in self.files:
                    return candidate
        ends = [f"/{name.lower()}" for name in names]
        return next((f for f in self.files if any(f"/{f.lower()}".endswith(end) for end in ends)), None)

    def _read(self, name: str, schema: str, depth: int) -> str:
        """Read one file; return the schema that is current at its end."""
        if name in self._done:
            return schema
        self._done.add(name)
        self.on_file(name)
        text = self.files[name].text
        script = read_script(text, self.dialect, self._variables)
        builder = ScriptBuilder(self.catalog, name, schema)
        builder.open_text(text)
        statements = directives = 0
        for item in script.items:
            if isinstance(item, Directive):
                directives += 1
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
        owner = builder.add(read)
        scope = Scope(read.nodes)
        self.uses += find_uses(read, scope, owner, builder.positions)
        self.on_statement(SurveyedStatement(read, owner, file, scope, builder.positions))

    def _call(self, caller: str, item: Directive, schema: str, depth: int, positions: Positions) -> str:
        found = self._find(caller, item.rest)
        if found is None or depth >= MAX_CALL_DEPTH:
            self.missing.append((caller, positions.line(item.start), item.rest.strip()))
            return schema
        return self._read(found, schema, depth + 1)


def _normal(path: str) -> str:
    """Resolve . and .. in a relative path without leaving the root."""
    parts: list[str] = []
    for part in path.split("/"):
        if part == "..":
            parts[-1:] = []
        elif part not in ("", "."):
            parts.append(part)
    return "/".join(parts)
