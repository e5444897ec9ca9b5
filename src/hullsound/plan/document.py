"""The plan document: what every picture, table and runbook of a plan is drawn from."""

from datetime import date

import msgspec

from hullsound.settings import Assumption

SCHEMA_NAME = "hullsound.plan/1"


class Hours(msgspec.Struct, frozen=True):
    p50: float
    """Hours that suffice in 50 of 100 cases."""
    p80: float
    """Hours that suffice in 80 of 100 cases."""


class PlannedObject(msgspec.Struct, frozen=True):
    id: str
    type: str
    outcome: str
    hours: float
    """Its share of the P50 hours of what is left."""
    begins: date
    """When work on it begins, in half of all cases, if all goes in the order of this list."""


class Bridge(msgspec.Struct, frozen=True):
    """Something that has moved while others on the old side still need it."""

    used: str
    kind: str
    users: list[str]
    until_wave: int
    """The wave with which the last of its users moves."""
    what_to_do: str


class Wave(msgspec.Struct, frozen=True):
    number: int
    """0 is the pilot."""
    objects: list[PlannedObject]
    """In an order in which they can be worked on."""
    hours: Hours
    """Shares of the hours of what is left, so that the waves add up to them."""
    begins: date
    ends_p50: date
    ends_p80: date
    waits_for: list[str]
    """Waves and decisions that must come before."""
    bridges: list[Bridge]
    """What must be bridged between old and new from this wave on."""


def wave_name(number: int) -> str:
    """Return what a wave is called."""
    return "pilot" if number == 0 else f"wave {number}"


class Decision(msgspec.Struct, frozen=True):
    """What blocks, and by when someone must decide."""

    construct: str
    title: str
    remedy: str
    objects: list[str]
    wave: int
    """The first wave that holds one of the objects."""
    due: date


class Progress(msgspec.Struct, frozen=True):
    """What is done, as far as actual hours were recorded."""

    objects: int
    hours: float
    """Hours that the finished objects took."""
    estimated: float
    """Hours that the estimate gave them."""
    spread_factor: float
    """How much wider (above 1) what happened was than assumed; 1 where nothing is finished."""


class CreationStage(msgspec.Struct, frozen=True):
    """One stage of creating the target, in its order."""

    name: str
    objects: int
    levels: int
    """Of the load: levels of tables that wait for each other; 0 for other stages."""


class Plan(msgspec.Struct, frozen=True):
    """Waves and dates for one move."""

    schema: str
    sources: list[str]
    target: str
    hours: Hours
    """Of what is left to do."""
    progress: Progress
    team: int
    hours_week: float
    begins: date
    ends_p50: date
    ends_p80: date
    waves: list[Wave]
    decisions: list[Decision]
    creation: list[CreationStage]
    """The stages of the switch; of several sources together."""
    cut_weight: float
    """Sum of the weights of all edges between waves."""
    edges: int
    cut_edges: int
    assumptions: list[Assumption]
