"""Checks: write them for a hull file, and run them on both sides."""

from collections.abc import Mapping
from contextlib import ExitStack
from pathlib import Path

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.model import ObjectType
from hullsound.errors import UsageError
from hullsound.knowledge.targets import parse_target
from hullsound.plan.checks.model import CheckSet, Level
from hullsound.plan.checks.queries import make_checks
from hullsound.plan.checks.run import CheckRun, run_checks
from hullsound.plan.sizes import table_sizes
from hullsound.profile.speech import quoted, real_names
from hullsound.project import Project
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.session import Session

from .common import Progress, no_progress
from .live import open_source


def checks_of_hull(path: Path, target: str, project: Project | None = None, sizes: Path | None = None) -> CheckSet:
    """Write the checks of a hull file. Raises UsageError for engines without checks, SourceError for the files."""
    return _checks(read_hull(path), target, project or Project(), sizes, None)


def run_checks_of_hull(
    path: Path,
    target: str,
    source_url: str,
    target_url: str,
    level: Level,
    *,
    project: Project | None = None,
    samples: bool = True,
    kept: Path | None = None,
    is_resumed: bool = False,
    progress: Progress = no_progress,
) -> CheckRun:
    """Run the checks of a hull file on both sides, up to a level. Both are only read.

    Raises UsageError for an address of another engine than source or target, SourceError where a side cannot be reached.
    """
    catalog = read_hull(path)
    chosen = parse_target(target)
    with ExitStack() as stack:
        source = stack.enter_context(open_source(parse_address(source_url)))
        goal = stack.enter_context(open_source(parse_address(target_url)))
        _check_engine("--source", source, catalog.engine)
        _check_engine("--target", goal, chosen.engine)
        checks = _checks(catalog, target, project or Project(), None, source)
        return run_checks(
            checks, source, goal, level, samples=samples, kept=kept, is_resumed=is_resumed, progress=progress
        )


def _check_engine(option: str, session: Session, engine: str) -> None:
    same = {"mysql", "mariadb"}
    if session.engine != engine and not {session.engine, engine} <= same:
        raise UsageError(
            f"is a {session.engine}, where {engine} is wanted", where=option, hint="Give the address of the other side."
        )


def _checks(catalog: Catalog, target: str, project: Project, sizes: Path | None, session: Session | None) -> CheckSet:
    listed = table_sizes(catalog, project.settings.window, sizes)
    spelled = _spelled(catalog, session) if session is not None else None
    return make_checks(catalog, parse_target(target), project, listed, spelled)


def _spelled(catalog: Catalog, session: Session) -> dict[str, tuple[str, Mapping[str, str]]]:
    """Return how the source spells its tables and columns, quoted, by the names of the catalogue."""
    real = real_names(session)
    found: dict[str, tuple[str, Mapping[str, str]]] = {}
    for table in catalog.objects.values():
        if table.type is not ObjectType.TABLE:
            continue
        schema = "" if session.engine == "sqlite" else table.schema.lower()
        match = real.get((schema, table.name.lower().strip('"')))
        if match is None:
            continue
        columns = {
            column.name: quoted(session.engine, match.columns[column.name.lower().strip('"')])
            for column in table.columns
            if column.name.lower().strip('"') in match.columns
        }
        found[table.id] = (match.text, columns)
    return found
