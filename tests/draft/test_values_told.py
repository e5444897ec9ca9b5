"""Texts, bits, moments and assignments whose value would change silently from one engine to the other."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile


def case_of(script: str, engine: str, target: str) -> tuple[dict[str, str], dict[str, str], dict[str, set[str]]]:
    """Return the outcomes and drafts of all objects by their ids, and the constructs found in them."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)
    outcomes = {each.id: each.outcome for each in case.document.objects}
    drafts = {each.object.id: each.text for each in steps.draft_case(case).drafts}
    found: dict[str, set[str]] = {}
    for each in case.document.findings:
        found.setdefault(each.object, set()).add(each.construct)
    return outcomes, drafts, found


DB2 = """--#SET TERMINATOR @
CREATE TABLE berth (id INTEGER NOT NULL PRIMARY KEY, quay VARCHAR(20), depth INTEGER)@
CREATE TRIGGER berth_bi BEFORE INSERT ON berth REFERENCING NEW AS n FOR EACH ROW
SET n.quay = UPPER(n.quay), n.depth = COALESCE(n.depth, 0)@
CREATE PROCEDURE swap(INOUT a INTEGER, INOUT b INTEGER) BEGIN SET a = b, b = a; END@
CREATE PROCEDURE pair(IN x INTEGER, OUT a INTEGER, OUT b INTEGER) BEGIN SET a = x + 1, b = x + 2; END@
CREATE PROCEDURE check_depth(IN d INTEGER)
BEGIN
  DECLARE too_deep CONDITION FOR SQLSTATE '75001';
  IF d > 20 THEN SIGNAL too_deep SET MESSAGE_TEXT = 'too deep'; END IF;
END@
"""


@pytest.mark.parametrize(
    ("target", "first", "second"),
    [
        ("postgresql:18", "NEW.quay := ", "NEW.depth := "), ("mariadb:11.8", "SET NEW.quay = ", "SET NEW.depth = "),
        ("oracle:19", ":NEW.quay := ", ":NEW.depth := "),
    ],
)  # fmt: skip
def test_every_assignment_of_a_set_is_drafted(target: str, first: str, second: str) -> None:
    outcomes, drafts, _ = case_of(DB2, "db2", target)
    assert first in drafts["trigger.berth_bi"] and second in drafts["trigger.berth_bi"]
    assert outcomes["procedure.pair(integer)"] != "rewrite"
    # Db2 takes all values before it sets the first variable.
    assert outcomes["procedure.swap(integer,integer)"] == "rewrite"


@pytest.mark.parametrize("target", ["mysql:8.4", "mariadb:11.8"])
def test_a_signal_keeps_its_sqlstate(target: str) -> None:
    assert "SIGNAL SQLSTATE '75001'" in case_of(DB2, "db2", target)[1]["procedure.check_depth(integer)"]


@pytest.mark.parametrize(
    ("target", "text"),
    [("mariadb:11.8", "'it''s\\\\' AS x"), ("sqlserver:2022", "'it''s\\' AS x"), ("oracle:19", "'it''s\\' AS x")],
)
def test_a_text_with_escapes_is_written_as_what_it_holds(target: str, text: str) -> None:
    _, drafts, _ = case_of(r"CREATE VIEW v AS SELECT E'it\'s\\' AS x;" + "\n", "postgresql", target)
    assert text in drafts["public.view.v"]


@pytest.mark.parametrize(
    ("target", "kind"), [("postgresql:18", "varchar(5)"), ("sqlserver:2022", "nvarchar(5)")]
)  # fmt: skip
def test_a_cast_to_char_of_mysql_has_no_blanks(target: str, kind: str) -> None:
    script = "CREATE TABLE t (id INT PRIMARY KEY, s VARCHAR(20));\n"
    script += "CREATE VIEW v AS SELECT CAST(s AS CHAR(5)) AS x, CONVERT(s, CHAR(5)) AS y FROM t;\n"
    text = case_of(script, "mysql", target)[1]["view.v"]
    assert text.count(f"CAST(s AS {kind})") == 2


