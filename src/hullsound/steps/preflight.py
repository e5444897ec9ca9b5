"""Preflight: check source and target before anything else."""

from hullsound.knowledge.targets import parse_target
from hullsound.preflight.model import Check
from hullsound.preflight.source import Seen, check_source
from hullsound.preflight.target import check_target
from hullsound.survey.live.model import parse_address

from .live import open_source


def preflight(source: str = "", target: str = "", on: str = "") -> list[Check]:
    """Check a source by its address, and a target by the address `on`, judged as `target`.

    Raises UsageError for an address that is none or an unknown target.
    """
    seen = Seen()
    checks: list[Check] = []
    chosen = parse_target(target) if target else None
    place = parse_address(on) if on else None
    if source:
        checks += check_source(parse_address(source), open_source, seen)
    if place is not None:
        checks += check_target(place, chosen or parse_target(place.engine), seen.capture)
    return checks
