"""The parts of drafting: names, edits, order, stand-ins and files."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound import steps
from hullsound.draft.constructs.code import sqlstate_of
from hullsound.draft.edits.names import literal, names_of
from hullsound.draft.files import write_drafts
from hullsound.draft.model import DraftSet
from hullsound.draft.objects.order import creation_order
from hullsound.draft.plpgsql.shared import dollar_quote
from hullsound.draft.write import draft_all
from hullsound.sql.edit import Edit, apply_edits, source_offset
from hullsound.survey.files import ScriptFile

NAMES = names_of("postgresql")


def drafted(text: str) -> tuple[steps.Case, DraftSet]:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle"), "postgresql:18")
    return case, draft_all(case.catalog, case.assessment)


@pytest.mark.parametrize(
    ("stored", "written"),
    [
        ("VESSELS", "vessels"),
        ("Mixed", '"Mixed"'),
        ("LIMIT", '"limit"'),
        ("a b", '"a b"'),
        ('q"q', '"q""q"'),
        ("A$1", "a$1"),
        ("1A", '"1a"'),
    ],
)
def test_one_rule_for_names(stored: str, written: str) -> None:
    assert NAMES.write(stored) == written


@given(st.text(max_size=30))
def test_any_text_is_quoted_safely(text: str) -> None:
    assert NAMES.quote(text)[1:-1].replace('""', "").count('"') == 0
    assert literal(text)[1:-1].replace("''", "").count("'") == 0


@given(st.text(max_size=60), st.data())
def test_edits_change_nothing_outside_and_map_back(text: str, data: st.DataObject) -> None:
    cuts = sorted(data.draw(st.lists(st.integers(0, len(text)), max_size=8)))
    edits = [Edit(a, b, data.draw(st.text(max_size=5))) for a, b in zip(cuts[::2], cuts[1::2], strict=False)]
    result = apply_edits(text, edits)
    assert len(result) == len(text) + sum(len(e.new) - (e.end - e.start) for e in edits)
    for offset in range(len(result)):
        at = source_offset(edits, offset)
        assert 0 <= at <= len(text)
        inside = any(e.start <= at <= e.end for e in edits)
        assert inside or result[offset] == text[at]


def test_bodies_get_a_quote_they_do_not_hold() -> None:
    assert dollar_quote("x") == "$hull$"
    assert dollar_quote("a $hull$ b $hull2$") == "$hull3$"


@pytest.mark.parametrize(
    ("number", "state"), [("-20001", "HS001"), ("- 20999", "HS999"), ("-1", None), ("l_code", None)]
)
def test_error_numbers_become_states(number: str, state: str | None) -> None:
    assert sqlstate_of(number) == state


def test_creation_order_and_stages() -> None:
    case, _ = drafted(
        "CREATE VIEW above AS SELECT a FROM below;\nCREATE VIEW below AS SELECT a FROM t;\n"
        "CREATE TRIGGER g BEFORE INSERT ON t BEGIN NULL; END;\n/\n"
        "CREATE TABLE t (a NUMBER(5) PRIMARY KEY, b NUMBER(5) REFERENCES t);\nCREATE INDEX i ON t (b);\nCREATE SEQUENCE s;\n"
    )
    order = [item.id for item, _ in creation_order(case.catalog)]
    assert order == [
        "sequence.s",
        "table.t",
        "view.below",
        "view.above",
        "constraint.t_pk",
        "constraint.t_b_fk",
        "index.i",
        "trigger.g",
    ]
    stages = [stage for _, stage in creation_order(case.catalog)]
    assert stages == ["before data"] * 4 + ["after data"] * 4


def test_views_that_need_each_other_do_not_hang() -> None:
    case, _ = drafted("CREATE VIEW a AS SELECT x FROM b;\nCREATE VIEW b AS SELECT x FROM a;\n")
    assert len(creation_order(case.catalog)) == 2


def test_stand_ins_let_others_be_created() -> None:
    _, drafts = drafted(
        "CREATE TABLE t (a NUMBER(5), f BFILE);\n"
        "CREATE FUNCTION f(p NUMBER, q VARCHAR2 DEFAULT 'x') RETURN DATE IS\n"
        "PRAGMA AUTONOMOUS_TRANSACTION; BEGIN COMMIT; RETURN NULL; END;\n/\n"
    )
    table, function = drafts.drafts
    assert not table.is_finished
    assert "f text" in table.text
    assert not function.is_finished
    assert "f(p numeric, q text DEFAULT NULL)\nRETURNS timestamp" in function.text
    assert "-- PRAGMA AUTONOMOUS_TRANSACTION; BEGIN COMMIT; RETURN NULL; END;" in function.text
    assert "RAISE EXCEPTION '%', 'not converted: function.f'" in function.text


def test_a_routine_that_cannot_even_be_drafted_in_part_keeps_its_source() -> None:
    _, drafts = drafted("CREATE FUNCTION f(p OUT NUMBER) RETURN BFILE IS BEGIN RETURN NULL; END;\n/\n")
    (function,) = drafts.drafts
    assert "RAISE EXCEPTION '%', 'not converted: function.f';" in function.text
    assert "-- CREATE FUNCTION f(" in function.text


def test_files_say_where_they_come_from(tmp_path: Path) -> None:
    case, drafts = drafted("CREATE SEQUENCE s;\nCREATE TABLE t (a BFILE);\n")
    manifest = json.loads(write_drafts(drafts, case.catalog, case.assessment, tmp_path).read_text(encoding="utf-8"))
    texts = {e["id"]: (tmp_path / e["file"]).read_text(encoding="utf-8") for e in manifest["objects"]}
    assert texts["sequence.s"] == "-- sequence.s: as-is; from a.sql:1\nCREATE SEQUENCE s;\n"
    assert "-- A stand-in: a person has to write this object." in texts["table.t"]
    assert manifest["target"] == "postgresql:18"


def test_drafting_twice_gives_the_same_and_comments_survive() -> None:
    text = "CREATE PROCEDURE p IS -- why\nBEGIN\n  /* kept */ NULL; -- here\nEND;\n/\n"
    one, two = (drafted(text)[1].drafts[0].text for _ in range(2))
    assert one == two
    for comment in ("-- why", "/* kept */", "-- here"):
        assert comment in one


def outcome_of(body: str) -> str:
    script = f"CREATE TABLE t (a NUMBER);\nCREATE PROCEDURE p IS\nBEGIN\n{body}\nEND;\n/\n"
    case, _ = drafted(script)
    return next(o.outcome for o in case.document.objects if o.type == "procedure")


def test_ends_of_transactions_are_left_to_the_caller_where_that_means_the_same() -> None:
    handler = "EXCEPTION WHEN OTHERS THEN ROLLBACK; RAISE;"
    assert outcome_of(f"INSERT INTO t VALUES (1); COMMIT;\n{handler}") == "confirm"
    assert outcome_of(f"FOR i IN 1 .. 9 LOOP INSERT INTO t VALUES (i); COMMIT; END LOOP;\n{handler}") == "rewrite"
    assert outcome_of(f"INSERT INTO t VALUES (1);\nBEGIN INSERT INTO t VALUES (2); {handler} END;") == "confirm"
    goes_on = handler.replace("RAISE", "INSERT INTO t VALUES (3)")
    assert outcome_of(f"INSERT INTO t VALUES (1);\nBEGIN INSERT INTO t VALUES (2); {goes_on} END;") == "rewrite"
