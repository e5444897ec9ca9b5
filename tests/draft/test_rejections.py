"""Drafts that PostgreSQL's rules of names and types reject are not promised; a real server rejects them as well."""

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.rejections.find import Rejections
from hullsound.draft.rejections.row_keys import RowKeys
from hullsound.knowledge.targets import parse_target
from hullsound.survey.files import ScriptFile

TABLES = {
    "table.berth": "CREATE TABLE berth (id integer PRIMARY KEY, label varchar(20), depth numeric(6,2), free boolean, "
    "seen timestamp(0), load double precision);",
    "table.mark": "CREATE TABLE mark (code text PRIMARY KEY, berth_id integer);",
}
REJECTED = {
    "change": [
        "UPDATE berth SET seen = 0",
        "UPDATE berth SET seen = id + 1 WHERE id = 3",
        "UPDATE berth SET free = 1",
        "UPDATE berth SET id = 'x'",
        "UPDATE berth SET label = 'a' WHERE label = depth",
        "UPDATE berth SET depth = label - label",
        "UPDATE berth SET lost = 1",
        "UPDATE berth SET id = 1 WHERE lost = 1",
        "DELETE FROM berth WHERE seen = 0",
        "DELETE FROM berth WHERE free AND id",
        "DELETE FROM berth WHERE id IN (1, '')",
        "DELETE FROM berth WHERE COALESCE(label, 'x') = id",
        "UPDATE berth SET label = COALESCE(label, 0)",
        "UPDATE berth SET depth = CASE WHEN free THEN label ELSE id END",
        "UPDATE berth SET label = upper(seen)",
        "UPDATE berth SET label = substr(depth, 1, 2)",
        "UPDATE berth SET depth = round(label)",
        "UPDATE berth SET label = to_char(label, 'DD')",
        "INSERT INTO berth (id, lost) VALUES (1, 2)",
        "INSERT INTO berth (id, seen) SELECT id, id FROM berth",
        "INSERT INTO berth (id, label) SELECT lost, label FROM berth",
    ],
    "data": ["INSERT INTO berth (id, depth) VALUES (1, 'deep')", "INSERT INTO berth (id, seen) VALUES (1, 20)",
             "INSERT INTO berth (id) VALUES ('')", "INSERT INTO berth (id, seen) VALUES (1, '9999-12-31 23:59:59:997')"],
    "view": ["CREATE VIEW v AS SELECT id FROM berth WHERE seen > depth", "CREATE VIEW v AS SELECT lost FROM berth",
             "CREATE VIEW v AS SELECT id LIKE label AS x FROM berth", "CREATE VIEW v AS SELECT seen ILIKE 'a%' AS x FROM berth",
             "CREATE VIEW v AS SELECT CASE label WHEN id THEN 1 END AS x FROM berth",
             "CREATE VIEW v AS SELECT CASE id WHEN '' THEN 1 END AS x FROM berth",
             "CREATE VIEW v AS SELECT CASE WHEN id THEN 1 END AS x FROM berth",
             "CREATE VIEW v AS SELECT CASE WHEN label IS NOT DISTINCT FROM id THEN 1 END AS x FROM berth",
             "CREATE VIEW v AS SELECT NULLIF(id, '') AS x FROM berth", "CREATE VIEW v AS SELECT NULLIF(label, id) AS x FROM berth",
             "CREATE VIEW v AS SELECT COALESCE(id, 'abc') AS x FROM berth", "CREATE VIEW v AS SELECT id + 'abc' AS x FROM berth",
             "CREATE VIEW v AS SELECT id || depth AS x FROM berth", "CREATE VIEW v AS SELECT strpos(label, id) AS x FROM berth",
             "CREATE VIEW v AS SELECT load % id AS x FROM berth", "CREATE VIEW v AS SELECT mod(load, 2) AS x FROM berth",
             "CREATE VIEW v AS SELECT CAST(free AS bigint) AS x FROM berth",
             "CREATE VIEW v AS SELECT seen::integer AS x FROM berth",
             "CREATE VIEW v AS SELECT seen + id AS x FROM berth", "CREATE VIEW v AS SELECT power(2, label) AS x FROM berth",
             "CREATE VIEW v AS SELECT CAST('deep' AS timestamp) AS x FROM berth", "CREATE VIEW v AS SELECT id FROM berth WHERE id"],
    "index": ["CREATE INDEX ix ON berth (lost)", "CREATE INDEX ix ON berth ((lost))"],
    "constraint": ["ALTER TABLE mark ADD CONSTRAINT fk FOREIGN KEY (code) REFERENCES berth (id)",
                   "ALTER TABLE mark ADD CONSTRAINT uk UNIQUE (lost)"],
    "table": ["CREATE TABLE t (seen timestamp DEFAULT 0)", "CREATE TABLE t (n integer DEFAULT 'none')"],
}  # fmt: skip
ACCEPTED = {
    "change": [
        "UPDATE berth SET seen = now(), id = '7', label = 5, free = NOT free WHERE seen > CURRENT_DATE - 3",
        "UPDATE berth SET depth = depth * 2 + id WHERE label = '' OR id BETWEEN 1 AND 2.5",
        "UPDATE berth SET seen = seen - interval '1 day' WHERE date_trunc('day', seen) = CURRENT_DATE",
        "DELETE FROM berth b WHERE EXISTS (SELECT 1 FROM mark WHERE mark.berth_id = b.id AND code = label)",
        "INSERT INTO berth (id, seen) SELECT id, NULL FROM berth",
        "UPDATE berth SET label = COALESCE(label, 'x'), depth = GREATEST(depth, id, 2), seen = COALESCE(seen, CURRENT_DATE)",
        "UPDATE berth SET label = upper(label) || to_char(depth, '9') || to_char(seen, 'DD') || left('abc', 2), depth = round(id)",
        "UPDATE berth SET label = CASE WHEN free THEN label ELSE 'x' END, id = length(label) + abs(-1)",
    ],
    "data": ["INSERT INTO berth VALUES (1, 'a', '2.5', true, '2025-01-01'), (2, NULL, -3e2, NULL, NULL)"],
    "view": ["CREATE VIEW v AS SELECT id AS n, label || id AS t FROM berth ORDER BY n",
             "CREATE VIEW v AS SELECT CASE WHEN free THEN seen END AS s FROM berth WHERE seen > CURRENT_TIMESTAMP",
             "CREATE VIEW v AS SELECT CAST(id AS text) LIKE label AS x, label ILIKE 'a' AS y, id % 2 AS z FROM berth WHERE free",
             "CREATE VIEW v AS SELECT CAST(free AS integer) AS x, CAST(seen AS date) + id AS y, NULLIF(id, '7') AS z FROM berth",
             "CREATE VIEW v AS SELECT CAST(date_trunc('month', seen) + id * interval '1 day' AS date) AS x FROM berth",
             "CREATE VIEW v AS SELECT substring(label from '[0-9]+') AS x, load / 2 AS y, COALESCE(id, '7') AS z FROM berth",
             "CREATE VIEW v AS SELECT CAST('2024-02-29' AS timestamp) AS x, CAST('now' AS date) AS y FROM berth"],
    "index": ["CREATE INDEX ix ON berth (lower(label), id DESC) WHERE free"],
    "constraint": ["ALTER TABLE mark ADD CONSTRAINT fk FOREIGN KEY (berth_id) REFERENCES berth (id)"],
    "table": ["CREATE TABLE t (seen timestamp DEFAULT CURRENT_TIMESTAMP, n numeric DEFAULT '1e3', b boolean DEFAULT false)"],
}  # fmt: skip
EMPTY = steps.survey_texts([ScriptFile("a.sql", "SELECT 1;", "")], "sqlite")


