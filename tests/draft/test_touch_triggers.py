"""Columns with ON UPDATE CURRENT_TIMESTAMP: triggers of Oracle and SQL Server set them in rows that change."""

from typing import Final

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.survey.files import ScriptFile

TABLE: Final = (
    "CREATE TABLE lock_log (id int NOT NULL PRIMARY KEY, who varchar(20), depth decimal(5,2) NOT NULL, photo blob,\n"
    "  half int GENERATED ALWAYS AS (id / 2) STORED, seen datetime NULL ON UPDATE CURRENT_TIMESTAMP);\n"
)


def drafted(target: str, text: str = TABLE) -> Draft:
    catalog = steps.survey_texts([ScriptFile("t.sql", text, "")], "mysql")
    return next(d for d in steps.assess_catalog(catalog, target).drafts.drafts if d.object.type.value == "table")


def test_oracle_sets_the_column_unless_the_statement_does() -> None:
    draft = drafted("oracle:19")
    assert draft.is_promised
    assert "IF NOT UPDATING('SEEN') AND (:NEW.id <> :OLD.id OR " in draft.text
    assert ":NEW.who <> :OLD.who OR (:NEW.who IS NULL AND :OLD.who IS NOT NULL) OR " in draft.text
    assert "DBMS_LOB.COMPARE(:NEW.photo, :OLD.photo) <> 0" in draft.text
    assert ":NEW.half" not in draft.text
    assert draft.text.endswith("    :NEW.seen := LOCALTIMESTAMP;\n  END IF;\nEND;\n/")


def test_sql_server_compares_rows_before_and_after_exactly() -> None:
    draft = drafted("sqlserver:2022")
    assert draft.is_promised
    assert "  IF NOT UPDATE(seen)\n    UPDATE hs_row SET seen = SYSDATETIME()\n" in draft.text
    assert (
        "SELECT hs_new.id, hs_new.who COLLATE Latin1_General_100_BIN2, hs_new.depth, hs_new.photo EXCEPT" in draft.text
    )


@pytest.mark.parametrize("target", ["oracle:19", "sqlserver:2022"])
def test_the_reader_of_the_target_reads_all_of_it(target: str) -> None:
    reads = [*read_script(drafted(target).text + "\n", load_dialect(target.partition(":")[0])).statements()]
    assert [type(each.tree).__name__ for each in reads] == ["CreateTable", "CreateTrigger"]
    assert all(each.is_complete for each in reads)


@pytest.mark.parametrize(
    "text",
    [
        TABLE.replace(" PRIMARY KEY", ""),
        TABLE + "CREATE TRIGGER lock_bu BEFORE UPDATE ON lock_log FOR EACH ROW SET NEW.depth = ABS(NEW.depth);\n",
    ],
)
def test_sql_server_needs_a_key_and_no_other_trigger_of_updates(text: str) -> None:
    assert not drafted("sqlserver:2022", text).is_finished
    assert drafted("oracle:19", text).is_promised


def test_tables_without_such_columns_get_no_trigger() -> None:
    assert "TRIGGER" not in drafted("oracle:19", TABLE.replace(" ON UPDATE CURRENT_TIMESTAMP", "")).text
