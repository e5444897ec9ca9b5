"""Scripts the way SQL*Plus takes them: directives, terminators, substitution, and damage that stays where it is."""

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import Directive, ReadStatement, read_script
from hullsound.sql.tree import Call, CreateRoutine, CreateTable, OtherStatement, QueryStatement, SelectItem, Update

ORACLE = load_dialect("oracle")
STATEMENTS = (Path(__file__).parents[1] / "data" / "oracle_statements.sql").read_text(encoding="utf-8")


def read(text: str) -> list[ReadStatement | Directive]:
    return read_script(text, ORACLE, {}).items


def statements(text: str) -> list[ReadStatement]:
    return [item for item in read(text) if isinstance(item, ReadStatement)]


def test_every_kind_of_statement_is_read_in_full() -> None:
    found = statements(STATEMENTS)
    unread = [(s.text[:60], u.reason) for s in found for u in s.unread()]
    assert not unread
    assert len(found) > 150


def test_directives_end_with_their_line_and_may_hold_anything() -> None:
    items = read(
        "PROMPT Don't panic /* really\nREM it's -- fine\nSET DEFINE OFF\n@@tables/vessels.sql\nSELECT 1 FROM dual;\n"
    )
    assert [(i.word, i.rest) for i in items if isinstance(i, Directive)] == [
        ("PROMPT", "Don't panic /* really"), ("REM", "it's -- fine"), ("SET", "DEFINE OFF"), ("@@", "tables/vessels.sql"),
    ]  # fmt: skip
    assert isinstance(items[-1], ReadStatement)


def test_a_directive_word_inside_a_statement_is_no_directive() -> None:
    (statement,) = read("UPDATE vessels\nSET name = 'x'\nWHERE vessel_id = 1;\n")
    assert isinstance(statement, ReadStatement)
    assert isinstance(statement.tree, Update)


def test_set_transaction_is_sql() -> None:
    (statement,) = read("SET TRANSACTION READ ONLY;\n")
    assert isinstance(statement, ReadStatement)


def test_code_ends_at_the_slash_and_not_at_its_semicolons() -> None:
    first, second = statements("CREATE PROCEDURE p IS\nBEGIN\n  NULL;\nEND;\n/\nSELECT 1 FROM dual\n/\n")
    assert isinstance(first.tree, CreateRoutine)
    assert isinstance(second.tree, QueryStatement)


def test_units_without_a_slash_between_them_are_still_told_apart() -> None:
    found = statements("CREATE PROCEDURE p IS BEGIN NULL; END;\nCREATE PROCEDURE q IS BEGIN NULL; END;\n")
    assert [s.tree.routine.name for s in found if isinstance(s.tree, CreateRoutine)] == [("P",), ("Q",)]


def test_a_slash_inside_a_comment_ends_nothing() -> None:
    (statement,) = statements("CREATE PROCEDURE p IS\n/*\n/\n*/\nBEGIN NULL; END;\n/\n")
    assert statement.is_complete


def test_defined_variables_are_filled_in_names() -> None:
    (table,) = statements("DEFINE own = harbour\nCREATE TABLE &own..vessels (a NUMBER);\n")
    assert isinstance(table.tree, CreateTable)
    assert table.tree.name == ("HARBOUR", "VESSELS")


def test_an_error_stays_in_its_statement_and_the_object_keeps_its_name() -> None:
    broken, fine = statements("CREATE TABLE broken (a NUMBER(, b DATE);\nSELECT 1 FROM dual;\n")
    assert not broken.is_complete
    assert isinstance(broken.tree, OtherStatement)
    assert broken.tree.name == ("BROKEN",)
    assert fine.is_complete
    assert not list(fine.unread())


def test_an_error_inside_code_costs_one_statement() -> None:
    (unit,) = statements("CREATE PROCEDURE p IS\nBEGIN\n  a := 1;\n  IF ! THEN NULL; END IF;\n  b := 2;\nEND;\n/\n")
    assert unit.is_complete
    assert [unit.tokens.source(u.first, u.last) for u in unit.unread()] == ["IF ! THEN NULL; END IF;"]


@pytest.mark.parametrize(
    "text",
    [
        "SELECT " + "(" * 5000 + "1" + ")" * 5000 + " FROM dual",
        "CREATE PROCEDURE p IS\n" + "BEGIN\n" * 5000 + "NULL;\n" + "END;\n" * 5000,
        "CREATE PROCEDURE p IS BEGIN\n" + "IF a = 1 THEN\n" * 5000 + "NULL;\n" + "END IF;\n" * 5000 + "END;",
        "SELECT " + "CASE WHEN " * 5000 + "1 = 1" + " THEN 1 END" * 5000 + " FROM dual",
        "SELECT 1 FROM dual WHERE " + "NOT " * 5000 + "a = 1",
        "SELECT * FROM " + "(SELECT * FROM " * 5000 + "t" + ")" * 5000,
    ],
    ids=["parentheses", "blocks", "ifs", "cases", "nots", "subqueries"],
)
def test_deep_nesting_is_unread_and_what_follows_is_read(text: str) -> None:
    found = statements(text + "\n/\nSELECT 1 FROM dual;\n")
    assert any("deeper" in u.reason for s in found for u in s.unread())
    assert isinstance(found[-1].tree, QueryStatement)
    assert found[-1].is_complete