def reason(kind: str, text: str) -> str:
    """Return why the draft of an object of this kind is rejected."""
    rejections = Rejections(parse_target("postgresql:18"), RowKeys(EMPTY))
    rejections.add_tables((name, "", text) for name, text in TABLES.items())
    return rejections.find(Object("x", ObjectType(kind), "", "X", "a.sql", 1, "", 1), f"{text};")


@pytest.mark.server
@pytest.mark.parametrize(("kind", "text"), [(kind, text) for kind, texts in REJECTED.items() for text in texts])
def test_what_the_server_rejects_is_told(kind: str, text: str, server_url: str) -> None:
    from psycopg import Error

    from hullsound.trial.postgresql import scratch_database

    with scratch_database(server_url) as connection:
        for table in TABLES.values():
            connection.execute(table.encode())
        with pytest.raises(Error):
            connection.execute(text.encode())
    assert reason(kind, text)


@pytest.mark.server
@pytest.mark.parametrize(("kind", "text"), [(kind, text) for kind, texts in ACCEPTED.items() for text in texts])
def test_what_the_server_accepts_passes(kind: str, text: str, server_url: str) -> None:
    from hullsound.trial.postgresql import scratch_database

    with scratch_database(server_url) as connection:
        for table in TABLES.values():
            connection.execute(table.encode())
        connection.execute(text.encode())
    assert reason(kind, text) == ""


