"""Options that several commands share."""

from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

if TYPE_CHECKING:
    from datetime import date

    from hullsound.project import Project
    from hullsound.settings import Settings


class TextFormat(StrEnum):
    TEXT = "text"
    JSON = "json"


class TableFormat(StrEnum):
    TEXT = "text"
    CSV = "csv"
    JSON = "json"


class FailOn(StrEnum):
    BLOCKER = "blocker"
    WARNING = "warning"
    NEW_BLOCKER = "new-blocker"
    NEW_WARNING = "new-warning"
    NEVER = "never"


class SeverityChoice(StrEnum):
    BLOCKER = "blocker"
    WARNING = "warning"
    NOTE = "note"


Source = Annotated[
    Path,
    typer.Argument(help="Folder or file of SQL scripts, data dictionary (.csv), or Access file.", metavar="SOURCE"),
]
Hull = Annotated[Path, typer.Argument(help="Hull file written by survey.", metavar="NAME.hull")]
From = Annotated[
    str,
    typer.Option(
        "--from",
        help="Engine of the source, with its version if known: oracle:19. Guessed if not given.",
        metavar="ENGINE[:VERSION]",
    ),
]
Encoding = Annotated[
    str, typer.Option("--encoding", help="Encoding of the scripts, where it is not found out: cp850.", metavar="NAME")
]
To = Annotated[
    str,
    typer.Option(
        "--to",
        help="Target: engine[:version][@hosting], such as postgresql:18@hosted-server.",
        metavar="TARGET",
    ),
]
TargetFile = Annotated[
    str,
    typer.Option("--target-file", help="A target of your own: a file that extends a shipped one.", metavar="FILE.toml"),
]
Fail = Annotated[
    FailOn,
    typer.Option(
        "--fail-on",
        help="Exit with status 1 if there is a finding of this severity or worse; new-... counts what --baseline lacks.",
        metavar="blocker|warning|new-blocker|new-warning|never",
    ),
]
Baseline = Annotated[
    Path | None,
    typer.Option(
        "--baseline",
        help="Hull file, assessment (JSON) or SARIF file of an earlier run, for --fail-on new-....",
        metavar="FILE",
    ),
]
Format = Annotated[
    TextFormat, typer.Option("--format", help="text for people, json for programs.", metavar="text|json")
]
Rows = Annotated[
    TableFormat,
    typer.Option("--format", help="text for people, csv for spreadsheets, json for programs.", metavar="text|csv|json"),
]
On = Annotated[
    str,
    typer.Option(
        "--on", help="URL of a server to make the scratch database on, instead of a private one.", metavar="URL"
    ),
]
AskPassword = Annotated[
    bool,
    typer.Option(
        "--ask-password", help="Ask for the password of the source; HULLSOUND_PASSWORD gives it without asking."
    ),
]
Sizes = Annotated[
    Path | None,
    typer.Option("--sizes", help="Rows and bytes by table (CSV), where the survey does not tell.", metavar="SIZES.csv"),
]
Load = Annotated[
    Path | None,
    typer.Option("--load", help="Samples of load (CSV), from meter or from monitoring.", metavar="LOAD.csv"),
]
Prices = Annotated[Path | None, typer.Option("--prices", help="Price list (CSV).", metavar="PRICES.csv")]
Cores = Annotated[
    float | None, typer.Option("--cores", help="Cores of the source, where the load has CPU in per cent.", metavar="N")
]
Stay = Annotated[
    float | None, typer.Option("--stay", min=0, help="What a month costs today, for the break-even.", metavar="COST")
]
HourCost = Annotated[float, typer.Option("--hour-cost", min=0, help="What an hour of work costs.", metavar="COST")]
ChangeRate = Annotated[
    float | None,
    typer.Option("--change-mb-h", min=0, help="MB of changes an hour: asks for the online way too.", metavar="MB"),
]
ProgramFolder = Annotated[
    Path | None, typer.Option("--programs", help="Folder of applications whose SQL is judged as well.", metavar="DIR")
]
Quiet = Annotated[bool, typer.Option("--quiet", "-q", help="No progress on stderr.")]