ORACLE = """CREATE TABLE t (id NUMBER(9) PRIMARY KEY, z TIMESTAMP WITH TIME ZONE, p TIMESTAMP, d DATE);
CREATE VIEW hours AS SELECT EXTRACT(HOUR FROM z) AS x FROM t;
CREATE VIEW zones AS SELECT EXTRACT(TIMEZONE_REGION FROM z) AS x FROM t;
CREATE VIEW seconds AS SELECT EXTRACT(SECOND FROM p) AS x, EXTRACT(YEAR FROM d) AS y FROM t;
INSERT INTO t (id, z) VALUES (1, TIMESTAMP '2024-05-06 07:08:09 +05:00');
"""


def test_parts_of_moments_are_cut_and_zoned_as_in_oracle() -> None:
    outcomes, drafts, _ = case_of(ORACLE, "oracle", "postgresql:18")
    assert "EXTRACT(HOUR FROM (z AT TIME ZONE 'UTC'))" in drafts["view.hours"]
    assert outcomes["view.zones"] == "rewrite" and outcomes["view.seconds"] == "as-is"
    assert any("TIMESTAMP WITH TIME ZONE '2024-05-06" in text for text in drafts.values())
    outcomes, drafts, _ = case_of(ORACLE, "oracle", "mariadb:11.8")
    assert "(SECOND(p) + MICROSECOND(p) * 0.000001)" in drafts["view.seconds"]
    assert outcomes["view.hours"] == outcomes["view.zones"] == "rewrite"
    assert "SWITCHOFFSET(z, '+00:00')" in case_of(ORACLE, "oracle", "sqlserver:2022")[1]["view.hours"]


@pytest.mark.parametrize("target", ["mariadb:11.8", "oracle:19", "sqlserver:2022"])
def test_parts_in_the_zone_of_the_session_are_for_a_person(target: str) -> None:
    script = "CREATE TABLE t (id integer PRIMARY KEY, z timestamptz, p timestamp);\n" + "".join(
        f"CREATE VIEW v{at} AS SELECT EXTRACT(HOUR FROM {column}) AS x FROM t;\n" for at, column in enumerate("zp")
    )
    outcomes, _, found = case_of(script, "postgresql", target)
    assert outcomes["public.view.v0"] == "confirm" and "convert.session-zone" in found["public.view.v0"]
    assert outcomes["public.view.v1"] != "confirm"


@pytest.mark.parametrize(("engine", "ending"), [("mysql", ";\n"), ("sqlserver", "\nGO\n")])
def test_groups_of_texts_without_case_are_for_a_person(engine: str, ending: str) -> None:
    texts = [
        "CREATE TABLE fee (id int PRIMARY KEY, code varchar(5) NOT NULL UNIQUE, cur varchar(3), amount int)",
        "CREATE VIEW grouped AS SELECT cur, COUNT(*) AS n FROM fee GROUP BY cur",
        "CREATE VIEW counted AS SELECT COUNT(DISTINCT cur) AS n FROM fee",
        "CREATE VIEW united AS SELECT cur AS x FROM fee UNION SELECT code FROM fee",
        "CREATE VIEW by_key AS SELECT code, SUM(amount) AS s FROM fee GROUP BY code",
        "CREATE VIEW by_number AS SELECT amount, COUNT(*) AS n FROM fee GROUP BY amount",
        "CREATE VIEW folded AS SELECT LOWER(cur) AS c, COUNT(*) AS n FROM fee GROUP BY LOWER(cur)",
    ]
    _, _, found = case_of(ending.join([*texts, ""]), engine, "postgresql:18")
    noted = {name.rpartition(".")[2] for name, constructs in found.items() if "convert.text-groups" in constructs}
    assert noted == {"grouped", "counted", "united"}
    assert not any(
        "convert.text-groups" in each for each in case_of(ending.join([*texts, ""]), engine, "mariadb:11.8")[2].values()
    )


