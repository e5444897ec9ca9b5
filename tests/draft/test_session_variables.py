"""Variables of the session (@name) of MySQL: a routine that alone sets and reads one keeps it in a variable of its own."""

from typing import Final

import pytest

from hullsound import steps
from hullsound.catalog.model import ObjectType
from hullsound.survey.files import ScriptFile

SCRIPT: Final = """CREATE TABLE t (id INT PRIMARY KEY, a INT, name VARCHAR(20));
DELIMITER //
CREATE PROCEDURE p() BEGIN {0} END//
CREATE PROCEDURE other() BEGIN SET @shared = 1; END//
DELIMITER ;
"""
TARGETS: Final = ("postgresql:18", "oracle:19", "sqlserver:2022")


def draft_of(body: str, target: str) -> str:
    """Return the draft of the procedure on one line; '' where it is not promised."""
    catalog = steps.survey_texts([ScriptFile("a.sql", SCRIPT.format(body), "")], "mysql")
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    draft = next(
        each for each in drafts if each.object.type is ObjectType.PROCEDURE and each.object.name.lower() == "p"
    )
    return " ".join(draft.text.split()) if draft.is_promised and draft.is_finished else ""


@pytest.mark.parametrize("target", TARGETS)
@pytest.mark.parametrize(
    "body",
    [
        "SET @n = 5; UPDATE t SET a = @n;",
        "SELECT COUNT(*), MAX(name) INTO @n, @m FROM t; UPDATE t SET a = @n, name = @m;",
    ],
)
def test_variable_of_one_routine(body: str, target: str) -> None:
    draft = draft_of(body, target)
    assert "hs_n" in draft
    assert "@n" not in draft


@pytest.mark.parametrize("target", TARGETS)
@pytest.mark.parametrize(
    "body",
    [
        "UPDATE t SET a = @shared;",
        "SET @n = IFNULL(@n, 0) + 1; UPDATE t SET a = @n;",
        "UPDATE t SET a = @n; SET @n = 1;",
        "UPDATE t SET a = @@max_connections;",
    ],
)
def test_value_that_may_come_from_elsewhere_is_not_promised(body: str, target: str) -> None:
    assert not draft_of(body, target)


@pytest.mark.parametrize("target", TARGETS)
def test_settings_on_which_nothing_depends_are_left_out(target: str) -> None:
    draft = draft_of("SET sql_safe_updates = 0; SET SESSION group_concat_max_len = 9999; UPDATE t SET a = 1;", target)
    assert "UPDATE t SET a = 1" in draft
    assert "group_concat" not in draft
    assert not draft_of("SET foreign_key_checks = 0; UPDATE t SET a = 1;", target)
