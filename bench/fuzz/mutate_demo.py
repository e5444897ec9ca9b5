"""Damages the statements of the demo systems at random: nothing may raise or hang, whatever is deleted, doubled or swapped.

Run: python bench/fuzz/mutate_demo.py --seconds 600 --seed 1
"""

import argparse
import random
import signal
import time
from pathlib import Path

import hullsound.demo
from hullsound.demo import SYSTEMS
from hullsound.sql.clients.reader import FAULT
from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import lex
from hullsound.sql.script import read_script
from hullsound.survey.files import read_all

LONGEST = 4000
"""Characters of a statement that is damaged."""
PATIENCE = 2.0
"""Seconds after which reading a statement counts as hanging."""


class TooSlow(BaseException):
    """Reading took longer than PATIENCE; no recovery of the reader catches this."""


def give_up(*_: object) -> None:
    raise TooSlow


def demo_statements(engine: str) -> list[str]:
    files, _ = read_all(Path(hullsound.demo.__file__).parent / engine)
    dialect = load_dialect(engine)
    texts = [s.text for f in files for s in read_script(f.text, dialect, {}).statements()]
    return [text for text in texts if len(text) < LONGEST]


def damage(words: list[str], chance: random.Random) -> None:
    for _ in range(chance.choice((1, 1, 1, 2, 5))):
        at = chance.randrange(1, len(words))
        match chance.randrange(4):
            case 0 if len(words) > 4:
                del words[at]
            case 1:
                words.insert(at, words[at])
            case 2:
                words[at], words[at - 1] = words[at - 1], words[at]
            case _:
                words.insert(at, chance.choice(words))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=float, default=60)
    parser.add_argument("--seed", type=int, default=0)
    arguments = parser.parse_args()
    chance = random.Random(arguments.seed)
    statements = {engine: demo_statements(engine) for engine in SYSTEMS}
    signal.signal(signal.SIGALRM, give_up)
    ends = time.monotonic() + arguments.seconds
    count = faults = 0
    while time.monotonic() < ends:
        engine = chance.choice(list(statements))
        dialect = load_dialect(engine)
        tokens = lex(chance.choice(statements[engine]), dialect)
        words = [tokens.source(i, i + 1) for i in range(len(tokens.words) - 1)]
        if len(words) < 5:
            continue
        damage(words, chance)
        text = " ".join(words) + "\n"
        count += 1
        signal.setitimer(signal.ITIMER_REAL, PATIENCE)
        try:
            script = read_script(text, dialect, {})
            found = [u.reason for s in script.statements() for u in s.unread() if u.reason.startswith(FAULT)]
        except TooSlow:
            found = ["too slow"]
        finally:
            signal.setitimer(signal.ITIMER_REAL, 0)
        if found:
            faults += 1
            print(engine, found, repr(text))
    print(f"{count} damaged statements, {faults} faults")


if __name__ == "__main__":
    main()
