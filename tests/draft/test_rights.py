"""With whose rights routines and views run, told and written where the text says it, and told once where it does not."""

import pytest

from hullsound import steps
from hullsound.catalog.model import ObjectType
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

BODY = {
    "oracle": "CREATE PROCEDURE p (n NUMBER) {rights} IS BEGIN DELETE FROM bay WHERE id = n; END;",
    "mysql": "CREATE PROCEDURE p(n INT) {rights} BEGIN DELETE FROM bay WHERE id = n; END",
    "postgresql": "CREATE PROCEDURE p(n INT) LANGUAGE plpgsql AS $$ BEGIN DELETE FROM bay WHERE id = n; END $$",
}


def judged(source: str, target: str, *statements: str) -> steps.Case:
    script = "\n".join(end_statement(each, source) for each in ("CREATE TABLE bay (id INT)", *statements))
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], source), target)


@pytest.mark.parametrize(
    ("source", "rights", "target", "written"),
    [
        ("oracle", "AUTHID CURRENT_USER", "mysql:8.4", "SQL SECURITY INVOKER"),
        ("oracle", "AUTHID CURRENT_USER", "mariadb:11.8", "SQL SECURITY INVOKER"),
        ("oracle", "AUTHID DEFINER", "mariadb:11.8", ""),
        ("mysql", "SQL SECURITY INVOKER", "oracle:19", "AUTHID CURRENT_USER"),
        ("mysql", "SQL SECURITY DEFINER", "oracle:19", ""),
    ],
)
def test_rights_of_the_caller_stay_those_of_the_caller(source: str, rights: str, target: str, written: str) -> None:
    case = judged(source, target, BODY[source].format(rights=rights))
    draft = next(d for d in case.drafts.drafts if d.object.type == "procedure")
    assert draft.is_promised
    assert (written or "INVOKER") in draft.text if written else "INVOKER" not in draft.text
    assert ("CURRENT_USER" in draft.text) == (written == "AUTHID CURRENT_USER")


def test_a_package_says_it_for_all_its_routines() -> None:
    case = judged(
        "oracle", "mysql:8.4", "CREATE PACKAGE k AUTHID CURRENT_USER IS PROCEDURE p (n NUMBER); END;",
        "CREATE PACKAGE BODY k IS PROCEDURE p (n NUMBER) IS BEGIN DELETE FROM bay WHERE id = n; END; END;",
    )  # fmt: skip
    assert (
        "SQL SECURITY INVOKER" in next(d for d in case.drafts.drafts if d.object.type is ObjectType.PACKAGE_BODY).text
    )


@pytest.mark.parametrize(
    ("source", "target", "told"),
    [
        ("oracle", "postgresql:18", "assess.rights-of-caller"),
        ("mysql", "postgresql:18", "assess.rights-of-caller"),
        ("postgresql", "oracle:19", "assess.rights-of-owner"),
        ("postgresql", "mysql:8.4", "assess.rights-of-owner"),
        ("oracle", "mysql:8.4", ""),
    ],
)
def test_what_routines_do_not_say_is_told_once(source: str, target: str, told: str) -> None:
    case = judged(source, target, BODY[source].format(rights=""))
    found = [f.construct for f in case.document.findings if f.construct.startswith("assess.rights")]
    assert found == ([told] if told else [])


@pytest.mark.parametrize("target", ["postgresql:18", "oracle:19", "sqlserver:2022"])
def test_a_view_with_the_rights_of_its_reader_is_to_be_confirmed(target: str) -> None:
    case = judged("mysql", target, "CREATE SQL SECURITY INVOKER VIEW v AS SELECT id FROM bay")
    assert [f.way for f in case.document.findings if f.construct == "mysql.invoker-view"] == ["confirm"]
