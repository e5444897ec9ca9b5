"""Divided tables: the parts that PostgreSQL gets, where rows lie in them, and what stays whole."""

from typing import Any

import pytest

from hullsound import steps
from hullsound.assess.model import Outcome
from hullsound.draft.model import Draft
from hullsound.draft.write import draft_all
from hullsound.survey.files import ScriptFile


def drafted(text: str, engine: str = "oracle", target: str = "postgresql:18") -> Draft:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)
    drafts = {draft.object.id: draft for draft in draft_all(case.catalog, case.assessment).drafts}
    return drafts["table.t"]


BY_DAY = "PARTITION BY RANGE (d) (PARTITION p1 VALUES LESS THAN (DATE '2024-01-01'), PARTITION p2 VALUES LESS THAN (MAXVALUE))"


@pytest.mark.server
@pytest.mark.parametrize(
    ("engine", "text", "rows"),
    [
        ("oracle", f"CREATE TABLE t (d DATE NOT NULL) {BY_DAY}", {"'2023-12-31'": "t_p1", "'2024-01-01'": "t_p2"}),
        ("oracle", f"CREATE TABLE t (d DATE) {BY_DAY}", {"'2023-12-31'": "t_p1", "NULL": "t_others"}),
        ("oracle", "CREATE TABLE t (d DATE) PARTITION BY RANGE (d) INTERVAL (NUMTODSINTERVAL(1, 'DAY')) "
         "(PARTITION p0 VALUES LESS THAN (DATE '2020-01-01'))", {"'2019-05-01'": "t_p0", "'2030-01-01'": "t_others"}),
        ("oracle", "CREATE TABLE t (z VARCHAR2(3)) PARTITION BY LIST (z) (PARTITION a VALUES ('N', NULL), "
         "PARTITION b VALUES (DEFAULT) TABLESPACE x)", {"'N'": "t_a", "NULL": "t_a", "'S'": "t_b"}),
        ("mysql", "CREATE TABLE t (d DATETIME NOT NULL) PARTITION BY RANGE (YEAR(d)) (PARTITION a VALUES LESS THAN (2023) "
         "COMMENT = 'old, very', PARTITION b VALUES LESS THAN MAXVALUE)", {"'2022-12-31 23:59:59'": "t_a", "'2023-01-01'": "t_b"}),
        ("mysql", "CREATE TABLE t (n INT NOT NULL) PARTITION BY LIST (n) (PARTITION a VALUES IN (1, 2), PARTITION b VALUES IN (3))",
         {"2": "t_a", "3": "t_b"}),
    ],
)  # fmt: skip
def test_rows_lie_where_they_did(engine: str, text: str, rows: dict[str, str], server_url: str) -> None:
    from hullsound.trial.postgresql import scratch_database

    draft = drafted(f"{text};\n", engine)
    assert draft.outcome is Outcome.CONFIRM
    with scratch_database(server_url) as connection:
        connection.execute(draft.text.encode())
        found: dict[str, Any] = {}
        for value in rows:
            found[value] = connection.execute(
                f"INSERT INTO t VALUES ({value}) RETURNING tableoid::regclass::text".encode()
            ).fetchone()
    assert {value: part[0] for value, part in found.items()} == rows


def test_a_hash_has_a_part_for_each_remainder() -> None:
    text = drafted("CREATE TABLE t (n NUMBER(5)) PARTITION BY HASH (n) PARTITIONS 2;\n").text
    assert "t_p0 PARTITION OF t FOR VALUES WITH (MODULUS 2, REMAINDER 0);" in text
    assert "t_p1 PARTITION OF t FOR VALUES WITH (MODULUS 2, REMAINDER 1);" in text


def test_a_table_whose_key_leaves_the_column_out_stays_whole_and_says_so() -> None:
    draft = drafted(f"CREATE TABLE t (n NUMBER(5) PRIMARY KEY, d DATE NOT NULL) {BY_DAY};\n")
    assert "PARTITION" not in draft.text
    assert "-- Not divided into parts, as in the source: the key (n) does not hold d." in draft.text
    assert draft.outcome is Outcome.CONFIRM


@pytest.mark.parametrize(
    ("engine", "text"),
    [
        ("mysql", "CREATE TABLE t (n INT) PARTITION BY HASH (n * 2) PARTITIONS 2"),
        ("mysql", "CREATE TABLE t (n INT) PARTITION BY LINEAR HASH (n) PARTITIONS 2"),
        ("mysql", "CREATE TABLE t (n INT); ALTER TABLE t PARTITION BY HASH (n) PARTITIONS 2"),
        ("oracle", f"CREATE TABLE t_p1 (n NUMBER(5)); CREATE TABLE t (d DATE) {BY_DAY}"),
        ("oracle", "CREATE TABLE t (n NUMBER(5), d DATE) PARTITION BY RANGE (d) SUBPARTITION BY HASH (n) SUBPARTITIONS 2 "
         "(PARTITION p1 VALUES LESS THAN (MAXVALUE))"),
    ],
)  # fmt: skip
def test_what_has_no_like_is_for_a_person(engine: str, text: str) -> None:
    assert drafted(f"{text};\n", engine).outcome is Outcome.REWRITE
