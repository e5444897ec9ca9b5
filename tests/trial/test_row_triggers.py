"""Row triggers drafted for targets other than PostgreSQL: MariaDB takes them, and they do what the source's do."""

import shutil

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

ORACLE = """
create table calls (id number(12) primary key, fee number(10,2) default 0, note varchar2(200), changed number(1));
create table log_lines (line varchar2(200));
create sequence call_seq;
create or replace trigger calls_bi before insert on calls for each row
begin
  if :new.id is null then select call_seq.nextval into :new.id from dual; end if;
  :new.note := upper(:new.note);
end;
/
create or replace trigger calls_biu before insert or update on calls for each row
declare
  v_old number(10,2) := nvl(:old.fee, 0);
begin
  if inserting then :new.changed := 0; else :new.changed := 1; end if;
  if updating('FEE') and :new.fee < v_old then raise_application_error(-20001, 'fee must not fall'); end if;
  if :old.fee is null and updating then :new.note := 'first fee'; end if;
end;
/
create or replace trigger calls_ad after delete on calls for each row when (old.fee > 0)
begin
  insert into log_lines (line) values ('deleted ' || :old.id);
end;
/
"""
MYSQL = """
CREATE TABLE calls (id int PRIMARY KEY, fee decimal(9,2), note varchar(200));
CREATE TABLE log_lines (id int, line varchar(200));
CREATE TRIGGER calls_bi BEFORE INSERT ON calls FOR EACH ROW SET NEW.note = UPPER(NEW.note);
DELIMITER //
CREATE TRIGGER calls_bu BEFORE UPDATE ON calls FOR EACH ROW
BEGIN
  DECLARE n INT DEFAULT 0;
  SET n = n + 1;
  IF NEW.fee < OLD.fee THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'fee must not fall'; END IF;
  INSERT INTO log_lines (id, line) VALUES (NEW.id, NEW.note);
END//
CREATE TRIGGER calls_au AFTER UPDATE ON calls FOR EACH ROW
BEGIN
  INSERT INTO log_lines (id, line) SELECT id, note FROM calls WHERE id = NEW.id;
END//
DELIMITER ;
"""


def case_of(script: str, engine: str, target: str) -> Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)


@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_triggers_of_oracle_do_on_mariadb_what_they_say() -> None:
    import pymysql

    from hullsound.trial.mariadb import private_mariadb, root_connection

    case = case_of(ORACLE, "oracle", "mariadb:11.8")
    drafts = [draft for draft in case.drafts.drafts if draft.text]
    assert all(draft.outcome in PROMISED for draft in case.drafts.drafts)
    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE quay")
        cursor.execute("USE quay")
        for draft in drafts:
            cursor.execute(draft.text)
            while cursor.nextset():
                pass
        cursor.execute("INSERT INTO calls (id, fee, note) VALUES (NULL, 5, 'a'), (NULL, NULL, 'b')")
        cursor.execute("UPDATE calls SET fee = 7")
        with pytest.raises(pymysql.MySQLError, match="fee must not fall"):
            cursor.execute("UPDATE calls SET fee = 6 WHERE id = 1")
        cursor.execute("SELECT id, fee, note, changed FROM calls ORDER BY id")
        assert [(row[0], int(row[1]), *row[2:]) for row in cursor.fetchall()] == [
            (1, 7, "A", 1),
            (2, 7, "first fee", 1),
        ]
        cursor.execute("DELETE FROM calls WHERE id = 2")
        cursor.execute("SELECT line FROM log_lines")
        assert cursor.fetchall() == (("deleted 2",),)


def test_triggers_of_mysql_are_written_for_oracle() -> None:
    case = case_of(MYSQL, "mysql", "oracle:19")
    drafts = {draft.object.name: draft for draft in case.drafts.drafts if draft.object.type == "trigger"}
    before = drafts["CALLS_BU"].text
    assert before.startswith(
        "CREATE OR REPLACE TRIGGER calls_bu BEFORE UPDATE ON calls FOR EACH ROW\nDECLARE\n  n number(10) := 0;"
    )
    assert "IF :NEW.fee < :OLD.fee THEN" in before
    assert ":NEW.note := UPPER(:NEW.note);" in drafts["CALLS_BI"].text
    # It reads its own table, which Oracle refuses of a row trigger.
    assert not drafts["CALLS_AU"].is_finished
    read = steps.survey_texts([ScriptFile("back.sql", before + "\n/\n", "")], "oracle", is_whole=False)
    assert read.unread == []


@pytest.mark.parametrize(
    "trigger",
    [
        "create trigger t after update on calls begin insert into calls (id) values (1); end;",
        "create trigger t after update on calls for each row begin update calls set fee = 1; end;",
        "create trigger t before update on calls for each row follows u begin null; end;",
    ],
)
def test_what_the_target_cannot_do_is_not_promised(trigger: str) -> None:
    case = case_of(
        f"create table calls (id number(9) primary key, fee number(9));\n{trigger}\n/\n", "oracle", "mariadb:11.8"
    )
    assert not next(d for d in case.drafts.drafts if d.object.type == "trigger").is_finished
