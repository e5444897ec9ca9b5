"""Every dialect: the demo systems are read in full, damage never makes an object vanish, time grows with the text."""

import time
from functools import cache
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import hullsound.demo
from hullsound.catalog.catalog import Catalog
from hullsound.demo import SYSTEMS
from hullsound.sql.dialect import ENGINES, load_dialect
from hullsound.sql.lexer import END, FENCE, lex
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import Call, OtherStatement
from hullsound.steps import survey_texts
from hullsound.survey.files import ScriptFile, read_all

DEMO = Path(hullsound.demo.__file__).parent
DIALECTS = {**{engine: load_dialect(engine) for engine in ENGINES},
            "mariadb in Oracle mode": load_dialect("mariadb", frozenset(["ORACLE"]))}  # fmt: skip


@cache
def pieces(engine: str) -> list[str]:
    """Return the definitions of an engine's demo system, one by one."""
    files, _ = read_all(DEMO / engine)
    texts = [s.text for f in files for s in read_script(f.text, load_dialect(engine), {}).statements()]
    return [text for text in texts if text.upper().startswith(("CREATE", "REPLACE")) and len(text) < 4000]


@pytest.mark.parametrize("engine", SYSTEMS)
def test_the_demo_system_is_read_in_full(engine: str) -> None:
    files, errors = read_all(DEMO / engine)
    assert not errors
    lines = sum(file.text.count("\n") for file in files)
    assert lines >= {"oracle": 2000, "sqlserver": 2000, "mysql": 2000}.get(engine, 600)
    catalog = survey_texts(files, engine)
    assert [(u.file, u.line, u.reason) for u in catalog.unread] == []
    assert len(catalog.objects) > 25
    assert catalog.references


def named(catalog: Catalog) -> set[str]:
    return {item.name.split(".")[-1].split("(")[0] for item in catalog.objects.values()}


@pytest.mark.parametrize("engine", SYSTEMS)
@settings(max_examples=25)
@given(data=st.data())
def test_a_damaged_definition_never_vanishes(engine: str, data: st.DataObject) -> None:
    """Delete, double or swap a token behind the name: the object is there, or the damage has a place."""
    text = data.draw(st.sampled_from(pieces(engine)))
    dialect = load_dialect(engine)
    tokens = lex(text, dialect)
    words = [tokens.source(i, i + 1) for i in range(len(tokens.words) - 1)]
    if len(words) < 12:
        return
    at = data.draw(st.integers(10, len(words) - 1))
    match data.draw(st.sampled_from(["delete", "double", "swap"])):
        case "delete":
            del words[at]
        case "double":
            words.insert(at, words[at])
        case "swap":
            words[at], words[at - 1] = words[at - 1], words[at]
    before = named(survey_texts([ScriptFile("a.sql", text, "")], engine, is_whole=False))
    after = survey_texts([ScriptFile("a.sql", " ".join(words) + "\n", "")], engine, is_whole=False)
    assert after.unread or not before or before & named(after)


@pytest.mark.parametrize("name", DIALECTS)
@settings(max_examples=40)
@given(text=st.text(alphabet=st.sampled_from("SELECTFROMabc ();,'\"\n/*-.=%:&BEGINDIF$1@#[]`\\{}|!~?GO"), max_size=200))
def test_no_text_raises_and_every_statement_has_a_place(name: str, text: str) -> None:
    for statement in read_script(text, DIALECTS[name], {}).statements():
        assert statement.last > statement.first
        assert statement.end >= statement.start


@pytest.mark.parametrize("name", DIALECTS)
@settings(max_examples=40)
@given(text=st.text(max_size=120))
def test_any_text_round_trips_through_the_lexer(name: str, text: str) -> None:
    tokens = lex(text, DIALECTS[name])
    at = 0
    for i, kind in enumerate(tokens.kinds):
        assert tokens.starts[i] >= at
        at = tokens.ends[i]
        if kind not in (END, FENCE):
            assert text[tokens.starts[i] : at].translate(str.maketrans("", "")) != "" or at == len(text)
    assert at <= len(text)


