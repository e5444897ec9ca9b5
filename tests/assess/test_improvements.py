"""Ideas to improve the result: each is told where it holds, and not where it does not."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement


def ideas(engine: str, *texts: str) -> set[tuple[str, str]]:
    script = "".join(end_statement(text, engine) for text in texts)
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], engine)
    document = steps.assess_catalog(catalog, "postgresql:18").document
    return {(f.construct, f.object) for f in document.findings if f.construct.startswith("improve.")}


@pytest.mark.parametrize(
    ("key", "texts", "holds"),
    [
        ("table-without-key", ["CREATE TABLE a (x INT NOT NULL)"], True),
        ("table-without-key", ["CREATE TABLE a (x INT NOT NULL PRIMARY KEY)"], False),
        ("table-without-key", ["CREATE TABLE a (x INT NOT NULL)", "CREATE UNIQUE INDEX i ON a (x)"], False),
        ("needless-index", ["CREATE TABLE a (x INT PRIMARY KEY, y INT)", "CREATE INDEX i ON a (y)",
                            "CREATE INDEX j ON a (y, x)"], True),
        ("needless-index", ["CREATE TABLE a (x INT PRIMARY KEY, y INT)", "CREATE INDEX i ON a (y)"], False),
        ("needless-index", ["CREATE TABLE a (x INT PRIMARY KEY, y INT)", "CREATE INDEX i ON a (y) WHERE x > 1",
                            "CREATE INDEX j ON a (y, x)"], False),
        ("reference-without-index", ["CREATE TABLE b (x INT PRIMARY KEY)",
                                     "CREATE TABLE a (x INT PRIMARY KEY, y INT REFERENCES b (x))"], True),
        ("reference-without-index", ["CREATE TABLE b (x INT PRIMARY KEY)",
                                     "CREATE TABLE a (x INT PRIMARY KEY, y INT REFERENCES b (x))",
                                     "CREATE INDEX i ON a (y)"], False),
        ("list-of-values", ["CREATE TABLE a (x INT PRIMARY KEY, s CHAR(1) CHECK (s IN ('a', 'b')))"], True),
        ("list-of-values", ["CREATE TABLE a (x INT PRIMARY KEY, s INT CHECK (s > 1))"], False),
        ("insert-in-loop", ["CREATE PROCEDURE p AS BEGIN DECLARE @i INT DECLARE c CURSOR FOR SELECT x FROM t OPEN c "
                            "FETCH c INTO @i WHILE @@FETCH_STATUS = 0 BEGIN INSERT INTO u (x) VALUES (@i) "
                            "FETCH c INTO @i END CLOSE c END"], True),
        ("insert-in-loop", ["CREATE PROCEDURE p AS BEGIN DECLARE @i INT SET @i = 0 WHILE @i < 9 BEGIN "
                            "INSERT INTO u (x) VALUES (@i) SET @i = @i + 1 END END"], False),
    ],
)  # fmt: skip
def test_an_idea_is_told_where_it_holds(key: str, texts: list[str], holds: bool) -> None:
    assert (f"improve.{key}" in {construct for construct, _ in ideas("sqlserver", *texts)}) is holds


def test_of_two_equal_indexes_one_is_needless() -> None:
    found = ideas(
        "sqlserver", "CREATE TABLE a (x INT PRIMARY KEY, y INT)", "CREATE INDEX i ON a (y)", "CREATE INDEX j ON a (y)"
    )
    assert len([key for key, _ in found if key == "improve.needless-index"]) == 1