def test_changes_of_tables_are_told_that_no_draft_makes() -> None:
    script = "CREATE TABLE t (id INT PRIMARY KEY, a INT);\n"
    told = {
        "ALTER TABLE t ENABLE ROW LEVEL SECURITY": "assess.table-change",
        "ALTER TABLE t CLUSTER ON t_pkey": "assess.table-storage",
        "ALTER TABLE t ALTER COLUMN a SET STATISTICS 100": "assess.table-storage",
        "ALTER TABLE t RENAME COLUMN a TO b": "",
        "ALTER TABLE t ALTER COLUMN a TYPE bigint": "",
    }
    for text, construct in told.items():
        _, _, found = case_of(f"{script}{text};\n", "postgresql", "mariadb:11.8")
        own = {each for constructs in found.values() for each in constructs if each.startswith("assess.table-")}
        assert own == ({construct} if construct else set()), text
        kin = case_of(f"{script}{text};\n", "postgresql", "postgresql:18")[2]
        assert not any(each.startswith("assess.table-") for constructs in kin.values() for each in constructs)


def test_rows_of_truth_of_sqlite_become_true_and_false() -> None:
    script = "CREATE TABLE t (id INTEGER PRIMARY KEY, ok BOOLEAN);\n"
    script += "INSERT INTO t VALUES (1, 1);\nINSERT INTO t (id, ok) VALUES (2, 0);\n"
    outcomes, drafts, _ = case_of(script, "sqlite", "postgresql:18")
    (data,) = (each for each in drafts if each.startswith("data."))
    assert outcomes[data] == "drafted" and "(1, TRUE)" in drafts[data] and "(2, FALSE)" in drafts[data]


def test_quotients_of_decimals_of_sqlite_may_be_whole() -> None:
    script = "CREATE TABLE t (id INTEGER PRIMARY KEY, amount DECIMAL(9,2), r REAL);\n" + "".join(
        f"CREATE VIEW v{at} AS SELECT {each} AS x FROM t;\n"
        for at, each in enumerate(("amount / 3", "amount / 3.0", "r / 3", "id / 3", "SUM(amount) / COUNT(*)"))
    )
    found = case_of(script, "sqlite", "postgresql:18")[2]
    assert [name for name in sorted(found) if "convert.whole-values" in found[name]] == ["view.v0", "view.v4"]


def test_short_words_of_teradata_are_written_in_full() -> None:
    script = """CREATE MULTISET TABLE t (a INTEGER NOT NULL, b VARCHAR(5), c INTEGER) PRIMARY INDEX (a);
INS INTO t (a, b) VALUES (1, 'x');
INS INTO t (a, b) VALUES (2, 'y');
INS t (3, SUBSTR('z', 1, 1));
INS t (4, 'u', 5);
DEL FROM t ALL;
"""
    outcomes, drafts, _ = case_of(script, "teradata", "mariadb:11.8")
    assert set(outcomes.values()) <= {"as-is", "drafted"}
    text = "\n".join(drafts.values())
    assert "INSERT INTO t (a, b) VALUES (2, 'y')" in text and "INSERT INTO t VALUES (4, 'u', 5)" in text
    assert "INSERT INTO t (a, b) VALUES (3, SUBSTRING('z', 1, 1))" in text
    assert "DELETE FROM t" in text and "ALL" not in text


def test_rows_that_a_client_reads_are_for_a_person() -> None:
    script = "CREATE MULTISET TABLE t (a INTEGER NOT NULL);\nUSING (a INTEGER) INSERT INTO t (a) VALUES (:a);\n"
    outcomes, _, _ = case_of(script, "teradata", "mariadb:11.8")
    assert [outcome for name, outcome in outcomes.items() if name != "table.t"] == ["rewrite"]
