"""Scripts of offices in other hands' styles: much of them is promised, and a real PostgreSQL accepts all that is."""

from pathlib import Path

import pytest

from hullsound import steps

pytestmark = pytest.mark.server

OFFICES = Path(__file__).parents[1] / "data" / "offices"


@pytest.mark.parametrize(
    ("file", "engine", "left"),
    [
        ("towage.sql", "sqlserver", set()),
        ("wholesale.sql", "sqlserver", {"dbo.procedure.addorder", "dbo.procedure.split2"}),
        ("pilotage.sql", "oracle", {"package_body.pilotage"}),
        ("invoicing.sql", "oracle", set()),
        ("staff.sql", "oracle", set()),
        ("payroll.sql", "db2", set()),
        ("fuel.sql", "ase", {"dbo.procedure.monthly", "dbo.procedure.weekly"}),
    ],
)
def test_what_is_promised_of_an_office_is_accepted(file: str, engine: str, left: set[str], server_url: str) -> None:
    case = steps.assess_catalog(steps.survey_scripts(OFFICES / file, engine), "postgresql:18")
    assert {o.id for o in case.document.objects if o.outcome in ("rewrite", "blocked")} == left
    trial = steps.try_case(case, steps.draft_case(case), server_url)
    assert [(r.id, r.line, r.message) for r in trial.refused()] == []
