"""Estate: many databases surveyed and judged side by side, and one view of all of them."""

import os
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from hullsound.errors import HullError, UsageError
from hullsound.estate.document import Estate
from hullsound.estate.estatefile import known_marks, open_estate, put_members, put_result, read_results
from hullsound.estate.members import read_members
from hullsound.estate.model import Member, MemberResult
from hullsound.estate.view import make_estate, shown_source
from hullsound.knowledge.targets import parse_target
from hullsound.project import Project
from hullsound.storage import make_folder

from .common import Progress, no_progress
from .member import judge_member, members_of_server

if TYPE_CHECKING:
    from distributed import Client

_RETRIES = 2
"""How often a member is begun again whose worker was lost."""


def run_estate(
    sources: Sequence[str],
    targets: Sequence[str],
    folder: Path,
    project: Project | None = None,
    *,
    scheduler: str = "",
    workers: int = 0,
    pages: bool = False,
    progress: Progress = no_progress,
) -> Estate:
    """Survey and judge all members that sources name, and return the view of them; results go into `folder`/estate.db.

    What is known and has not changed is not judged again. Work is spread by Dask over `workers` local processes (0: one for each
    core, 1: this process), or over the cluster at `scheduler`; a worker that is lost costs nothing but time.
    Raises UsageError for targets, SourceError for lists and the estate file.
    """
    chosen = tuple(str(parse_target(target)) for target in targets)
    decided = project or Project()
    make_folder(folder / "members")
    members, failed = _expanded(read_members(sources))
    with open_estate(folder / "estate.db") as connection:
        # A password of an address is for this run alone and never written.
        listed = [_without_password(member) for member in members]
        put_members(connection, [*listed, *(member for member, _ in failed)])
        for member, reason in failed:
            put_result(connection, MemberResult(member.name, "", reason=reason))
        marks = known_marks(connection)
        work = [
            (member, (folder / "members").resolve(), chosen, decided, marks.get(member.name, ""), pages)
            for member in members
        ]
        for done, (name, result) in enumerate(_results(work, scheduler, workers), start=1):
            progress(name, done, len(work))
            if result is not None:
                put_result(connection, result)
        return make_estate(read_results(connection), chosen, decided.settings)


def _without_password(member: Member) -> Member:
    import msgspec

    return msgspec.structs.replace(member, source=shown_source(member.source))


def _expanded(members: list[Member]) -> tuple[list[Member], list[tuple[Member, str]]]:
    """Return a member for each database of servers, and the servers that could not be asked, with the reason."""
    found: list[Member] = []
    failed: list[tuple[Member, str]] = []
    for member in members:
        try:
            found += members_of_server(member)
        except HullError as error:
            failed.append((_without_password(member), error.what))
    return found, failed


def _judge(member: Member, folder: Path, targets: tuple[str, ...], project: Project, mark: str, pages: bool) -> Any:
    return member.name, judge_member(member, folder, targets, project, mark, pages=pages)


def _results(work: list[tuple[Any, ...]], scheduler: str, workers: int) -> Iterator[tuple[str, MemberResult | None]]:
    count = workers or os.cpu_count() or 1
    if not scheduler and (count == 1 or len(work) < 2):
        for each in work:
            yield _judge(*each)
        return
    from distributed import as_completed

    with _client(scheduler, min(count, len(work))) as client:
        futures = {}
        for each in work:
            future = client.submit(_judge, *each, pure=False, retries=_RETRIES)
            futures[future] = each[0].name
        for future in as_completed(list(futures)):
            name = futures.pop(future)
            if future.status == "finished":
                yield future.result()
            else:
                yield name, MemberResult(name, "", reason=f"its worker was lost: {future.exception()}")
            future.release()


@contextmanager
def _client(scheduler: str, workers: int) -> "Iterator[Client]":
    """Yield a client of the cluster at an address, or of local processes, which listen on any free ports of this machine alone."""
    import dask
    from distributed import Client, LocalCluster

    if scheduler:
        try:
            client = Client(scheduler, timeout=10)
        except (OSError, TimeoutError, ValueError) as error:
            raise UsageError(
                f"cannot reach the scheduler: {error}",
                where=scheduler,
                hint="Is it up? Its address is tcp://host:8786.",
            ) from None
        with client:
            yield client
        return
    quiet = {
        "distributed.worker.memory.terminate": False,
        "distributed.admin.log-format": "%(message)s",
        # What workers note of each task would grow with the number of members.
        "distributed.worker.profile.enabled": False,
        "distributed.admin.low-level-log-length": 100,
    }
    with (
        dask.config.set(quiet),
        LocalCluster(
            n_workers=workers, threads_per_worker=1, processes=True, host="127.0.0.1", dashboard_address="127.0.0.1:0",
            worker_dashboard_address="127.0.0.1:0", silence_logs=50,
        ) as cluster,
        Client(cluster) as client,
    ):  # fmt: skip
        yield client
