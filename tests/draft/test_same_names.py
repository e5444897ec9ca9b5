"""Objects whose names meet on the target, and columns whose types must agree there."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

PACKAGES = "".join(
    f"CREATE PACKAGE {owner}.util IS FUNCTION one RETURN NUMBER; END;\n/\n"
    f"CREATE PACKAGE BODY {owner}.util IS FUNCTION one RETURN NUMBER IS BEGIN RETURN {n}; END; END;\n/\n"
    for n, owner in enumerate(("quay", "yard"))
)
REFERENCES = (
    "CREATE TABLE pier (id NUMBER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, code NUMBER(4) UNIQUE);\n"
    "CREATE TABLE slip (id NUMBER PRIMARY KEY, pier_id NUMBER REFERENCES pier (id), code NUMBER(9) REFERENCES pier (code));\n"
    "CREATE TABLE boat (id NUMBER(12) PRIMARY KEY, mate_id NUMBER REFERENCES boat (id), slip_id NUMBER(6) REFERENCES slip);\n"
)


def case_of(script: str, target: str) -> steps.Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "oracle"), target)


def test_packages_of_one_name_in_two_schemas_are_for_a_person() -> None:
    outcomes = {o.id: o.outcome for o in case_of(PACKAGES, "postgresql:18").document.objects if "package" in o.type}
    assert len(outcomes) == 4
    assert set(outcomes.values()) == {"rewrite"}


def test_one_package_is_drafted() -> None:
    outcomes = [o.outcome for o in case_of(PACKAGES[: len(PACKAGES) // 2], "postgresql:18").document.objects]
    assert "rewrite" not in outcomes


@pytest.mark.parametrize(
    ("target", "types"),
    [
        (
            "postgresql:18",
            {"slip.pier_id": "bigint", "slip.code": "integer", "boat.mate_id": "bigint", "boat.slip_id": "integer"},
        ),
        ("mariadb:10.11", {"slip.code": "smallint", "boat.mate_id": "bigint"}),
    ],
)
def test_numbers_that_refer_to_a_key_have_a_type_that_the_target_takes(target: str, types: dict[str, str]) -> None:
    drafts = steps.draft_case(case_of(REFERENCES, target)).drafts
    tables = {d.object.name.lower(): d.text.splitlines() for d in drafts if d.object.type.value == "table"}
    found = {
        name: next(
            line.split()[1].rstrip(",")
            for line in tables[name.split(".")[0]]
            if line.split()[:1] == [name.split(".")[1]]
        )
        for name in types
    }
    assert found == types


@pytest.mark.server
def test_such_references_are_accepted(server_url: str) -> None:
    case = case_of(REFERENCES, "postgresql:18")
    assert not steps.try_case(case, steps.draft_case(case), server_url).refused()
