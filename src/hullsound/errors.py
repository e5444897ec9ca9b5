"""The errors that reach a person: what, where and what to do next, each with its exit status."""

from typing import ClassVar


class HullError(Exception):
    """Root of all expected errors.

    `where` names the file, key or address; `hint` says what to do next. `status` is the exit status of the
    command line (2 wrong usage, 3 source or file cannot be read, 4 target refused or cannot be reached).
    """

    status: ClassVar[int] = 3

    def __init__(self, what: str, *, where: str = "", hint: str = "") -> None:
        super().__init__(what)
        self.what = what
        self.where = where
        self.hint = hint

    def __str__(self) -> str:
        head = f"{self.where}: {self.what}" if self.where else self.what
        return f"{head}\n{self.hint}" if self.hint else head


class UsageError(HullError):
    """An option, engine, target or name that does not exist or does not fit."""

    status = 2


class SourceError(HullError):
    """The source, or a file that Hull Sound wrote earlier, cannot be read or written."""

    status = 3


class KnowledgeError(SourceError):
    """A knowledge file is wrong; `what` lists every fault with its file and key."""


class TargetError(HullError):
    """The target engine cannot be started, reached or used."""

    status = 4
