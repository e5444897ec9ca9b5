"""Reads who belongs to an estate: lists, folders, hull files, kits and addresses, mixed."""

import tomllib
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import Final

import msgspec

from hullsound.errors import SourceError, UsageError
from hullsound.survey.live.model import is_address, parse_address
from hullsound.tables import LINE, Column, day, read_table, table_error, text

from .model import Member

MEMBER_COLUMNS: Final = (
    Column("source", text, is_required=True, also=("address", "path", "url", "address or path")),
    Column("name", text, also=("database", "member")),
    Column("engine", text, also=("from",)),
    Column("version", text),
    Column("owner", text, also=("team", "responsible")),
    Column("group", text, also=("application", "system")),
    Column("end of support", day, also=("end of life", "eos")),
)
_NAME_SIGNS: Final = frozenset("-_.")


def read_members(sources: Sequence[str]) -> list[Member]:
    """Return the members that sources name; each name once.

    A CSV file with a column `source`, or a TOML file with [[member]] tables, is a list; anything else is a member itself.
    Raises SourceError for a list that is wrong, UsageError where no source is given.
    """
    members: list[Member] = []
    for source in sources:
        path = Path(source)
        if not is_address(source) and path.suffix == ".toml" and path.is_file():
            members += _from_toml(path)
        elif not is_address(source) and path.suffix == ".csv" and path.is_file() and _is_list(path):
            members += _from_csv(path)
        else:
            members.append(Member(_own_name(source), source))
    if not members:
        raise UsageError(
            "no member is named", where="estate", hint="Give a list (CSV or TOML), folders, hull files or addresses."
        )
    return _with_own_names(members)


def _is_list(path: Path) -> bool:
    """Whether a CSV file lists members rather than being a data dictionary."""
    with path.open(encoding="utf-8-sig", errors="replace") as stream:
        head = stream.readline().lower()
    cells = {cell.strip().strip('"') for cell in head.replace(";", ",").replace("\t", ",").split(",")}
    return bool(cells & {"source", "address", "path", "url", "address or path"})


def _from_csv(path: Path) -> list[Member]:
    rows = read_table(path, MEMBER_COLUMNS, "the list of members")
    if not rows:
        raise table_error(path, ["names no member"], "Each line names a source.")
    found = []
    for row in rows:
        source = _placed(row["source"], path)
        engine, _, version = (row.get("engine") or "").lower().partition(":")
        name = row.get("name") or _own_name(source)
        found.append(
            Member(
                name, source, engine, row.get("version") or version, row.get("owner") or "", row.get("group") or "",
                row.get("end of support"),
            )
        )  # fmt: skip
        if not _is_name(name):
            raise table_error(path, [f"line {row[LINE]}, column name: {name!r} is no name for files"], _NAME_HINT)
    return found


def _from_toml(path: Path) -> list[Member]:
    try:
        document = tomllib.loads(path.read_text(encoding="utf-8"))
        rows = [{key.replace(" ", "_"): value for key, value in row.items()} for row in document.get("member", [])]
        members = [msgspec.convert({"name": _own_name(str(row.get("source", ""))), **row}, Member) for row in rows]
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError, msgspec.ValidationError, AttributeError) as error:
        raise SourceError(f"cannot read the list of members: {error}", where=str(path)) from error
    if not members:
        raise SourceError("names no member", where=str(path), hint='Write [[member]] with source = "..." for each.')
    for member in members:
        if not _is_name(member.name):
            raise SourceError(f"{member.name!r} is no name for files", where=str(path), hint=_NAME_HINT)
    return [msgspec.structs.replace(each, source=_placed(each.source, path)) for each in members]


_NAME_HINT: Final = "Names take letters, digits and - _ . and begin with a letter or digit."


def _is_name(name: str) -> bool:
    return bool(name) and name[0].isalnum() and all(sign.isalnum() or sign in _NAME_SIGNS for sign in name)


def _placed(source: str, beside: Path) -> str:
    """Return a path of a list as one from here: relative ones count from the folder of the list."""
    return source if is_address(source) or Path(source).is_absolute() else str(beside.parent / source)


def _own_name(source: str) -> str:
    if is_address(source):
        address = parse_address(source)
        raw = address.name if address.database != "*" else address.host
    else:
        raw = Path(source).resolve().name.removesuffix(".hull").removesuffix(".sql").removesuffix(".csv")
    name = "".join(sign if sign.isalnum() or sign in _NAME_SIGNS else "-" for sign in raw).strip("-._")
    return name or "member"


def _with_own_names(members: Iterable[Member]) -> list[Member]:
    """Number names that occur more than once, as files on any system would meet them."""
    taken: set[str] = set()
    found = []
    for member in members:
        name, number = member.name, 1
        while name.lower() in taken:
            number += 1
            name = f"{member.name}-{number}"
        taken.add(name.lower())
        found.append(msgspec.structs.replace(member, name=name))
    return found
