"""Reads TOML files of knowledge as rows of one shape; every fault is gathered, with its file and key."""

import tomllib
from collections.abc import Iterator
from importlib.resources.abc import Traversable
from typing import Any, TypeVar

import msgspec

from hullsound.errors import KnowledgeError

from .compiled import ROOT, read_document

_Row = TypeVar("_Row")


class Faults:
    """Faults met while loading, raised together."""

    def __init__(self) -> None:
        self.lines: list[str] = []

    def add(self, file: str, key: str, fault: str) -> None:
        self.lines.append(f"{file}: [{key}]: {fault}" if key else f"{file}: {fault}")

    def raise_any(self) -> None:
        if self.lines:
            raise KnowledgeError("\n".join(self.lines), hint="Mend the knowledge files named above.")


def read_rows(file: Traversable, row: type[_Row], faults: Faults) -> dict[str, _Row]:
    """Read a TOML file of tables as rows of one shape, adding what is wrong to `faults`."""
    try:
        document = read_document(file)
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        faults.add(file.name, "", str(error))
        return {}
    return convert_rows(file.name, document, row, faults)


def convert_rows(name: str, document: dict[str, Any], row: type[_Row], faults: Faults) -> dict[str, _Row]:
    """Turn the tables of a document into rows of one shape, adding what is wrong to `faults`."""
    rows: dict[str, _Row] = {}
    for key, value in document.items():
        try:
            rows[key] = msgspec.convert(value, row)
        except msgspec.ValidationError as error:
            faults.add(name, key, str(error))
    return rows


def toml_files(*path: str) -> Iterator[Traversable]:
    """Yield the TOML files of a folder of knowledge, by name; none if there is no such folder."""
    folder = ROOT.joinpath(*path)
    if folder.is_dir():
        yield from sorted((f for f in folder.iterdir() if f.name.endswith(".toml")), key=lambda f: f.name)
