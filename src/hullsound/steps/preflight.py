"""Preflight: check source and target before anything else."""

from hullsound.errors import SourceError
from hullsound.knowledge.targets import parse_target
from hullsound.preflight.model import Check
from hullsound.preflight.source import Seen, check_source
from hullsound.preflight.target import check_target
from hullsound.survey.live.databases import check_one_database, each_database
from hullsound.survey.live.model import Address, parse_address

from .live import open_source


def preflight(source: str = "", target: str = "", on: str = "") -> list[Check]:
    """Check a source by its address, and a target by the address `on`, judged as `target`.

    Raises UsageError for an address that is none or an unknown target.
    """
    seen = Seen()
    checks: list[Check] = []
    chosen = parse_target(target) if target else None
    place = parse_address(on) if on else None
    for one in _databases(parse_address(source)) if source else ():
        checks += check_source(one, open_source, seen)
    if place is not None:
        check_one_database(place, "a target")
        checks += check_target(place, chosen or parse_target(place.engine), seen.capture)
    return checks


def _databases(place: Address) -> list[Address]:
    try:
        return each_database(place, open_source)
    except SourceError:  # its own checks say why the server cannot be asked
        return [place]
