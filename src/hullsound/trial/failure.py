"""Failures of the server itself, such as a full disk: they end a trial and say nothing about a draft."""

from collections.abc import Iterator
from contextlib import contextmanager

from hullsound.errors import TargetError


def server_failed(error: Exception, item: str = "") -> TargetError:
    """Return what to raise where a server fails while it is worked with, by the id of the object that was tried."""
    said = " ".join(str(error).split()) or error.__class__.__name__
    return TargetError(
        f"the server failed during the trial{' of ' * bool(item)}{item}: {said}", where="trial",
        hint="Is it still up, with room on its disk and in its memory? Then run the trial again.",
    )  # fmt: skip


@contextmanager
def failures_told(errors: type[Exception]) -> Iterator[None]:
    """Turn errors of a driver that nothing else has handled into a TargetError."""
    try:
        yield
    except errors as error:
        raise server_failed(error) from error