def test_a_statement_beyond_all_measure_is_marked(monkeypatch: pytest.MonkeyPatch) -> None:
    from hullsound.sql.clients import reader as script

    monkeypatch.setattr(script, "MAX_STATEMENT_TOKENS", 50)
    long, short = statements("SELECT " + ", ".join("a" * 60) + " FROM t;\nSELECT 1 FROM dual;\n")
    assert [u.reason for u in long.unread()] == ["longer than 50 words"]
    assert not short.unread()


def test_a_truncated_package_keeps_its_name_and_is_marked() -> None:
    (unit,) = statements(
        "CREATE PACKAGE BODY harbour.p IS\n PROCEDURE a IS BEGIN\n UPDATE t SET x = 1;\n IF a = 2 THEN"
    )
    assert list(unit.unread())
    assert unit.tree.name == ("HARBOUR", "P")  # type: ignore[attr-defined]


@settings(max_examples=60)
@given(st.text(alphabet=st.sampled_from("SELECTFROMabc ();,'\"\n/*-.=%:&BEGINDIF$1"), max_size=200))
def test_no_text_raises_and_no_token_is_lost(text: str) -> None:
    script = read_script(text, ORACLE, {})
    for statement in script.statements():
        assert statement.last > statement.first


PIECES = [s.text for s in statements(STATEMENTS) if s.text.upper().startswith("CREATE")]


@settings(max_examples=120)
@given(st.sampled_from(PIECES), st.data())
def test_a_damaged_statement_never_vanishes(text: str, data: st.DataObject) -> None:
    """Delete, double or swap a word: the statement is read, or unread with its place, and nothing raises."""
    words = text.split(" ")
    at = data.draw(st.integers(0, len(words) - 1))
    match data.draw(st.sampled_from(["delete", "double", "swap"])):
        case "delete":
            words = words[:at] + words[at + 1 :]
        case "double":
            words.insert(at, words[at])
        case "swap":
            words[at], words[at - 1] = words[at - 1], words[at]
    damaged = " ".join(words)
    found = statements(damaged + "\n/\n")
    covered = sum(s.end - s.start for s in found)
    assert not damaged.strip("; \n/") or covered > 0


def test_trivia_may_stand_between_any_two_tokens() -> None:
    for statement in statements(STATEMENTS):
        tokens = statement.tokens
        pieces = [tokens.source(i, i + 1) for i in range(statement.first, statement.last)]
        if any(piece.startswith(("&", "$")) for piece in pieces):
            continue
        spread = " /* c */ ".join(pieces)
        again = statements(spread + "\n/\n")
        assert not [u.reason for s in again for u in s.unread()], spread[:200]


def test_the_client_of_mysql_drops_a_backslash_at_the_end_of_a_line() -> None:
    script = read_script(
        "INSERT INTO t VALUES (1, \\\n  2), ('a\\\nb', 3);\nSELECT 1 \\\r\n+ 1;\n", load_dialect("mysql")
    )
    assert [read.unread() for read in script.statements()] == [[], []]


def test_the_shell_of_sqlite_passes_over_lines_that_begin_with_a_hash() -> None:
    text = "# a comment, with a ;\nCREATE TABLE t (a);\n#another\nSELECT 1;\nSELECT 2\n# no comment here\n;\n"
    script = read_script(text, load_dialect("sqlite"))
    assert [bool(read.unread()) for read in script.statements()] == [False, False, True]
    assert [item.word for item in script.items if isinstance(item, Directive)] == ["#", "#"]


def test_a_segment_behind_a_key_may_be_a_text() -> None:
    text = "CREATE TABLE t (a int, CONSTRAINT pk PRIMARY KEY (a) ON 'default') LOCK ALLPAGES ON 'default'\ngo\n"
    assert [read.unread() for read in read_script(text, load_dialect("ase")).statements()] == [[]]


def test_every_node_has_the_node_around_it_as_its_parent() -> None:
    text = "SELECT a, UPPER(TRIM(b)) AS c FROM t WHERE (a + 1) * 2 > f(b) AND x IN (SELECT y FROM u)"
    read = next(read_script(text, ORACLE).statements())
    assert read.parent(read.tree) is None
    for node in read.nodes:
        parent = read.parent(node)
        if node is not read.tree:
            assert parent is not None
            assert parent.first <= node.first
            assert node.last <= parent.last
    trim = next(each for each in read.all(Call) if each.parts == ("TRIM",))
    upper = read.parent(trim)
    assert isinstance(upper, Call)
    assert upper.parts == ("UPPER",)
    item = read.parent(upper)
    assert isinstance(item, SelectItem)
    assert item.alias == "C"
