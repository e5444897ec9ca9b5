"""Rules and defaults that are bound to columns become checks and defaults of these."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

SCRIPT = """
CREATE TABLE dbo.Toll (TollID int NOT NULL, Amount money NULL, Paid money NULL)
GO
CREATE RULE dbo.not_negative AS @v >= 0 and @v < 1000
GO
CREATE DEFAULT dbo.nothing AS 0
GO
CREATE RULE dbo.unused AS @v > 5
GO
EXEC sp_bindrule 'dbo.not_negative', 'dbo.Toll.Amount'
EXEC sp_bindrule 'not_negative', 'Toll.Paid'
EXEC sp_bindefault 'dbo.nothing', 'dbo.Toll.Paid'
GO
"""


@pytest.mark.server
@pytest.mark.parametrize("engine", ["sqlserver", "ase"])
def test_bound_columns_get_what_the_rule_says(engine: str, server_url: str) -> None:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", SCRIPT, "")], engine), "postgresql:18")
    drafts = steps.draft_case(case)
    text = {draft.object.name.lower(): draft.text for draft in drafts.drafts}
    assert text["not_negative"].count("ADD CONSTRAINT") == 2
    assert "CHECK (paid >= 0 and paid < 1000) NOT VALID;" in text["not_negative"]
    assert text["nothing"] == "ALTER TABLE dbo.toll ALTER COLUMN paid SET DEFAULT 0;"
    assert text["unused"].startswith("-- UNUSED is bound to no column")
    assert not steps.try_case(case, drafts, server_url).refused()


def test_a_rule_of_a_type_is_for_a_person() -> None:
    script = SCRIPT.replace("'dbo.Toll.Amount'", "'money_type'")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlserver"), "postgresql:18")
    rule = next(o for o in case.document.objects if o.name.lower() == "not_negative")
    assert rule.outcome == "rewrite"
