"""Survey: any source into a catalogue, and catalogues into hull files."""

from collections.abc import Sequence
from pathlib import Path
from typing import Final, NamedTuple

from hullsound import __version__
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hullfile import Stock, put_surveyed_at, read_hull_facts, read_stock, write_hull
from hullsound.catalog.part_file import PartFile
from hullsound.errors import SourceError
from hullsound.knowledge.load import load_engine
from hullsound.survey import access, dictionary
from hullsound.survey.catalogues.record import is_record
from hullsound.survey.choice import Choice
from hullsound.survey.files import read_all

from .common import Progress, no_progress, now
from .live import survey_live, survey_record
from .programs import add_programs
from .scripts import fingerprint_of, survey_scripts, survey_texts

_TABLES: Final = frozenset((".csv", ".tsv"))


def survey_source(
    source: Path, engine: str = "", version: str = "", *, name: str = "", encoding: str = "", jobs: int = 1,
    previous: Path | None = None, choice: Choice | None = None, progress: Progress = no_progress,
) -> Catalog:  # fmt: skip
    """Read any source: a folder or file of scripts, a data dictionary, an Access file.

    An empty `engine` is guessed from the look of scripts. Files that have not changed since the hull file `previous` was
    written are taken from it. Raises SourceError if there is nothing to read, UsageError for an engine that cannot be read,
    is not clear, or does not fit the source.
    """
    if source.suffix.lower() in _TABLES and source.is_file():
        catalog = dictionary.read_dictionary(
            source, engine=engine or "dictionary", version=version, name=name, encoding=encoding
        )
        load_engine(catalog.engine)
        catalog.surveyed_at = now()
        return catalog
    if source.is_file() and is_record(source):
        return survey_record(source, name=name, jobs=jobs, progress=progress)
    if source.suffix.lower() in access.SUFFIXES and source.is_file():
        catalog = survey_texts([access.read_schema(source)], "sqlite", version, name=name or source.stem)
        catalog.engine = "access"
        catalog.sightings.clear()  # the text is mdb-schema's, so its ways of writing say nothing of the source
        catalog.surveyed_at = now()
        return catalog
    return survey_scripts(
        source, engine, version, name=name, encoding=encoding, jobs=jobs, previous=previous, choice=choice,
        progress=progress,
    )  # fmt: skip


class Surveyed(NamedTuple):
    """What a survey into a hull file came to."""

    stock: Stock
    engine: str
    guessed_by: tuple[str, ...]
    is_unchanged: bool
    """Whether nothing had changed since the hull file was written, so that nothing was read again."""
    doubt: str = ""
    """Why the source looks like one of another engine than was named."""


def survey_into(
    hull: Path, source: Path, engine: str = "", version: str = "", *, name: str = "", encoding: str = "", jobs: int = 1,
    include: Sequence[str] = (), exclude: Sequence[str] = (), programs: Path | None = None,
    progress: Progress = no_progress,
) -> Surveyed:  # fmt: skip
    """Read any source into a hull file. Raises as `survey_source` and `save_hull` do.

    Patterns such as yard.* and order_* choose objects, as in a live survey. `programs` are applications whose SQL counts as well.
    """
    choice = Choice(tuple(include), tuple(exclude))
    before = read_stock(hull) if programs is None else None
    if before is not None and before.fingerprint and source.is_dir():
        files, errors = read_all(source, encoding)
        kind = engine or read_hull_facts(hull)[0]  # the same files look like the same engine
        facts = kind, version, name or source.resolve().stem, repr(choice)
        if not errors and fingerprint_of(files, *facts) == before.fingerprint:
            put_surveyed_at(hull, now())
            return Surveyed(before, kind, (), True)
    catalog = survey_source(
        source,
        engine,
        version,
        name=name,
        encoding=encoding,
        jobs=jobs,
        previous=hull,
        choice=choice,
        progress=progress,
    )
    if programs is not None:
        add_programs(catalog, programs, progress=progress)
    return _saved(hull, catalog)


def survey_live_into(
    hull: Path, address: str, *, name: str = "", include: Sequence[str] = (), exclude: Sequence[str] = (),
    is_resumed: bool = False, profile_seconds: float = 0, jobs: int = 1, programs: Path | None = None,
    progress: Progress = no_progress,
) -> Surveyed:  # fmt: skip
    """Read a running server into a hull file. Raises as `survey_live` and `save_hull` do.

    A connection that is lost midway leaves what was read in a file beside the hull file, for `is_resumed` to go on with.
    """
    check_place(hull)
    catalog = survey_live(
        address, kept_beside(hull), name=name, include=include, exclude=exclude, is_resumed=is_resumed,
        profile_seconds=profile_seconds, jobs=jobs, progress=progress,
    )  # fmt: skip
    if programs is not None:
        add_programs(catalog, programs, progress=progress)
    return _saved(hull, catalog)


def kept_beside(hull: Path) -> Path:
    """Return the file that keeps what a survey read until it is whole."""
    return hull.with_name(f"{hull.name}.reading")


def _saved(hull: Path, catalog: Catalog) -> Surveyed:
    save_hull(hull, catalog)
    PartFile(hull).remove()
    statements = sum(file.statements for file in catalog.files)
    stock = Stock(catalog.fingerprint, len(catalog.objects), statements, len(catalog.files), len(catalog.unread))
    return Surveyed(stock, catalog.engine, catalog.guessed_by, False, catalog.doubt)


def save_hull(path: Path, catalog: Catalog) -> None:
    """Write the hull file. Raises SourceError if that is not possible; an old file is then as it was."""
    check_place(path)
    write_hull(path, catalog, __version__)


def check_place(path: Path) -> None:
    """Raise SourceError where no hull file can be written to."""
    if path.is_dir():
        raise SourceError("a folder, not a file", where=str(path), hint="Give a file name such as harbour.hull.")
    if not path.parent.is_dir():
        raise SourceError("the folder does not exist", where=str(path.parent), hint="Make it first.")
