"""What every format is drawn from, and how the formats of this folder are found."""

from collections.abc import Callable
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Protocol

from hullsound.report.document import Document
from hullsound.report.drafted import DraftedSet
from hullsound.report.history import Milestone
from hullsound.workers import Workers

if TYPE_CHECKING:
    from hullsound.assess.model import Assessment
    from hullsound.catalog.catalog import Catalog
    from hullsound.plan.planning import Planning

Files = dict[str, bytes]
"""Contents by the names of files."""


class Reportable(Protocol):
    """What reports are drawn from."""

    catalog: "Catalog"
    assessment: "Assessment"
    workers: Workers

    @property
    def document(self) -> Document: ...

    @property
    def drafts(self) -> DraftedSet: ...

    @property
    def history(self) -> list[Milestone]: ...


Writer = Callable[[Reportable, "Planning | None"], Files]


@cache
def format_names() -> tuple[str, ...]:
    """Return the names of all formats: the modules of this folder but this one."""
    package = __name__.rpartition(".")[0]
    found = [module.name for module in iter_modules(import_module(package).__path__)]
    return tuple(name for name in found if name != __name__.rpartition(".")[2])


def writer_of(name: str) -> Writer:
    """Return what writes a format: the function `write` of its module."""
    writer: Writer = import_module(f"{__name__.rpartition('.')[0]}.{name}").write
    return writer
