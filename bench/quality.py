"""Writes docs/quality.md: what the labelled cases find, and how many promised drafts give the same on both engines."""

import sys
from collections import Counter
from datetime import date
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from hullsound import steps  # noqa: E402
from hullsound.steps import Case as JudgedCase  # noqa: E402
from hullsound.trial.postgresql import private_server  # noqa: E402
from tests.blind.cases import find, is_met, read_cases  # noqa: E402
from tests.trial import test_expressions, test_idioms  # noqa: E402

_PAGE = ROOT / "docs" / "quality.md"
_COUNTS = ("cases", "asked", "found", "quiet", "alarmed")
_HEAD = """# What the verdicts and drafts are worth

Made by `make quality` on {date}. The makers of Hull Sound wrote these cases, so the figures flatter; cases of others decide.

## Verdicts

{cases} labelled cases (`tests/blind/*.txt`), written without a look at the rules. *Asked* are places at which something must be
found, *quiet* the cases in which nothing worse than a note may be said.

{verdicts}

## Drafts

One view for each expression of `tests/data/expressions` and `tests/data/idioms`, run on source and target with made-up rows.
`confirm` are drafts that ask a person to look.

{drafts}
"""


def verdicts() -> tuple[int, list[tuple[str, ...]]]:
    """Return how many cases there are, and a row for each source and target and for all."""
    rows: dict[tuple[str, str], Counter[str]] = {}
    total: Counter[str] = Counter()
    for case in read_cases():
        findings = find(case)
        found = sum(is_met(label, findings) for label in case.labels)
        is_alarmed = not case.labels and any(each.severity != "note" for each in findings)
        counts = {
            "cases": 1, "asked": len(case.labels), "found": found, "quiet": int(not case.labels), "alarmed": int(is_alarmed),
        }  # fmt: skip
        rows.setdefault((case.source, case.target.partition(":")[0]), Counter()).update(counts)
        total.update(counts)
    told = [(source, target, *_shown(counts)) for (source, target), counts in sorted(rows.items())]
    return total["cases"], [*told, ("all", "", *_shown(total))]


def _shown(counts: Counter[str]) -> tuple[str, ...]:
    recall = f"{counts['found'] / counts['asked']:.2f}" if counts["asked"] else "-"
    alarms = f"{counts['alarmed'] / counts['quiet']:.2f}" if counts["quiet"] else "-"
    return (*(str(counts[name]) for name in _COUNTS), recall, alarms)


def drafts(url: str) -> list[tuple[str, ...]]:
    """Return a row for each source that runs here: of what is promised, how much gives the same on PostgreSQL."""
    rows = []
    for engine in ("mysql", "sqlite"):
        counts: Counter[tuple[bool, bool]] = Counter()
        for case in (test_expressions.case_of(engine), test_idioms.case_of(engine, "postgresql:18")[0]):
            counts += _equal(case, url)
        for is_sure, name in ((True, "as it is or drafted"), (False, "confirm")):
            equal, apart = counts[is_sure, True], counts[is_sure, False]
            rows.append((engine, name, str(equal + apart), str(equal), f"{equal / (equal + apart):.3f}"))
    return rows


def _equal(case: JudgedCase, url: str) -> Counter[tuple[bool, bool]]:
    outcomes = {each.id: each.outcome for each in case.document.objects}
    results = steps.compare_behaviour(case, steps.draft_case(case), url=url)
    return Counter((outcomes[each.object] != "confirm", each.is_equal) for each in results)


def table(head: tuple[str, ...], rows: list[tuple[str, ...]]) -> str:
    return "\n".join(f"| {' | '.join(row)} |" for row in (head, tuple("---" for _ in head), *rows))


def main() -> None:
    count, told = verdicts()
    head = ("source", "target", *_COUNTS, "recall", "false alarms")
    with private_server() as url:
        same = drafts(url)
    text = _HEAD.format(
        date=date.today().isoformat(), cases=count, verdicts=table(head, told),
        drafts=table(("source", "outcome", "promised", "equal", "share"), same),
    )  # fmt: skip
    _PAGE.write_text(text, encoding="utf-8")
    sys.stdout.write(f"{_PAGE.relative_to(ROOT)}\n")


if __name__ == "__main__":
    main()
