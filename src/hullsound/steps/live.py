"""Survey running sources, and what kits printed of them."""

from collections.abc import Sequence
from contextlib import ExitStack
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType, Sighting
from hullsound.errors import SourceError
from hullsound.profile.run import take_profile
from hullsound.survey.catalogues.model import Size, load_queries
from hullsound.survey.catalogues.record import read_record
from hullsound.survey.choice import Choice
from hullsound.survey.live.databases import each_database
from hullsound.survey.live.model import STAND_IN, Address, parse_address
from hullsound.survey.live.open import open_session
from hullsound.survey.live.read import LiveSource, as_source, capture_live, merge_sources
from hullsound.survey.live.session import Opened, Session
from hullsound.timing import step

from .common import Progress, no_progress, now
from .scripts import survey_scripts, survey_texts

_MANY_REMARKS: Final = 50


@step("ask the server")
def survey_live(
    address: str, kept: Path | None = None, *, name: str = "", include: Sequence[str] = (), exclude: Sequence[str] = (),
    is_resumed: bool = False, profile_seconds: float = 0, jobs: int = 1, progress: Progress = no_progress,
) -> Catalog:  # fmt: skip
    """Read the catalogue of a running server, which is only read, by its address.

    What comes in is kept in the file `kept` until all is there, and `is_resumed` goes on where such a file ends. With
    `profile_seconds`, aggregates over the values are taken for that long at most.
    Raises UsageError for an address that is none, SourceError where the server cannot be reached or read.
    """
    place = parse_address(address)
    choice = Choice(tuple(include), tuple(exclude))
    places = each_database(place, open_source)
    sources: list[LiveSource] = []
    with TemporaryDirectory() as folder, ExitStack() as stack:
        files = [_kept_for(kept or Path(folder) / "kept", number) for number in range(len(places))]
        for one, file in zip(places, files, strict=True):
            # Only the last session stays open, so that the values of a single database are asked in the same one.
            stack.close()
            session = stack.enter_context(open_source(one))
            capture = capture_live(session, file, progress, is_resumed=is_resumed)
            sources.append(as_source(capture, choice, where=one.text))
            capture.found.clear()  # its rows are texts now, and need no place beside what comes of them
        source = merge_sources(sources)
        for file in files:
            file.unlink()
        if not source.files:
            raise SourceError("nothing is there, or nothing that fits", where=place.text)
        catalog = _survey_captured(source, name=name or place.name, jobs=jobs, progress=progress)
        if profile_seconds:
            _add_profile(catalog, session, profile_seconds / len(places), progress)
    for one in places[:-1] if profile_seconds else ():
        try:
            with open_source(one) as session:
                _add_profile(catalog, session, profile_seconds / len(places), progress)
        except SourceError as error:  # what the catalogues said is worth keeping
            catalog.sightings.append(Sighting("data.unfinished", "database", "", 0, 0, 0, 0, "", error.what))
    return catalog


def _kept_for(kept: Path, number: int) -> Path:
    return kept.with_name(f"{kept.name}.{number + 1}") if number else kept


def _add_profile(catalog: Catalog, session: Session, seconds: float, progress: Progress) -> None:
    profile = take_profile(session, catalog, seconds, progress)
    catalog.measures += profile.measures
    for key, reason in profile.unfinished:
        item = catalog.objects.get(key)
        place = (item.file, item.line, 1, item.line, 1) if item is not None else ("", 0, 0, 0, 0)
        catalog.sightings.append(Sighting("data.unfinished", key, *place, "", reason))


def open_source(address: Address) -> Opened:
    """Return a session on a running source, or on the stand-in that its address names. Raises SourceError as they do."""
    wanted = address.options.get(STAND_IN)
    if wanted is None:
        return open_session(address)
    from hullsound.demo import scripts_of
    from hullsound.standin import open_stand_in

    folder = scripts_of(address.engine) if wanted == "demo" else Path(wanted)
    return open_stand_in(address, survey_scripts(folder, address.engine))


def survey_record(
    path: Path, *, name: str = "", include: Sequence[str] = (), exclude: Sequence[str] = (), jobs: int = 1,
    progress: Progress = no_progress,
) -> Catalog:  # fmt: skip
    """Read what a kit printed on a server. What its client said besides, and what is cut off, becomes findings.

    Raises SourceError where the file cannot be read or holds nothing of use.
    """
    record = read_record(path)
    capture = record.capture
    for query in load_queries(capture.engine, capture.version):
        if query not in record.ended:
            capture.refused.setdefault(query, "the output does not hold it whole")
    source = as_source(record.capture, Choice(tuple(include), tuple(exclude)), where=path.name)
    record.capture.found.clear()
    if not source.files:
        raise SourceError("nothing is in it, or nothing that fits", where=str(path))
    for line, text in record.noise[:_MANY_REMARKS]:
        source.remarks.append(Sighting("survey.kit-noise", "database", path.name, line, 1, line, 1, text, text))
    if not record.is_whole:
        place = ("database", path.name, 1, 1, 1, 1)
        source.remarks.append(Sighting("survey.kit-cut-short", *place, path.name, f"{len(record.ended)} queries ended"))
    return _survey_captured(source, name=name or path.stem, jobs=jobs, progress=progress)


def _survey_captured(source: LiveSource, *, name: str, jobs: int, progress: Progress) -> Catalog:
    catalog = survey_texts(source.files, source.engine, source.version, name=name, jobs=jobs, progress=progress)
    _add_sizes(catalog, source.sizes)
    catalog.settings = source.settings
    catalog.sightings += source.remarks
    catalog.surveyed_at = now()
    return catalog


def _add_sizes(catalog: Catalog, sizes: list[Size]) -> None:
    """Note how much each table holds, in the details that a data dictionary fills too."""
    tables = {
        (item.schema.lower(), item.name.lower()): item
        for item in catalog.objects.values()
        if item.type in (ObjectType.TABLE, ObjectType.MATERIALIZED_VIEW)
    }
    for size in sizes:
        item = tables.get((size.schema.lower(), size.table.lower())) or tables.get(("", size.table.lower()))
        if item is not None:
            item.details |= {"rows": str(size.rows), "bytes": str(size.bytes)}
