"""Start a project: a commented hullsound.toml, from what is in the folder."""

from collections.abc import Iterator
from datetime import date
from pathlib import Path
from typing import Any, Final

from hullsound.catalog.hullfile import read_hull_facts
from hullsound.errors import SourceError, UsageError
from hullsound.knowledge.targets import parse_target
from hullsound.project import FILE_NAME
from hullsound.settings import SECTIONS, every_key
from hullsound.storage import write_text
from hullsound.survey.files import read_all
from hullsound.survey.guess import guess_engine

_MOST_LOOKED_AT: Final = 40
"""Folders that are looked into for scripts."""
_TARGET: Final = "postgresql"
_WRITTEN_BY_US: Final = ("manifest.json", "checks.json")
"""Files that tell a folder of drafts or checks from one of scripts."""


def start_project(folder: Path, target: str = "", team: int = 0, *, is_forced: bool = False) -> Path:
    """Write hullsound.toml into a folder; return its path.

    Raises UsageError for an unknown target, or where the file is there already and is not to be replaced.
    """
    path = folder / FILE_NAME
    if path.exists() and not is_forced:
        raise UsageError("is there already", where=str(path), hint="Edit it, or write it anew with --force.")
    chosen = str(parse_target(target or _TARGET))
    write_text(path, project_text(list(_sources(folder)), chosen, team))
    return path


def project_text(sources: list[str], target: str, team: int = 0) -> str:
    """Return a hullsound.toml whose keys stand there with what is assumed, commented out where they are not decided."""
    lines = [
        "# What this project decides. Every command run in this folder heeds it; options of a command override it.",
        "",
        "# The target that is taken where --to is not given.",
        f'target = "{target}"',
        "",
    ]
    if sources:
        lines += ["# What was found here:", *(f"#   {' '.join(each.split())}" for each in sources), ""]
    lines += [
        "# Other types for columns; the most exact pattern wins.",
        "# [[types]]",
        '# type = "NUMBER(1*)"',
        '# table = "*"',
        '# column = "is_*"',
        '# becomes = "boolean"',
        "",
        "# Findings that may stay, with who decided that and why.",
        "# [[accept]]",
        '# construct = "oracle.connect-by"',
        '# object = "*"',
        '# reason = "..."',
        '# owner = "..."',
        "# until = 2027-12-31",
        "",
    ]
    for section in SECTIONS:
        lines += [f"[{section}]"]
        defaults = SECTIONS[section]()
        for each in every_key(section):
            name = each.key.partition(".")[2]
            value = getattr(defaults, name)
            is_decided = each.key == "plan.team" and team > 0
            text = _toml(team if is_decided else value)
            lines.append(f"{'' if is_decided else '# '}{name} = {text}".ljust(44) + f" # {each.meaning}")
        lines.append("")
    return "\n".join(lines).rstrip() + "\n"


def _toml(value: Any) -> str:
    """Write a default as TOML; where there is none, an example of what may stand there."""
    if value is None:
        return date.today().replace(month=1, day=1).isoformat()
    if isinstance(value, tuple):
        return f"[{', '.join(_toml(each) for each in value)}]"
    return "{}" if value == {} else str(value)


def _sources(folder: Path) -> Iterator[str]:
    """Yield what can be assessed here, each with the command that goes on from it."""
    for hull in sorted(folder.glob("*.hull")):
        try:
            engine, version, name = read_hull_facts(hull)
        except SourceError:
            continue
        what = f"{engine} {version}".strip()
        yield f"{hull.name}: {name or 'a survey'}, {what}; go on with: hullsound assess {hull.name}"
    places = sorted(each for each in folder.iterdir() if each.is_dir() and not each.name.startswith("."))
    for place in places[:_MOST_LOOKED_AT]:
        if any((place / name).is_file() for name in _WRITTEN_BY_US):
            continue
        try:
            files, _ = read_all(place)
        except (SourceError, UsageError):
            continue
        guess = guess_engine(files) if files else None
        if guess is not None and guess.engine:
            command = f"hullsound survey {place.name} -o {place.name}.hull"
            yield f"{place.name}/: {len(files)} scripts of {guess.engine}; go on with: {command}"
