"""In which order were the scripts of a folder run? Found out from versions, numbers and dates in their names."""

import re
from dataclasses import dataclass, field
from typing import Final

from .files import ScriptFile

_UNDOING: Final = re.compile(r"(?:^|[^a-z])(?:down|undo|rollback|revert)(?:[^a-z]|$)", re.IGNORECASE)
_UNDO_PREFIX: Final = re.compile(r"U\d[\d._]*__")
_CLEARING: Final = re.compile(
    r"(?:^|[^a-z])(?:drop|drops|dropall|uninstall|deinstall|teardown|remove|destroy|cleanup|delete)(?:[^a-z]|$)",
    re.IGNORECASE,
)
_MAKES: Final = re.compile(r"(?im)^\s*(?:create|alter|insert|merge)\b")
_UPGRADE: Final = re.compile(
    r"upgrade|update|patch|migrat|delta|hotfix|[_-]to[_-]|(?:^|[^a-z])(?:up|alter|change)(?:[^a-z]|$)", re.IGNORECASE
)
_VERSIONS: Final = (
    re.compile(r"^[VRB]?(\d+(?:[._]\d+)*)__"),
    re.compile(r"^(\d{4}[-_.]?\d{2}[-_.]?\d{2}(?:[-_.T]?\d{4,6})?)(?!\d)"),
    re.compile(r"^(\d+(?:\.\d+)*)(?=[-_. ]|$)"),
    re.compile(r"(?<![\d.])(\d+(?:\.\d+)+)(?![\d.]*\d)"),
    re.compile(r"(?i)(?:^|[^a-z])(?:v|ver|version|rel|release|r)[-_.]?(\d+(?:[._]\d+)*)"),
)  # fmt: skip
"""Where a name holds a version, date or number, the clearest sign first."""
_ANY_NUMBER: Final = re.compile(r"(\d+(?:[._]\d+)*)")


@dataclass(slots=True)
class ScriptOrder:
    """The files in the order in which they are replayed."""

    files: list[ScriptFile]
    ranks: dict[str, int]
    """Place of each file; files of one place have no known order among themselves."""
    left_out: dict[str, str] = field(default_factory=dict)
    """Files that undo what others do, with the reason why they are passed over."""

    @property
    def is_found(self) -> bool:
        """Whether names tell of any order."""
        return len(set(self.ranks.values())) > 1


def order_scripts(files: list[ScriptFile], called: frozenset[str] = frozenset()) -> ScriptOrder:
    """Sort files by what their names tell: first those without a version, then upgrades from the earliest to the latest.

    Files that are `called` by others run where they are called, and are never left out.
    """
    left_out = {} if len(files) < 2 else {f.name: _undoes(f) for f in files if f.name not in called and _undoes(f)}
    if len(left_out) == len(files):
        left_out = {}
    kept = [file for file in files if file.name not in left_out]
    keys = {file.name: _key(file.name) for file in kept}
    versioned = [key for key in keys.values() if key[1:] != ((), ())]
    if len(versioned) < 2 and not any(key[0] for key in versioned):
        return ScriptOrder(kept, dict.fromkeys(keys, 0), left_out)
    places = {key: place for place, key in enumerate(sorted(set(keys.values())))}
    ranks = {name: places[key] for name, key in keys.items()}
    return ScriptOrder(sorted(kept, key=lambda file: ranks[file.name]), ranks, left_out)


def _undoes(file: ScriptFile) -> str:
    """Return why a file is one that takes back what others do; '' for every other file."""
    folder, _, name = file.name.rpartition("/")
    stem = name.rsplit(".", 1)[0]
    if _UNDO_PREFIX.match(stem) or _UNDOING.search(stem) or _UNDOING.search(folder):
        return "its name says that it takes back what another script does"
    if _CLEARING.search(stem) and not _MAKES.search(file.text):
        return "its name says that it clears away what other scripts create, and it creates nothing"
    return ""


def _key(path: str) -> tuple[bool, tuple[int, ...], tuple[int, ...]]:
    """Return what a path is sorted by: whether it is an upgrade, the version that it leads to, and the one it starts from."""
    *folders, name = path.split("/")
    stem = name.rsplit(".", 1)[0]
    is_upgrade = any(map(_UPGRADE.search, (*folders, stem)))
    versions = _versions(stem, is_upgrade=is_upgrade)
    outer = [number for folder in folders for version in _versions(folder, is_upgrade=False) for number in version]
    target = versions[-1] if versions else ()
    start = versions[0] if len(versions) > 1 else ()
    if not versions and not outer:
        is_upgrade = False
    return is_upgrade, (*outer, *target), start


def _versions(name: str, *, is_upgrade: bool) -> list[tuple[int, ...]]:
    """Return the versions that a name holds: of 3.4.0_to_4.0.0 both, of V2__name and 003_name one."""
    for pattern in _VERSIONS:
        found = pattern.findall(name)
        if found:
            return [_numbers(text) for text in found]
    return [_numbers(text) for text in _ANY_NUMBER.findall(name)] if is_upgrade else []


def _numbers(text: str) -> tuple[int, ...]:
    return tuple(int(number) for number in re.findall(r"\d+", text))
