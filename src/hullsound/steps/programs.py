"""Programs: the SQL that applications hold, judged like any query and counted among those who depend on tables and routines."""

import hashlib
import re
from bisect import bisect_right
from collections.abc import Iterable, Iterator
from operator import attrgetter
from pathlib import Path
from typing import Final

import msgspec

from hullsound.catalog.build import DATABASE, SERVER
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.leading_out import unresolved_names
from hullsound.catalog.model import FileFacts, Object, ObjectType, Sighting
from hullsound.catalog.parts import Part, unpack_uses
from hullsound.catalog.references import Use, resolve_uses
from hullsound.sight.see import EngineNames, load_engine_names
from hullsound.sight.values import needs_hold
from hullsound.sql.dialect import load_dialect
from hullsound.survey.programs.scripts import SPLICED, Program, Programs, Text, read_programs

from .common import Progress, no_collection, no_progress, now
from .scripts import read_group

_SPLICED_TEXT: Final = "program.spliced-text"
_DRIVER_SETTING: Final = "program.driver-setting"
_STATEMENT: Final = "program.statement"
_UNREAD_FILE: Final = "survey.unread-file"
_JUDGED: Final = frozenset((ObjectType.QUERY, ObjectType.DATA, ObjectType.BLOCK, ObjectType.CHANGE))
"""Types of statements that the readers and the drafts take as statements by themselves."""
_WORD: Final = re.compile(r"\w+")
_NAMES: Final = re.compile(
    r"(?is)\s*(?:(TRUNCATE(?:\s+TABLE)?|LOCK\s+TABLES?|(?:ALTER|DROP)\s+TABLE(?:\s+IF\s+EXISTS)?)|(EXEC(?:UTE)?|CALL))\s+"
    r"([\w$#.]+)"
)


def survey_programs(
    folder: Path, engine: str, version: str = "", *, name: str = "", progress: Progress = no_progress
) -> tuple[Catalog, Programs]:
    """Return a catalogue of the SQL in programs alone, whose names lead nowhere, and what was looked into.

    Raises UsageError for an unknown engine, SourceError where there are no programs.
    """
    load_dialect(engine)
    catalog = Catalog(engine, version, name or folder.resolve().stem)
    programs = add_programs(catalog, folder, is_whole=False, progress=progress)
    catalog.surveyed_at = now()
    return catalog, programs


def add_programs(
    catalog: Catalog, folder: Path, *, is_whole: bool = True, progress: Progress = no_progress
) -> Programs:
    """Add the SQL in programs below a folder to a surveyed catalogue, as queries that refer to its objects.

    With `is_whole`, a name that leads nowhere is a sighting. Raises SourceError where there are no programs.
    """
    found = read_programs(folder, catalog.engine)
    known = load_engine_names(catalog.engine)
    schema = catalog.first_schema()
    with no_collection():
        for done, program in enumerate(found.programs):
            progress(program.name, done, len(found.programs))
            _add(catalog, program, known, schema, is_whole=is_whole)
    for file, setting in found.settings:
        place = (file, setting.line, setting.column, setting.line, setting.column + len(setting.text))
        catalog.sightings.append(Sighting(_DRIVER_SETTING, "database", *place, setting.text, ""))
    for file, reason in found.unread:
        catalog.sightings.append(Sighting(_UNREAD_FILE, "database", file, 1, 1, 1, 1, file, reason))
    catalog.fingerprint = ""  # what was surveyed is more than its scripts, so that it is read again the next time
    catalog.forget_indexes()
    return found


