"""Loads what is known of source engines: constructs, functions, types and what the engine itself provides."""

import tomllib
from functools import cache
from typing import Final

import msgspec

from hullsound.errors import KnowledgeError
from hullsound.knowledge.engine_model import EngineRow, SignatureRow, SourceTypeRow
from hullsound.knowledge.model import (
    Construct,
    ConstructId,
    ConstructRow,
    FunctionRow,
    GeneralRow,
    Match,
    NarrowerRow,
    QuestionRow,
)

from .compiled import ROOT, read_document
from .rows import Faults, read_rows, toml_files

_NARROWER: Final = "narrower.toml"
"""File of a folder of constructs with parts of them that some target has less to say to."""


@cache
def load_constructs(engine: str) -> dict[str, Construct]:
    """Return all constructs of a source engine by id, those it shares with its families included.

    Raises KnowledgeError naming every fault.
    """
    faults = Faults()
    constructs: dict[str, Construct] = {}

    def put(file: str, key: str, row: ConstructRow) -> None:
        name = f"{engine}.{key}"
        _check_construct(file, key, row, faults)
        if name in constructs:
            faults.add(file, key, f"also defined in {constructs[name].file}")
        constructs[name] = Construct(
            name, row.title, row.meaning, row.match, row.example, row.unlike, file, row.topic, row.common, row.plumbing,
            synonyms=row.synonyms,
        )  # fmt: skip

    narrower: dict[str, tuple[str, NarrowerRow]] = {}
    for folder in (engine, *load_engine(engine).families):
        for file in toml_files("constructs", folder):
            if file.name == _NARROWER:
                narrower |= {key: (file.name, part) for key, part in read_rows(file, NarrowerRow, faults).items()}
                continue
            for key, row in read_rows(file, ConstructRow, faults).items():
                put(file.name, key, row)
        for file in toml_files("functions"):
            if file.name == f"{folder}.toml":
                for key, function in read_rows(file, FunctionRow, faults).items():
                    put(file.name, key, _construct_row(function))
    for name in load_engine(engine).common:
        for key, row in read_rows(ROOT.joinpath("constructs", "common", f"{name}.toml"), ConstructRow, faults).items():
            put(f"{name}.toml", key, msgspec.structs.replace(row, common=True))
    for key, (file_name, part) in narrower.items():
        wider = constructs.get(f"{engine}.{part.narrows}")
        if wider is None:
            faults.add(file_name, key, f"no construct {engine}.{part.narrows}")
            continue
        constructs[f"{engine}.{key}"] = msgspec.structs.replace(
            wider, id=f"{engine}.{key}", match=msgspec.structs.replace(wider.match, where=part.where), unlike="",
            example=part.example, file=file_name, topic=part.topic, wider=wider.id, meaning=part.meaning or wider.meaning,
        )  # fmt: skip
    faults.raise_any()
    return constructs


def _construct_row(function: FunctionRow) -> ConstructRow:
    kind = "Supplied package" if function.package else "Function"
    match = Match(package=function.name) if function.package else Match(function=function.name)
    return ConstructRow(
        f"{kind} {function.name}", function.meaning, match, function.example, topic=function.topic
    )  # fmt: skip


def _check_construct(file: str, key: str, row: ConstructRow, faults: Faults) -> None:
    given = row.match.given
    if len(given) != 1:
        faults.add(file, key, f"match needs exactly one key, has {given or 'none'}")
    if key != key.lower() or " " in key or "_" in key:
        faults.add(file, key, "a construct's name is kebab-case")
    if not row.example.strip():
        faults.add(file, key, "example is empty")


@cache
def load_signatures(engine: str) -> dict[str, SignatureRow]:
    """Return what the functions of an engine give and take, by name: what holds everywhere, its families' and its own.

    Raises KnowledgeError naming every fault.
    """
    faults = Faults()
    found: dict[str, SignatureRow] = {}
    for name in ("general", *load_engine(engine).families, engine):
        file = ROOT.joinpath("signatures", f"{name}.toml")
        own: dict[str, SignatureRow] = {}
        for key, row in read_rows(file, SignatureRow, faults).items() if file.is_file() else ():
            if not row.gives and row.argument < 0:
                faults.add(file.name, key, "needs gives or argument")
            for function in row.names.split():
                if function in own:
                    faults.add(file.name, key, f"{function} stands there twice")
                own[function] = row
        found |= own
    faults.raise_any()
    return found


@cache
def load_general() -> dict[ConstructId, GeneralRow]:
    """Return what Hull Sound itself has to say of unread text, unresolved names, drafts and trials, by id."""
    faults = Faults()
    rows = read_rows(ROOT.joinpath("general.toml"), GeneralRow, faults)
    faults.raise_any()
    for key, question in load_questions().items():
        rows[f"data.{key}"] = GeneralRow(
            question.title, question.meaning, question.way, question.remedy, question.minutes
        )
    return rows


@cache
def load_questions() -> dict[str, QuestionRow]:
    """Return what a profile asks the values of a source, by name. Raises KnowledgeError naming every fault."""
    faults = Faults()
    rows = read_rows(ROOT.joinpath("questions.toml"), QuestionRow, faults)
    faults.raise_any()
    return rows


@cache
def load_engine(engine: str) -> EngineRow:
    """Return what a source engine itself provides. Raises KnowledgeError if its file is wrong or missing."""
    file = ROOT.joinpath("engines", f"{engine}.toml")
    try:
        return msgspec.convert(read_document(file), EngineRow)
    except (OSError, tomllib.TOMLDecodeError, msgspec.ValidationError) as error:
        raise KnowledgeError(f"engines/{engine}.toml: {error}", hint="Mend the knowledge file named above.") from error


@cache
def load_source_types(engine: str) -> dict[str, SourceTypeRow]:
    """Return the data types of a source engine by upper-case name, those of its families included."""
    faults = Faults()
    rows: dict[str, SourceTypeRow] = {}
    for name in (*load_engine(engine).families, engine):
        file = ROOT.joinpath("types", f"{name}.toml")
        if file.is_file():
            rows |= read_rows(file, SourceTypeRow, faults)
    faults.raise_any()
    return rows
