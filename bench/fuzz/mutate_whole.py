"""Damages whole scripts at random and takes them through survey, assessment and drafts of every engine.

Run: python bench/fuzz/mutate_whole.py --seconds 600 --seed 1 [FOLDER of scripts by engine, beside the demo systems]
What must hold of any bytes: nothing raises, no statement is lost, nothing is promised around unread text, and no case takes
longer than PATIENCE. Each fault is printed once for each place in the code, with what makes it again.
"""

import argparse
import random
import signal
import time
import traceback
from collections.abc import Iterator
from pathlib import Path

import hullsound.demo
from hullsound.assess.model import PROMISED
from hullsound.catalog.catalog import Catalog
from hullsound.demo import SYSTEMS
from hullsound.draft.write import draft_all
from hullsound.sql.accounting import unaccounted
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.steps.assess import assess_catalog
from hullsound.steps.scripts import survey_texts
from hullsound.survey.files import ScriptFile, read_all

PIECE = 6000
"""Characters of a text that is damaged."""
PATIENCE = 30.0
"""Seconds of CPU after which a case counts as hanging."""
TARGETS = ("postgresql:18", "mariadb:10.11", "mysql:8.4", "sqlserver:2022", "oracle:23")


class TooSlow(BaseException):
    """A case took longer than PATIENCE; no recovery catches this."""


def give_up(*_: object) -> None:
    raise TooSlow


def texts_by_engine(extra: Path | None) -> dict[str, list[str]]:
    folders = [(engine, Path(hullsound.demo.__file__).parent / engine) for engine in SYSTEMS]
    if extra is not None:
        folders += [(app.parent.name, app) for app in sorted(extra.glob("*/*")) if app.parent.name in SYSTEMS]
    texts: dict[str, list[str]] = {}
    for engine, folder in folders:
        files, _ = read_all(folder)
        texts.setdefault(engine, []).extend(file.text for file in files)
    return texts


def damaged(texts: dict[str, list[str]], engine: str, chance: random.Random) -> str:
    """Return a piece of a text with one to five kinds of damage."""
    text = _piece(chance.choice(texts[engine]), chance)
    for _ in range(chance.choice((1, 1, 2, 3, 5))):
        at = chance.randrange(len(text) + 1)
        match chance.randrange(7):
            case 0:  # bytes flipped
                raw = bytearray(text.encode())
                for _ in range(chance.choice((1, 3, 10))):
                    if raw:
                        raw[chance.randrange(len(raw))] ^= 1 << chance.randrange(8)
                text = raw.decode("utf-8", errors="replace")
            case 1:  # a stretch cut out
                text = text[:at] + text[at + chance.randrange(1, 200) :]
            case 2:  # a stretch of the same engine put in
                text = text[:at] + _piece(chance.choice(texts[engine]), chance)[:600] + text[at:]
            case 3:  # a stretch of another engine put in
                text = text[:at] + _piece(chance.choice(texts[chance.choice(list(texts))]), chance)[:600] + text[at:]
            case 4:  # words dropped and doubled
                words = text.split(" ")
                for _ in range(min(len(words) - 1, chance.choice((1, 4, 12)))):
                    place = chance.randrange(len(words))
                    words[place : place + 1] = [] if chance.random() < 0.5 else [words[place]] * 2
                text = " ".join(words)
            case 5:  # the end cut off
                text = text[:at]
            case _:  # one sign put in
                text = text[:at] + chance.choice("'\"`[](){};,.:@#$%&/*-+=<>|\\\0\n\t~^!?") + text[at:]
        text = text or " "
    return text


def _piece(text: str, chance: random.Random) -> str:
    at = chance.randrange(max(1, len(text) - PIECE))
    return text[at : at + chance.randrange(200, PIECE)]


def faults_of(text: str, engine: str, target: str) -> Iterator[str]:
    """Yield what is wrong with a case beside what raises."""
    script = read_script(text, load_dialect(engine), {})
    yield from (f"lost: {text[start:end][:80]!r}" for start, end in unaccounted(script))
    catalog = survey_texts([ScriptFile("a.sql", text, "")], engine)
    case = assess_catalog(catalog, target)
    yield from _promised_unread(catalog, {o.object.id for o in case.assessment.objects if o.outcome in PROMISED})
    for draft in draft_all(catalog, case.assessment).drafts:
        yield from (f"unforeseen: {reason}" for _, _, reason in draft.skipped if "not foreseen" in reason)
    assert case.document is not None


def _promised_unread(catalog: Catalog, promised: set[str]) -> Iterator[str]:
    yield from (f"promised though unread: {span.object}" for span in catalog.unread if span.object in promised)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", nargs="?", type=Path)
    parser.add_argument("--seconds", type=float, default=60)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--count", type=int, default=0, help="one case of this number alone")
    arguments = parser.parse_args()
    texts = texts_by_engine(arguments.folder)
    signal.signal(signal.SIGPROF, give_up)
    ends = time.monotonic() + arguments.seconds
    seen: dict[str, int] = {}
    number = arguments.count
    while time.monotonic() < ends:
        number += 1
        chance = random.Random(f"{arguments.seed}:{number}")
        engine, target = chance.choice(list(texts)), chance.choice(TARGETS)
        text = damaged(texts, engine, chance)
        signal.setitimer(signal.ITIMER_PROF, PATIENCE)
        try:
            found = list(faults_of(text, engine, target))
        except TooSlow:
            found = [f"too slow: {len(text)} characters"]
        except Exception as error:
            place = traceback.extract_tb(error.__traceback__)[-1]
            found = [
                f"{type(error).__name__} at {Path(place.filename).name}:{place.lineno} {place.name}: {str(error)[:80]}"
            ]
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0)
        for fault in found:
            key = fault[:60]
            seen[key] = seen.get(key, 0) + 1
            if seen[key] == 1:
                print(f"seed {arguments.seed} --count {number - 1}, {engine} to {target}: {fault}", flush=True)
        if arguments.count:
            break
    print(f"{number} cases, {sum(seen.values())} faults of {len(seen)} kinds")


if __name__ == "__main__":
    main()
