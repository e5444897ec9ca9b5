"""What a text asks of its target that only a later version has."""

from collections.abc import Iterator
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.knowledge.engine_model import Target, version_text
from hullsound.knowledge.newer import load_newer
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, ColumnDefinition, Name, Select, TypeName

_ROWS_WITHOUT_TABLE: Final = {"oracle": 23}
"""First version that reads a query without FROM."""
_TRUTH_OF_ORACLE: Final = 23


def may_be_newer(target: Target) -> bool:
    """Whether anything is told that the target has not yet."""
    known = load_newer(target.engine)
    versions = [
        *known.calls.values(),
        *known.types.values(),
        *known.names.values(),
        _ROWS_WITHOUT_TABLE.get(target.engine, 0),
    ]
    versions += [since for phrases in known.phrases.values() for _, since in phrases]
    return max(versions, default=0) > target.version


def newer_part(read: ReadStatement, target: Target, catalog: Catalog | None) -> tuple[int, str]:
    """Return the token of the first thing that the target has not yet, and what it is; (-1, '') for none.

    Functions of the catalogue go before those of the engine.
    """
    first, reason = min(_newer(read, target, catalog), default=(-1, ""))
    return first, reason


def _newer(read: ReadStatement, target: Target, catalog: Catalog | None) -> Iterator[tuple[int, str]]:
    known, words = load_newer(target.engine), read.tokens.words
    for call in read.all(Call) if known.calls else ():
        name = call.parts[-1]
        since = max(known.calls.get((name, count), 0) for count in (-1, len(call.arguments)))
        is_own = catalog is not None and any(each.routines for each in catalog.with_name(name))
        if since > target.version and len(call.parts) == 1 and not is_own:
            yield call.first, _told(name, since)
    for kind in read.all(TypeName) if known.types else ():
        if known.types.get(kind.name, 0) > target.version:
            yield kind.first, _told(f"the type {kind.name}", known.types[kind.name])
    for bare in read.all(Name) if known.names else ():
        if known.names.get(bare.parts[0], 0) > target.version and len(bare.parts) == 1:
            yield bare.first, _told(bare.parts[0], known.names[bare.parts[0]])
    for at in range(read.first, read.last) if known.phrases else ():
        for phrase, since in known.phrases.get(words[at], ()):
            if since > target.version and tuple(words[at : at + len(phrase)]) == phrase:
                yield at, _told(" ".join(phrase), since)
    if target.engine == "oracle" and target.version < _TRUTH_OF_ORACLE:
        for column in read.all(ColumnDefinition):
            if column.type is not None and column.type.name == "BOOLEAN":
                yield column.first, _told("a column of the type BOOLEAN", _TRUTH_OF_ORACLE)
    since = _ROWS_WITHOUT_TABLE.get(target.engine, 0)
    if since > target.version:
        yield from (
            (select.first, _told("a query without FROM", since))
            for select in read.all(Select)
            if select.from_at < 0 and select.items and words[select.first] == "SELECT"
        )


def _told(what: str, since: int) -> str:
    return f"{what}, which is there since version {version_text(since)}"
