"""Programs: the SQL that applications hold, judged like any query and counted among those who depend on tables and routines."""

from pathlib import Path
from typing import Final

import msgspec

from hullsound.catalog.model import Catalog, Object, ObjectType, Sighting
from hullsound.catalog.parts import Part, unpack_uses
from hullsound.catalog.references import Use, resolve_uses
from hullsound.sight.see import EngineNames
from hullsound.sight.values import needs_hold
from hullsound.sql.dialect import load_dialect
from hullsound.survey.programs.scripts import SPLICED, Program, Programs, read_programs

from .common import Progress, no_collection, no_progress, now
from .scripts import read_group

_SPLICED_TEXT: Final = "program.spliced-text"
_DRIVER_SETTING: Final = "program.driver-setting"
_UNREAD_FILE: Final = "survey.unread-file"


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
    known = EngineNames(catalog.engine)
    with no_collection():
        for done, program in enumerate(found.programs):
            progress(program.script.name, done, len(found.programs))
            _add(catalog, program, known, is_whole=is_whole)
    for file, setting in found.settings:
        place = (file, setting.line, setting.column, setting.line, setting.column + len(setting.text))
        catalog.sightings.append(Sighting(_DRIVER_SETTING, "database", *place, setting.text, ""))
    for file, reason in found.unread:
        catalog.sightings.append(Sighting(_UNREAD_FILE, "database", file, 1, 1, 1, 1, file, reason))
    catalog.fingerprint = ""  # what was surveyed is more than its scripts, so that it is read again the next time
    catalog.forget_indexes()
    return found


def _add(catalog: Catalog, program: Program, known: EngineNames, *, is_whole: bool) -> None:
    """Add one program. Whatever its statements are, they are queries here: they make nothing in the source."""
    part = read_group([program.script], catalog.engine)
    stem = program.script.name.lower().replace("/", ".")
    names: dict[str, str] = {}
    items: list[Object] = []
    for item in part.objects:
        new = f"query.{stem}:{item.line}"
        while new in catalog.objects:
            new += "+"
        names[item.id] = new
        query = Object(
            new, ObjectType.QUERY, "", new.removeprefix("query."), item.file, item.line, item.text, item.lines,
            default_schema=item.default_schema or catalog.first_schema(), details={"program": program.script.name},
        )  # fmt: skip
        catalog.objects[new] = query
        items.append(query)
    catalog.files += part.files
    _add_sightings(catalog, part, names, program, items)
    uses = [
        Use(names.get(use.owner, use.owner), use.kind, use.parts, use.line)
        for use in unpack_uses(part.uses)
        if SPLICED not in (text.lower() for text in use.parts)
    ]
    for use in resolve_uses(catalog, uses, known):
        if is_whole and use.owner in catalog.objects:
            name = ".".join(use.parts).lower()
            place = (use.owner, program.script.name, use.line, 1, use.line, 1)
            catalog.sightings.append(Sighting("survey.unresolved", *place, name, f"{use.kind} {name}"))


def _add_sightings(catalog: Catalog, part: Part, names: dict[str, str], program: Program, items: list[Object]) -> None:
    for sighting in part.sightings:
        if not sighting.needs or needs_hold(sighting.needs, catalog):
            sighting.object = names.get(sighting.object, sighting.object)
            catalog.sightings.append(sighting)
    for span in part.unread:
        catalog.unread.append(msgspec.structs.replace(span, object=names.get(span.object, span.object)))
    for spliced in program.spliced:
        owner = next((item.id for item in reversed(items) if item.line <= spliced.line), "database")
        place = (program.script.name, spliced.line, spliced.column, spliced.line, spliced.column)
        catalog.sightings.append(Sighting(_SPLICED_TEXT, owner, *place, spliced.what, ""))
