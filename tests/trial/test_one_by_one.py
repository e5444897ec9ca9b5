"""The files of drafts, run one by one in the order of the manifest and each in a session of its own, give what the trial gives."""

import json
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.draft.files import write_drafts
from hullsound.survey.files import ScriptFile
from hullsound.trial.run import run_trial
from tests.servers import postgresql_with

SCRIPT = """
CREATE TABLE quay.berth (id NUMBER(9) CONSTRAINT pk_berth PRIMARY KEY, name VARCHAR2(20) NOT NULL, metres NUMBER(5));
CREATE TABLE quay.stay (id NUMBER(9) NOT NULL, berth NUMBER(9) REFERENCES quay.berth (id), since DATE);
CREATE SEQUENCE quay.seq;
CREATE VIEW quay.busy AS SELECT b.id, b.name, COUNT(*) n FROM quay.berth b JOIN quay.stay s ON s.berth = b.id GROUP BY b.id, b.name;
CREATE VIEW quay.busiest AS SELECT name FROM quay.busy WHERE n > 5;
CREATE MATERIALIZED VIEW quay.kept AS SELECT name FROM quay.berth;
CREATE INDEX quay.ix_kept ON quay.kept (name);
CREATE TRIGGER quay.fill BEFORE INSERT ON quay.stay FOR EACH ROW BEGIN :new.id := seq.NEXTVAL; END;
/
INSERT INTO quay.berth VALUES (1, 'north', 80);
INSERT INTO quay.stay (berth) VALUES (1);
GRANT SELECT ON quay.busy TO one_by_one_clerk;
"""


@pytest.mark.server
def test_files_in_the_order_of_the_manifest(server_url: str, tmp_path: Path) -> None:
    import psycopg

    catalog = steps.survey_texts([ScriptFile("a.sql", SCRIPT, "")], "oracle")
    case = steps.assess_catalog(catalog, "postgresql:18")
    trial = run_trial(catalog, case.drafts, "postgresql:18", server_url)
    assert not trial.refused()
    manifest = json.loads(write_drafts(case.drafts, catalog, case.assessment, tmp_path).read_text(encoding="utf-8"))
    refused = []
    with postgresql_with(server_url) as (_, first):
        first.autocommit = True
        address = f"{first.info.dsn} dbname={first.info.dbname}"
        for file in [manifest["prepare"], *(entry["file"] for entry in manifest["objects"] if entry["file"])]:
            with psycopg.connect(address, autocommit=True) as connection:
                try:
                    connection.execute((tmp_path / file).read_bytes())
                except psycopg.Error as error:
                    refused.append((file, str(error)))
        assert not refused
        row = first.execute("SELECT id FROM quay.stay").fetchone()
        assert row is not None
        assert row[0] == 1
