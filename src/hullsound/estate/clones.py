"""Which members are clones of each other: they share nearly all of their code and tables."""

import hashlib
import re
from collections.abc import Iterable, Sequence
from typing import Final

import numpy as np

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.ranges import SEED

_ALIKE: Final = 0.9
"""Share of texts that clones have in common, of all texts of both (Jaccard)."""
_CANDIDATE: Final = 0.7
_HASHES: Final = 96
_PRIME: Final = (1 << 61) - 1
_BITS: Final = 63
_TOLD_APART: Final = frozenset((ObjectType.GRANT, ObjectType.DATA, ObjectType.QUERY, ObjectType.CHANGE, ObjectType.BLOCK,
                                ObjectType.SCHEMA))  # fmt: skip
"""Types that say nothing of what a database is for."""
_WORD: Final = re.compile(r"[\w$#@]+|[^\s\w]")


def code_marks(catalog: Catalog) -> tuple[int, ...]:
    """Return a mark of each object's text, free of schema names, case and layout, sorted."""
    schemas = {item.schema.lower() for item in catalog.objects.values()} - {""}
    marks = set()
    for item in catalog.objects.values():
        if item.type in _TOLD_APART:
            continue
        words = [word for word in _WORD.findall(item.text.lower()) if word not in schemas]
        digest = hashlib.blake2b(" ".join(words).encode(errors="replace"), digest_size=8).digest()
        marks.add(int.from_bytes(digest, "big") >> (64 - _BITS))
    return tuple(sorted(marks))


def find_clones(members: Sequence[tuple[str, Sequence[int]]]) -> list[list[str]]:
    """Return groups of clones by name, each sorted. Members are given by name and marks.

    Candidates come from MinHash signatures (Broder, 1997), so that not every pair is compared; the share is then counted.
    """
    known = [(name, frozenset(marks)) for name, marks in members if marks]
    root = list(range(len(known)))

    def find(place: int) -> int:
        while root[place] != place:
            root[place] = root[root[place]]
            place = root[place]
        return place

    for one, other in _candidates([marks for _, marks in known]):
        first, second = find(one), find(other)
        if first != second and _share(known[one][1], known[other][1]) >= _ALIKE:
            root[max(first, second)] = min(first, second)
    groups: dict[int, list[str]] = {}
    for place, (name, _) in enumerate(known):
        groups.setdefault(find(place), []).append(name)
    return sorted(sorted(group) for group in groups.values() if len(group) > 1)


def _share(one: frozenset[int], other: frozenset[int]) -> float:
    return len(one & other) / len(one | other)


def _candidates(sets: Sequence[frozenset[int]]) -> Iterable[tuple[int, int]]:
    """Yield pairs whose signatures agree in most places."""
    if len(sets) < 2:
        return
    rng = np.random.default_rng(SEED)
    factors = rng.integers(1, 1 << 31, size=_HASHES, dtype=np.uint64)
    shifts = rng.integers(0, 1 << 31, size=_HASHES, dtype=np.uint64)
    signatures = np.empty((len(sets), _HASHES), dtype=np.uint64)
    for place, marks in enumerate(sets):
        folded = np.fromiter(marks, dtype=np.uint64, count=len(marks)) >> np.uint64(32)
        signatures[place] = ((folded[:, None] * factors + shifts) % np.uint64(_PRIME)).min(axis=0)
    for place in range(len(sets) - 1):
        agree = (signatures[place + 1 :] == signatures[place]).mean(axis=1)
        for other in np.flatnonzero(agree >= _CANDIDATE):
            yield place, place + 1 + int(other)