def ask_password(wanted: bool) -> None:
    """Ask for a password where that is wanted, and keep it where addresses look for it."""
    if wanted:
        import os

        from hullsound.survey.live.model import PASSWORD_VARIABLE

        os.environ[PASSWORD_VARIABLE] = typer.prompt("Password of the source", hide_input=True, err=True)


def split_engine(text: str) -> tuple[str, str]:
    """Split ENGINE[:VERSION]."""
    engine, _, version = text.partition(":")
    return engine.strip().lower(), version.strip()


Jobs = Annotated[
    int,
    typer.Option(
        "--jobs", min=0, help="Processes that read at the same time; 0 for one per processor core.", metavar="N"
    ),
]


def job_count(jobs: int = 0) -> int:
    """Return how many processes to use: as many as were asked for, else one for each core that this process may use."""
    import os

    if jobs:
        return jobs
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


def pick_target(target: str, file: str) -> str:
    """Return the target that --to, --target-file or hullsound.toml names. Raises UsageError for two options, or for none."""
    from hullsound.errors import UsageError

    if target and file:
        raise UsageError("--to and --target-file name two targets", hint="Give one of them.")
    chosen = file or target or project().target
    if not chosen:
        raise UsageError(
            "no target is named", where="--to",
            hint="Give --to such as postgresql:18, or --target-file, or set target in hullsound.toml.",
        )  # fmt: skip
    return chosen


def hull_target(hull: Path, target: str, file: str) -> str:
    """Return the target that options or hullsound.toml name, else the one that the hull file was assessed against last.

    Says which was taken where no option names it. Raises UsageError for two options, SourceError if the hull file cannot be used.
    """
    from hullsound.catalog.judgements import last_target

    from .output import say

    if target or file:
        return pick_target(target, file)
    decided = project().target
    last = "" if decided else last_target(hull)
    chosen = decided or last or "postgresql"
    why = "by hullsound.toml" if decided else "which was assessed last" if last else "since no other was assessed"
    say(f"Target: {chosen}, {why}. Another: --to TARGET.")
    return chosen


def settings(decided: "Project", section: str, **values: object) -> "Settings":
    """Return what estimates assume, with the options of a command. Raises UsageError for a value that does not fit."""
    from hullsound.errors import UsageError

    try:
        return decided.settings.with_given(section, **values)
    except ValueError as error:
        raise UsageError(str(error), where=f"[{section}]", hint="Check the options of the command.") from error


def day(option: str, text: str | None) -> "date | None":
    """Read a date that an option gives. Raises UsageError for anything else."""
    from datetime import date

    from hullsound.errors import UsageError

    try:
        return date.fromisoformat(text) if text is not None else None
    except ValueError:
        raise UsageError(f"{text!r} is not a date", where=option, hint="Write it as 2027-02-01.") from None


def baseline(path: Path | None, fail_on: FailOn, target: str) -> "frozenset[str] | None":
    """Return the findings of a baseline. Raises UsageError for one without --fail-on new-..., or the other way round."""
    from hullsound.errors import UsageError

    if (path is not None) != fail_on.value.startswith("new-"):
        raise UsageError(
            "--baseline and --fail-on new-... go together", where="--baseline",
            hint="Give --baseline FILE with --fail-on new-blocker or new-warning.",
        )  # fmt: skip
    if path is None:
        return None
    from hullsound.knowledge.targets import parse_target
    from hullsound.steps.baseline import read_baseline

    return read_baseline(path, str(parse_target(target)))


def check_picture(path: Path) -> None:
    """Raise UsageError for a picture of a form that is not drawn."""
    from hullsound.errors import UsageError

    if path.suffix not in (".svg", ".png"):
        raise UsageError(
            "pictures are drawn as .svg or .png", where=str(path), hint="Give a name that ends in one of them."
        )


def project() -> "Project":
    """Return what hullsound.toml of the working folder decides. Raises UsageError for its faults."""
    from hullsound.project import FILE_NAME, read_project

    return read_project(Path(FILE_NAME))
