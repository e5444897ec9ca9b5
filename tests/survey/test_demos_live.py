"""The demo of each engine that runs here, loaded on it and surveyed live, equals the survey of its scripts, object by object.

What differs is listed, with the reason.
"""

import shutil
import sqlite3
from pathlib import Path
from typing import Any

import psycopg
import pytest

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.demo import scripts_of
from hullsound.steps.live_demo import live_demo
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.read import as_source, capture_live
from hullsound.survey.live.teradata import TeradataSession
from tests.servers import postgresql_with
from tests.survey.test_live import shape


def _upper(shapes: dict[str, Any]) -> dict[str, Any]:
    """Return shapes with the types of parameters in upper case, which is no difference."""
    return {key: (columns, constraint, [[(name, mode, kind.upper()) for name, mode, kind in each] for each in routines], comment)
            for key, (columns, constraint, routines, comment) in shapes.items()}  # fmt: skip


RUN_BY_SCRIPTS = {"query", "change", "data", "anonymous block", "other", "schema", "server object"}
"""Types that a script runs and no catalogue keeps."""


def compared(scripts: Catalog, live: Catalog) -> tuple[set[str], set[str], dict[str, Any]]:
    """Return ids that only the scripts have, ids that only the engine has, and those that differ with both shapes."""
    told, found = _upper(shape(scripts)), _upper(shape(live))
    kept = {key for key, item in scripts.objects.items() if item.type.value not in RUN_BY_SCRIPTS}
    differ = {key: (told[key], found[key]) for key in kept & set(found) if told[key] != found[key]}
    return kept - set(found), set(found) - set(told), differ


def test_the_tablet_on_sqlite(tmp_path: Path) -> None:
    scripts = steps.survey_scripts(scripts_of("sqlite"), "sqlite")
    path = tmp_path / "tablet.db"
    connection = sqlite3.connect(path)
    refused = []
    for item in scripts.objects.values():
        if item.type.value in ("table", "index", "view", "trigger"):
            try:
                connection.execute(item.text)
            except sqlite3.Error:
                refused.append(item.id)
    connection.commit()
    connection.close()
    missing, extra, differ = compared(scripts, steps.survey_live(f"sqlite:///{path}"))
    assert refused == ["staging.table.vessel"]  # of a database that its script attaches
    # A temporary trigger ends with its session.
    assert missing == {"trigger.log_insert", "staging.table.vessel", "staging.constraint.vessel_pk"}
    assert not extra
    # The catalogue knows the columns of a table that a query made; the script only names the query.
    assert set(differ) == {"table.berth_plan"}
    assert differ["table.berth_plan"][0][0] == []


@pytest.mark.server
def test_the_visitor_app_on_postgresql(server_url: str) -> None:
    scripts = steps.survey_scripts(scripts_of("postgresql"), "postgresql", "15")
    case = steps.assess_catalog(scripts, "postgresql:18")
    refused = []
    with postgresql_with(server_url) as (address, connection):
        connection.autocommit = True
        connection.execute("DROP ROLE IF EXISTS visitor_app")
        connection.execute("CREATE ROLE visitor_app")
        connection.execute("SET search_path = visitor, public")
        for draft in steps.draft_case(case).drafts:
            if draft.text and draft.object.type.value not in RUN_BY_SCRIPTS - {"schema"}:
                try:
                    connection.execute(draft.text.encode())
                except psycopg.Error:
                    refused.append(draft.object.id)
        live = steps.survey_live(address)
    missing, extra, differ = compared(scripts, live)
    # What this server cannot have: another server, another language; and two faults of the scripts themselves.
    assert set(refused) == {"visitor.table.port_call", "visitor.function.tide_curve(numeric,numeric)"}
    # A function that is for a person to finish, and a right that PUBLIC has anyway.
    assert missing - set(refused) == {"visitor.function.search(jsonb)", "visitor.grant.berth_price"}
    assert not extra
    assert not differ


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_the_yard_on_mariadb(tmp_path: Path) -> None:
    scripts = steps.survey_scripts(scripts_of("mysql"), "mysql", "8.0")
    with live_demo(tmp_path) as demo:
        live = steps.survey_live(demo.address)
    missing, extra, differ = compared(scripts, live)
    # What is for a person to finish is not made, or as a stand-in.
    assert missing == {"yard.grant.open_order", "yard.grant.month_report",
                       "yard.index.invoice.ix_invoice_due", "yard.index.lift.uk_lift"}  # fmt: skip
    added = {"yard.table.shift", "yard.constraint.shift_pk", "yard.table.badge_use", "yard.constraint.badge_use_pk"}
    # The engine makes an index for a foreign key, and keeps a unique index and a constraint as one.
    by_engine = {key for key in extra if ".fk_" in key} | {"yard.constraint.uk_lift", "yard.constraint.reminder_pk"}
    assert extra == added | by_engine
    # A table made like another has its columns; shown widths are gone, and so are character sets of parameters.
    assert set(differ) == {"yard.table.reminder", "yard.table.part", "yard.function.slug",
                           "yard.procedure.month_report"}  # fmt: skip