def promised(text: str, engine: str) -> dict[str, bool]:
    """Return whether each object of a source is promised on PostgreSQL."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), "postgresql:18")
    return {each.object.id: each.outcome in PROMISED for each in case.assessment.objects}


def test_a_default_that_does_not_fit_costs_the_table_its_promise_and_its_placeholder_still_stands() -> None:
    text = "CREATE TABLE job (id INTEGER PRIMARY KEY, made DATETIME DEFAULT 0, n INT DEFAULT 5);\nCREATE INDEX ix ON job (n);\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlite"), "postgresql:18")
    drafts = {each.object.id: each for each in case.drafts.drafts}
    assert not drafts["table.job"].is_promised
    assert "made timestamp(6),\n  n bigint DEFAULT 5" in drafts["table.job"].text
    assert drafts["index.ix"].is_promised


def test_of_rows_that_scripts_write_twice_the_later_ones_are_not_promised() -> None:
    base = "CREATE TABLE kind (id INT PRIMARY KEY, name VARCHAR(20));\nINSERT INTO kind VALUES (1, 'a'), (2, 'b');\n"
    later = "CREATE TABLE other (id INT PRIMARY KEY);\nINSERT INTO kind (name, id) VALUES ('b', 2);\n"
    assert promised(base + later, "mysql") == {
        "table.kind": True, "constraint.kind_pk": True, "data.a:2": True, "table.other": True, "constraint.other_pk": True,
        "data.a:4": False,
    }  # fmt: skip
    assert promised(base + "DELETE FROM kind WHERE id = 2;\n" + later, "mysql")["data.a:5"]
    assert promised(base + "DELETE FROM kind;\n" + later, "mysql")["data.a:5"]
    assert not promised(base + "DELETE FROM kind WHERE id = 1;\n" + later, "mysql")["data.a:5"]
    assert promised(base + later.replace("INSERT INTO", "INSERT IGNORE INTO"), "mysql")["data.a:4"]
    assert promised(base + "UPDATE kind SET id = id + 10;\n" + later, "mysql")["data.a:5"]


def test_values_without_names_go_into_no_table_that_is_only_partly_known() -> None:
    text = "ALTER TABLE crane ADD COLUMN reach INT;\nINSERT INTO crane VALUES (1);\nINSERT INTO crane (reach) VALUES (2);\n"
    assert [is_promised for key, is_promised in promised(text, "mysql").items() if "data" in key] == [False]


def test_relations_of_the_source_engine_are_found_whatever_their_names() -> None:
    for engine, relation in (
        ("oracle", "sys.v_$sysmetric"), ("oracle", "nls_session_parameters"), ("sqlserver", "msdb.dbo.sysjobs"),
        ("ase", "monProcess"), ("oracle", "v$session"), ("sqlserver", "sys.tables"),
    ):  # fmt: skip
        found = promised(f"CREATE VIEW v1 AS SELECT * FROM {relation};\n", engine)
        assert not any(found.values()), relation
    own = "CREATE TABLE nls_texts (n NUMBER);\nCREATE VIEW v1 AS SELECT n FROM nls_texts;\n"
    assert promised(own, "oracle")["view.v1"]


def test_null_in_a_derived_table_gets_the_type_of_the_column_that_keeps_it() -> None:
    text = (
        "CREATE TABLE use_ (who VARCHAR(9), until DATETIME, n INT);\n"
        "INSERT INTO use_ (who, until, n) SELECT * FROM (SELECT who, NULL, n FROM use_) AS s;\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "mysql"), "postgresql:18")
    change = next(each for each in case.drafts.drafts if each.object.type.value == "change")
    assert "SELECT who, CAST(NULL AS timestamp(0)), n FROM use_" in change.text


def test_rows_behind_common_tables_keep_what_output_gives() -> None:
    text = (
        "CREATE TABLE pool (ip varchar(15), free_at datetime);\nGO\n"
        "CREATE PROCEDURE take_one AS BEGIN\n  DECLARE @got TABLE (ip varchar(15));\n"
        "  WITH one AS (SELECT TOP (1) ip FROM pool WITH (xlock rowlock readpast))\n"
        "  UPDATE one SET ip = ip OUTPUT inserted.ip INTO @got;\nEND;\nGO\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlserver"), "postgresql:18")
    draft = next(each for each in case.drafts.drafts if each.object.type.value == "procedure")
    assert draft.text.count("WITH ") == 1
    assert ", hs_changed AS (" in draft.text


def test_a_rule_that_fails_costs_one_promise_and_not_the_run(monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(*_: object) -> str:
        raise KeyError("lost")

    monkeypatch.setattr(Rejections, "find", fail)
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", "CREATE TABLE t (a NUMBER(5));\n", "")], "oracle"), "postgresql:18"
    )
    assert case.assessment.objects[0].outcome not in PROMISED
    assert any("a form that was not foreseen (KeyError" in finding.message for finding in case.assessment.findings())