def _add(catalog: Catalog, program: Program, known: EngineNames, schema: str, *, is_whole: bool) -> None:
    """Add one program. Whatever its statements are, they are queries here: they make nothing in the source."""
    parts = [read_group([script], catalog.engine) for script in program.scripts]
    queries: list[Object] = []
    others: list[Object] = []
    names: list[dict[str, str]] = []
    for part in parts:
        names.append({})
        for item in part.objects:
            query = _add_query(catalog, program, item.line, item.text, item.lines, item.default_schema or schema)
            names[-1][item.id] = query.id
            queries.append(query)
            if item.type not in _JUDGED or _first_word(item.text) in (
                "BEGIN",
                "DECLARE",
            ):  # which the drafts wrap as objects
                others.append(query)
    for text in texts_without_object(program.texts, [item for part in parts for item in part.objects]):
        query = _add_query(catalog, program, text.line, text.text, text.text.count("\n") + 1, schema)
        queries.append(query)
        others.append(query)
    queries.sort(key=attrgetter("line"))
    uses: list[Use] = []
    for part, ids in zip(parts, names, strict=True):
        _add_sightings(catalog, part, _Owners(ids, queries))
        uses += [use._replace(owner=ids.get(use.owner, use.owner)) for use in unpack_uses(part.uses)]
    catalog.files += _whole_file([facts for part in parts for facts in part.files])
    for query in others:
        place = (query.id, program.name, query.line, 1, query.line, 1)
        catalog.sightings.append(Sighting(_STATEMENT, *place, " ".join(query.text[:80].split()), ""))
        uses += _named(query)
    owner_of = _Owners({}, queries)
    for spliced in program.spliced:
        place = (owner_of.at(spliced.line), program.name, spliced.line, spliced.column, spliced.line, spliced.column)
        catalog.sightings.append(Sighting(_SPLICED_TEXT, *place, spliced.what, ""))
    kept = [use for use in uses if SPLICED not in (text.lower() for text in use.parts)]
    unresolved = [use for use in resolve_uses(catalog, kept, known) if use.owner in catalog.objects]
    if is_whole:
        catalog.sightings += unresolved_names(catalog, unresolved)


def _add_query(catalog: Catalog, program: Program, line: int, text: str, lines: int, schema: str) -> Object:
    new = f"query.{program.name.lower().replace('/', '.')}:{line}"
    while new in catalog.objects:
        new += "+"
    query = Object(
        new, ObjectType.QUERY, "", new.removeprefix("query."), program.name, line, text, lines,
        default_schema=schema, details={"program": program.name},
    )  # fmt: skip
    catalog.objects[new] = query
    return query


def texts_without_object(texts: Iterable[Text], objects: Iterable[Object]) -> Iterator[Text]:
    """Yield the texts of a program of which the catalogue would keep nothing, such as LOCK TABLE or ALTER TABLE."""
    begun: dict[int, list[str]] = {}
    within: set[int] = set()
    for item in objects:
        begun.setdefault(item.line, []).append(_first_word(item.text))
        if item.type is ObjectType.DATA or item.type is ObjectType.GRANT:  # which gather runs of statements
            within.update(range(item.line + 1, item.line + item.lines))
    for text in texts:
        if text.line not in within and _first_word(text.text) not in begun.get(text.line, ()):
            yield text


def _first_word(text: str) -> str:
    word = _WORD.search(text)
    return word[0].upper() if word else ""


def _named(query: Object) -> Iterator[Use]:
    """Yield the table or routine that a statement names first, where it is of those that the readers take no names from."""
    match = _NAMES.match(query.text)
    if match is not None:
        kind = "routine" if match[2] else "table"
        yield Use(query.id, kind, tuple(match[3].upper().split(".")), query.line)


class _Owners:
    """Tells which query of a program a sighting or an unread part belongs to."""

    def __init__(self, names: dict[str, str], queries: list[Object]) -> None:
        self.names = names
        self.queries = queries
        self.lines = [query.line for query in queries]

    def at(self, line: int) -> str:
        at = bisect_right(self.lines, line)
        return self.queries[at - 1].id if at else DATABASE

    def of(self, owner: str, line: int) -> str:
        return self.at(line) if owner in (DATABASE, SERVER) else self.names.get(owner, owner)


def _add_sightings(catalog: Catalog, part: Part, owner_of: _Owners) -> None:
    for sighting in part.sightings:
        if not sighting.needs or needs_hold(sighting.needs, catalog):
            sighting.object = owner_of.of(sighting.object, sighting.line)
            catalog.sightings.append(sighting)
    for span in part.unread:
        catalog.unread.append(msgspec.structs.replace(span, object=owner_of.of(span.object, span.line)))


def _whole_file(parts: list[FileFacts]) -> list[FileFacts]:
    """Put together what is known of the scripts of one program."""
    if not parts:
        return []
    statements, directives = sum(part.statements for part in parts), sum(part.directives for part in parts)
    digest = hashlib.sha256("".join(part.digest for part in parts).encode()).hexdigest()
    return [FileFacts(parts[0].path, max(part.lines for part in parts), statements, directives, digest)]