# What a stand-in cannot tell: what its scripts run, and what the views of the dictionary do not hold or are not asked for.
ORACLE_ELSEWHERE = {"harbour.directory.edi_in", "harbour.directory.edi_out"}
SQLSERVER_UNTOLD = {
    "dbo.constraint.vessel_passengerlimit_ck", "dbo.index.route.route_index", "ops.index.v_sailingload.ci_sailingload",
    "ops.table.sailingarchive",
}  # fmt: skip
DB2_UNTOLD = {
    "pay.module.tax",
    "pay.type.emp_list",
    "pay.variable.run_by",
    "pay.grant.run_payroll",
    "pay.table.mqt_cost",
}


def test_the_harbour_on_the_stand_in_for_oracle() -> None:
    scripts = steps.survey_scripts(scripts_of("oracle"), "oracle", "19")
    live = steps.survey_live("oracle://?standin=demo")
    missing, extra, differ = compared(scripts, live)
    assert (live.engine, live.version) == ("oracle", "19")
    assert missing == ORACLE_ELSEWHERE
    # Directories belong to no schema; what jobs run is found by their names.
    assert {key.partition(".")[0] for key in extra} <= {"directory", "harbour"}
    assert len(extra) == 4
    # Lengths count bytes unless they say otherwise, and a type is told with its owner.
    assert set(differ) == {"harbour.table.exchange_rates", "harbour.table.staff"}
    assert not live.unread
    assert live.settings["NLS_CHARACTERSET"] == "AL32UTF8"
    assert live.objects["harbour.table.vessels"].details["rows"] == "100"


def test_the_ferry_on_the_stand_in_for_sql_server() -> None:
    scripts = steps.survey_scripts(scripts_of("sqlserver"), "sqlserver", "2019")
    live = steps.survey_live("mssql://?standin=demo")
    missing, _, differ = compared(scripts, live)
    assert (live.engine, live.version) == ("sqlserver", "2019")
    assert missing == SQLSERVER_UNTOLD
    # Precisions that the engine fills in, the schema of an XML column, and whether a computed column may be NULL.
    assert set(differ) == {"dbo.table.route", "dbo.table.vessel", "ops.constraint.ck_event_json", "ops.table.tidetable",
                           "ops.table.checkinqueue", "sales.table.customer"}  # fmt: skip


def test_payroll_on_the_stand_in_for_db2() -> None:
    scripts = steps.survey_scripts(scripts_of("db2"), "db2", "11.5")
    live = steps.survey_live("db2://?standin=demo")
    missing, extra, differ = compared(scripts, live)
    assert (live.engine, live.version) == ("db2", "11.5")
    assert missing == DB2_UNTOLD
    assert not extra - {"schema.path", "schema.tax"}
    assert set(differ) == {"pay.table.employee", "pay.table.payslip"}  # units of lengths, and the digits of DECFLOAT
    assert not live.unread


class FakeTeradata:
    """What a Teradata says to the few statements of a survey."""

    def __init__(self) -> None:
        self.rows: list[tuple[Any, ...]] = []

    def cursor(self) -> "FakeTeradata":
        return self

    def execute(self, query: str) -> None:
        texts = {
            'SHOW TABLE "traffic"."gate"': [("CREATE MULTISET TABLE traffic.gate (gate_id INTEGER NOT NULL,\r gate_name ", ),
                                            ("VARCHAR(40)) PRIMARY INDEX (gate_id);", )],
            'SHOW VIEW "traffic"."v_gate"': [("REPLACE VIEW traffic.v_gate AS SELECT gate_id FROM traffic.gate;", )],
        }  # fmt: skip
        if "DBC.TablesV" in query:
            self.rows = [
                ("traffic", "T", "gate", "Where they pass"),
                ("traffic", "V", "v_gate", None),
                ("traffic", "M", "secret", None),
            ]
        elif "DBC.TableSizeV" in query:
            self.rows = [("traffic", "gate", None, 4096)]
        elif "DBCInfoV" in query:
            self.rows = [("17.20.03.10",)]
        elif query in texts:
            self.rows = texts[query]
        else:
            raise RuntimeError("3524: the user does not have the right to SHOW it")

    def fetchall(self) -> list[tuple[Any, ...]]:
        return self.rows

    def close(self) -> None:
        """Do nothing."""


def test_teradata_is_asked_for_each_text(tmp_path: Path) -> None:
    session = TeradataSession(FakeTeradata(), parse_address("teradata://anna@host/traffic"), (RuntimeError,))
    source = as_source(capture_live(session, tmp_path / "kept", steps.no_progress))
    catalog = steps.survey_texts(source.files, "teradata", source.version)
    assert source.version == "17.20"
    assert {"traffic.table.gate", "traffic.view.v_gate"} <= set(catalog.objects)
    gate = catalog.objects["traffic.table.gate"]
    assert [column.name for column in gate.columns] == ["GATE_ID", "GATE_NAME"]
    assert gate.comment == "Where they pass"
    assert [remark.detail for remark in source.remarks] == [
        "text of secret (3524: the user does not have the right to SHOW it)"
    ]
