"""What engines have since one of their versions only, from targets/<engine>/newer.toml."""

from functools import cache

from hullsound.knowledge.engine_model import Newer, NewerRow

from .compiled import ROOT
from .rows import Faults, read_rows


@cache
def load_newer(engine: str) -> Newer:
    """Return what an engine has since versions that are told; nothing where no file tells. Raises KnowledgeError."""
    faults, file = Faults(), ROOT.joinpath("targets", engine, "newer.toml")
    found = Newer({}, {}, {}, {})
    for key, row in read_rows(file, NewerRow, faults).items() if file.is_file() else ():
        if not key.isdigit():
            faults.add(file.name, key, "is no version")
            continue
        version = int(key)
        for function in row.functions.split():
            name, _, count = function.partition("/")
            found.calls[(name, int(count or -1))] = version
        found.types.update(dict.fromkeys(row.types.split(), version))
        found.names.update(dict.fromkeys(row.names.split(), version))
        for phrase in row.phrases:
            words = tuple(phrase.split())
            found.phrases.setdefault(words[0], []).append((words, version))
    faults.raise_any()
    return found
