"""Settings under which T-SQL code was made or runs: what NULL, quotes, dates and locks mean there."""

from typing import Final

import pytest

from hullsound import steps
from hullsound.catalog.model import ObjectType
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile

TABLE: Final = "CREATE TABLE t (id int NOT NULL, name varchar(20) NULL, d datetime)\nGO\n"
TARGETS: Final = ("postgresql:18", "mysql:8.4", "mariadb:11.8", "oracle:19")


def procedure(script: str, target: str, source: str = "sqlserver") -> Draft:
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE + script, "")], source)
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    return next(each for each in drafts if each.object.type is ObjectType.PROCEDURE)


@pytest.mark.parametrize("target", TARGETS)
@pytest.mark.parametrize(
    ("source", "setting", "is_null_test"),
    [
        ("sqlserver", "SET ANSI_NULLS OFF", True),
        ("sqlserver", "SET ANSI_NULLS, QUOTED_IDENTIFIER OFF", True),
        ("sqlserver", "SET ANSI_NULLS OFF\nGO\nSET ANSI_NULLS ON", False),
        ("sqlserver", "SET NOCOUNT ON", False),
        ("ase", "set nocount on", True),
        ("ase", "set ansinull on", False),
    ],
)
def test_null_compared_as_the_code_was_made(target: str, source: str, setting: str, is_null_test: bool) -> None:
    script = f"{setting}\nGO\nCREATE PROCEDURE p AS DELETE FROM t WHERE name = NULL\nGO\n"
    assert ("IS NULL" in procedure(script, target, source).text) is is_null_test


@pytest.mark.parametrize("target", TARGETS)
def test_text_in_double_quotes_stays_a_text(target: str) -> None:
    script = 'SET QUOTED_IDENTIFIER OFF\nGO\nCREATE PROCEDURE p AS UPDATE t SET name = "quay" WHERE id = 1\nGO\n'
    draft = procedure(script, target)
    assert draft.is_promised
    assert "name = 'quay'" in draft.text


@pytest.mark.parametrize("target", TARGETS)
@pytest.mark.parametrize(
    "setting", ["CONCAT_NULL_YIELDS_NULL OFF", "ANSI_WARNINGS OFF", "DATEFORMAT dmy", "LANGUAGE German"]
)
def test_setting_that_changes_what_follows_is_not_promised(target: str, setting: str) -> None:
    script = f"CREATE PROCEDURE p AS BEGIN SET {setting}; UPDATE t SET name = name + 'x', d = '3/4/2024' END\nGO\n"
    assert not procedure(script, target).is_promised


@pytest.mark.parametrize(("time", "written"), [("500", "500"), ("-1", "0"), ("0", "1")])
def test_time_to_wait_for_locks(time: str, written: str) -> None:
    script = f"CREATE PROCEDURE p AS BEGIN SET LOCK_TIMEOUT {time}; UPDATE t SET id = 1 END\nGO\n"
    assert f"PERFORM set_config('lock_timeout', '{written}', true)" in procedure(script, "postgresql:18").text
