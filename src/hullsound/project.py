"""What a project decides for itself, in hullsound.toml: other types, findings that are accepted, and what estimates assume."""

import re
import tomllib
from datetime import date
from fnmatch import fnmatchcase
from pathlib import Path
from typing import Any, Literal, TypeVar

import msgspec

from hullsound.errors import UsageError
from hullsound.settings import SECTIONS, Settings

FILE_NAME = "hullsound.toml"
_Row = TypeVar("_Row")


class TypeOverride(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A type for columns that fit all patterns given; * stands for any letters, and case does not count."""

    becomes: str
    """The target's type, as it is written there."""
    type: str = "*"
    """Pattern of the source type, such as NUMBER(1*)."""
    table: str = "*"
    """Pattern of the table, with or without its schema."""
    column: str = "*"

    def fits(self, type_text: str, schema: str, table: str, column: str) -> bool:
        tables = (table, f"{schema}.{table}")
        return (
            _fits(self.type, type_text) and _fits(self.column, column) and any(_fits(self.table, t) for t in tables)
        )  # fmt: skip

    @property
    def weight(self) -> tuple[bool, bool, bool]:
        """A pattern of a column counts more than one of a table, and that more than one of a type."""
        return self.column != "*", self.table != "*", self.type != "*"


class AcceptEntry(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A decision that findings of a construct may stay."""

    construct: str
    """Id or pattern, such as oracle.connect-by or sqlserver.*."""
    reason: str
    owner: str
    object: str = "*"
    """Pattern of object ids."""
    until: date | None = None
    """Last day on which it holds; none for ever."""

    def fits(self, construct: str, object_id: str) -> bool:
        return _fits(self.construct, construct) and _fits(self.object, object_id)


class DraftRules(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How drafts are written where the source leaves a choice."""

    case: Literal["lower", "keep", "compared", "ignore"] = "lower"
    """How texts compare that the source's default collations compare without case: code with lower() where no index serves a
    column; as the target does; or without case by a collation of those columns that code or keys compare, or of all."""


class Project(msgspec.Struct, frozen=True):
    """The decisions of one project, in the order of its file."""

    types: tuple[TypeOverride, ...] = ()
    accept: tuple[AcceptEntry, ...] = ()
    file: str = ""
    drafts: DraftRules = DraftRules()
    overrides: tuple[tuple[str, str], ...] = ()
    """Texts that a person wrote in place of drafts: (object id, text), from files OBJECT.sql in the folder overrides."""
    settings: Settings = Settings()
    """What estimates assume."""
    target: str = ""
    """The target that is taken where no option names one; '' for none."""
    seen_types: tuple[TypeOverride, ...] = ()
    """Types that a profile of the values asks for; what the project says itself counts more."""

    def own_text(self, object_id: str) -> str:
        """Return the text that a person wrote for an object; '' for none."""
        wanted = override_stem(object_id)
        return next((text for name, text in self.overrides if override_stem(name) == wanted), "")

    def type_for(self, type_text: str, schema: str, table: str, column: str) -> str:
        """Return the type that the most exact override gives a column, the later of equals; '' for none."""
        for rules in (self.types, self.seen_types):
            fitting = [each for each in rules if each.fits(type_text, schema, table, column)]
            if fitting:
                return max(enumerate(fitting), key=lambda pair: (pair[1].weight, pair[0]))[1].becomes
        return ""


def _fits(pattern: str, text: str) -> bool:
    return pattern == "*" or fnmatchcase(text.lower(), pattern.lower())


def override_stem(object_id: str) -> str:
    """Return the name of the file for an object: its id, with what no file name should hold as a hyphen."""
    return re.sub(r"[^a-z0-9_.]+", "-", object_id.lower()).strip(".-")


def _read_overrides(folder: Path) -> tuple[tuple[str, str], ...]:
    if not folder.is_dir():
        return ()
    try:
        files = sorted(folder.glob("*.sql"))
        return tuple((each.stem, each.read_text(encoding="utf-8")) for each in files)
    except (OSError, UnicodeDecodeError) as error:
        raise UsageError(f"cannot read the texts in overrides: {error}", where=str(folder)) from error


def read_project(path: Path) -> Project:
    """Read a project file and the folder overrides beside it; a file that is not there decides nothing.

    Raises UsageError naming every fault.
    """
    overrides = _read_overrides(path.parent / "overrides")
    if not path.is_file():
        return Project(overrides=overrides)
    try:
        document = tomllib.loads(path.read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise UsageError(f"cannot read the project file: {error}", where=str(path)) from error
    faults = [
        f"[{key}]: not known here" for key in document if key not in ("target", "types", "accept", "drafts", *SECTIONS)
    ]
    types = _entries(document, "types", TypeOverride, faults)
    accept = _entries(document, "accept", AcceptEntry, faults)
    rules = _rules(document.get("drafts", {}), DraftRules, "drafts", faults)
    settings = _settings(document, faults)
    target = document.get("target", "")
    if not isinstance(target, str):
        faults.append("target: a text such as postgresql:18")
    faults += [f"[[accept]] {i + 1}: reason and owner must say something" for i, entry in enumerate(accept)
               if not entry.reason.strip() or not entry.owner.strip()]  # fmt: skip
    faults += [f"[[types]] {i + 1}: becomes is empty" for i, entry in enumerate(types) if not entry.becomes.strip()]
    if faults:
        raise UsageError(
            "; ".join(faults), where=str(path),
            hint=f"The manual shows [[types]], [[accept]], [drafts] and {', '.join(f'[{name}]' for name in SECTIONS)}.",
        )  # fmt: skip
    return Project(tuple(types), tuple(accept), str(path), rules, overrides, settings, target)


def _settings(document: dict[str, Any], faults: list[str]) -> Settings:
    """Read the tables of assumptions, and note which keys were set."""
    tables = {name: document.get(name, {}) for name in SECTIONS}
    rules: dict[str, Any] = {name: _rules(tables[name], form, name, faults) for name, form in SECTIONS.items()}
    given = {f"{name}.{key}" for name, table in tables.items() if isinstance(table, dict) for key in table}
    return Settings(**rules, given=frozenset(given))


def _rules(value: Any, form: type[_Row], name: str, faults: list[str]) -> _Row:
    try:
        return msgspec.convert(value, form)
    except msgspec.ValidationError as error:
        faults.append(f"[{name}]: {error}")
        return form()


def _entries(document: dict[str, Any], key: str, row: type[_Row], faults: list[str]) -> list[_Row]:
    rows = document.get(key, [])
    if not isinstance(rows, list):
        faults.append(f"[{key}]: written as [[{key}]]")
        return []
    entries: list[_Row] = []
    for number, value in enumerate(rows, start=1):
        try:
            entries.append(msgspec.convert(value, row))
        except msgspec.ValidationError as error:
            faults.append(f"[[{key}]] {number}: {error}")
    return entries