NESTS = ["(" * 3000, "SELECT " + "(" * 3000 + "1" + ")" * 3000 + ";", "BEGIN " * 3000, "CASE WHEN " * 3000, "IF 1=1 " * 3000,
         "SELECT * FROM " + "(SELECT * FROM " * 2000, "NOT " * 3000, "/*" * 3000, "[" * 3000, "{" * 3000, "$a$" * 2001,
         "a." * 3000, "CREATE " * 3000, "- " * 3000, "ARRAY[" * 3000, "WITH a AS (" * 2000, "x:" * 3000]  # fmt: skip


@pytest.mark.parametrize("name", DIALECTS)
def test_depth_and_repetition_stay_bounded(name: str) -> None:
    for nest in NESTS:
        for text in (nest, f"CREATE PROCEDURE p() {nest}", f"SELECT {nest}"):
            read_script(text + "\n", DIALECTS[name], {})


@pytest.mark.parametrize("name", DIALECTS)
def test_time_grows_with_the_text(name: str) -> None:
    """Broken and unfinished text ten times as long takes at most thirty times as long."""
    pieces = ["CREATE TABLE t (a INT, b VARCHAR(10);\n", "SELECT 'abc FROM t;\n", "BEGIN SELECT 1; END\n", "( ; ) '\n", "/* x\n",
              "CREATE PROCEDURE p() BEGIN IF a THEN SELECT 1;\n", "CREATE PROCEDURE p IS BEGIN IF a THEN b;\n"]  # fmt: skip
    for piece in pieces:
        short, long = (read_seconds(piece * count, name) for count in (150, 1500))
        assert long < 0.25 + 30 * short, piece


def read_seconds(text: str, name: str) -> float:
    """Return the processor time of the fastest of three readings, which a busy machine lengthens least."""
    times = []
    for _ in range(3):
        started = time.process_time()
        read_script(text, DIALECTS[name], {})
        times.append(time.process_time() - started)
    return min(times)


def statements(engine: str, text: str) -> list[ReadStatement]:
    return list(read_script(text, load_dialect(engine), {}).statements())


@pytest.mark.parametrize(
    ("engine", "text", "name"),
    [
        ("sqlserver", "CREATE TABLE [dbo].[a b] (x int,, y int)\nGO\n", ("DBO", "A B")),
        ("mysql", "CREATE TABLE `yard`.`t` (a INT NOT NOT NULL);", ("YARD", "T")),
        ("postgresql", 'CREATE TABLE s."Odd" (a int,, b int);', ("S", "Odd")),
        ("teradata", "REPLACE MACRO d.m AS (SELECT FROM WHERE;);", ("D", "M")),
        ("db2", "CREATE OR REPLACE VIEW s.v AS SELECT FROM;", ("S", "V")),
    ],
)
def test_an_unreadable_definition_keeps_its_name(engine: str, text: str, name: tuple[str, ...]) -> None:
    (broken,) = statements(engine, text)
    assert not broken.is_complete
    assert isinstance(broken.tree, OtherStatement)
    assert broken.tree.name == name


def test_statements_of_every_kind_for_sql_server_are_read_in_full() -> None:
    """No SQL Server runs here: the manual says that these are valid."""
    path = Path(__file__).parents[1] / "data" / "statements" / "sqlserver.sql"
    found = statements("sqlserver", path.read_text(encoding="utf-8"))
    assert len(found) > 50
    assert not [(s.text[:70], u.reason) for s in found for u in s.unread()]


def test_wrapped_code_is_unread_and_says_so() -> None:
    (unit,) = statements("oracle", "CREATE OR REPLACE PACKAGE BODY h.p wrapped\na000000\n1\nabcd\n/\n")
    assert unit.tree.name == ("H", "P")  # type: ignore[attr-defined]
    assert "wrapped" in unit.unread()[0].reason


def test_every_branch_of_conditional_compilation_is_read() -> None:
    (unit,) = statements(
        "oracle",
        "CREATE PROCEDURE p IS\n $IF $$a $THEN x NUMBER; $ELSE x DATE; $END\nBEGIN\n  $IF $$a > 1 $THEN q(1);"
        " $ELSIF $$b $THEN q(2); $ELSE $ERROR 'no' $END $END\n  NULL;\nEND;\n/\n",
    )
    assert not unit.unread()
    assert [call.parts for call in unit.all(Call)] == [("Q",), ("Q",)]
