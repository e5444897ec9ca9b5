"""What was read of files that belong together, packed so that it can be kept and need not be read again."""

import hashlib
import zlib

import msgspec

from .model import Change, FileFacts, Object, Sighting, UnreadSpan
from .references import Use


class Part(msgspec.Struct, array_like=True):
    """All that the statements of a group of files say, before names are resolved."""

    objects: list[Object]
    """In the order of their statements; of one id there may be several, of which the replay tells which holds."""
    unread: list[UnreadSpan]
    files: list[FileFacts]
    sightings: list[Sighting]
    changes: list[Change]
    uses: bytes
    """Names that the objects use, packed by `pack_uses`: there are many, and they wait until everything is read."""
    missing: list[tuple[str, int, str]]
    """Calls of files that are not there: (file, line, called name)."""
    steps: int
    """How many statements were added."""


_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(Part)
_USES = msgspec.msgpack.Decoder(list[Use])


def pack_uses(uses: list[Use]) -> bytes:
    return zlib.compress(_ENCODER.encode(uses), 1)


def unpack_uses(packed: bytes) -> list[Use]:
    return _USES.decode(zlib.decompress(packed))


def pack_part(part: Part) -> bytes:
    return zlib.compress(_ENCODER.encode(part), 1)


def unpack_part(packed: bytes) -> Part:
    return _DECODER.decode(zlib.decompress(packed))


def part_key(fingerprint: str, engine: str, files: list[tuple[str, str]]) -> str:
    """Return the key of a part: what it is read with, and the names and digests of its files."""
    return hashlib.sha256(repr((fingerprint, engine, files)).encode()).hexdigest()
