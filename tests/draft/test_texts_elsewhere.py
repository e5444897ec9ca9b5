"""Drafts of whole scripts for targets that run nowhere here, read by hand and kept: `HULLSOUND_UPDATE=1` writes them anew.

A change of a rule shows in these files what it changes; nothing of it may go unread.
"""

import os
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

DATA = Path(__file__).parents[1] / "data"
SCRIPTS = [
    ("moorings.sql", "oracle", "sqlserver:2022"),
    ("moorings.sql", "oracle", "mysql:8.4"),
    ("pontoons.sql", "sqlserver", "oracle:19"),
    ("pontoons.sql", "sqlserver", "mysql:8.4"),
    ("chandlery.sql", "sqlserver", "oracle:19"),
    ("crews.sql", "oracle", "sqlserver:2022"),
    ("berths.sql", "postgresql", "sqlserver:2022"),
    ("berths.sql", "postgresql", "oracle:19"),
    ("orders.sql", "mysql", "oracle:19"),
    ("yard.sql", "mysql", "sqlserver:2022"),
    ("yard.sql", "mysql", "oracle:19"),
    ("quays.sql", "sqlserver", "oracle:19"),
    ("tariffs.sql", "oracle", "sqlserver:2022"),
    ("lines.sql", "sqlserver", "mysql:8.4"),
]


def rendered(script: str, engine: str, target: str) -> str:
    """Return each promised draft, and for the others what stands against it."""
    text = (DATA / "behaviour" / script).read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile(script, text, "")], engine), target)
    texts = []
    for draft in case.drafts.drafts:
        reasons = "".join(f"-- line {line}: {reason}\n" for _, line, reason in draft.skipped)
        texts.append(f"-- {draft.object.id}: {draft.outcome.value}\n{reasons}{draft.text.strip()}".strip() + "\n")
    return "\n".join(texts)


@pytest.mark.parametrize(("script", "engine", "target"), SCRIPTS)
def test_drafts_are_the_texts_that_were_read(script: str, engine: str, target: str) -> None:
    path = DATA / "drafts" / "elsewhere" / f"{Path(script).stem}.{target.partition(':')[0]}.sql"
    result = rendered(script, engine, target)
    if os.environ.get("HULLSOUND_UPDATE"):
        path.write_text(result, encoding="utf-8")
    assert result == path.read_text(encoding="utf-8")
