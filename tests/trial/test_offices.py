"""Scripts of offices in other hands' styles: much of them is promised, and a real PostgreSQL accepts all that is."""

import shutil
from pathlib import Path

import pytest

from hullsound import steps

pytestmark = pytest.mark.server

OFFICES = Path(__file__).parents[1] / "data" / "offices"


@pytest.mark.parametrize(
    ("file", "engine", "left"),
    [
        ("towage.sql", "sqlserver", set()),
        ("wholesale.sql", "sqlserver", {"dbo.procedure.addorder", "dbo.procedure.split2"}),
        ("pilotage.sql", "oracle", {"package_body.pilotage"}),
        ("invoicing.sql", "oracle", set()),
        ("staff.sql", "oracle", set()),
        ("payroll.sql", "db2", set()),
        ("fuel.sql", "ase", {"dbo.procedure.monthly", "dbo.procedure.weekly"}),
        ("vehicles.sql", "sqlserver", {"dbo.procedure.usp_renumber", "dbo.procedure.usp_stats"}),
        ("ledger.sql", "sqlserver", {f"dbo.procedure.{name}" for name in ("gl_fix", "gl_import", "gl_xp")}),
        ("claims.sql", "oracle", set()),
        ("stores.sql", "oracle", {"procedure.export_items", "procedure.log_error", "procedure.monthly_totals"}),
        ("clinic.sql", "mysql", {"event.ev_clean", "procedure.cleanup", "view.v_owing"}),
        ("depot.sql", "mysql", {"event.e_clean", "table.depot_item"}),
        ("rentals.sql", "sqlserver", {"dbo.table.boat", "dbo.anonymous_block.rentals:144"}),
        ("laboratory.sql", "oracle", set()),
        ("cargo.sql", "ase", {"dbo.procedure.sp_batch"}),
        (
            "marina.sql",
            "db2",
            {"marina.view.v_tree"},
        ),
        ("freight.sql", "db2", {"freight.variable.g_limit"}),
        ("dispatch.sql", "ase", set()),
        ("berths.sql", "teradata", {"port_dw.macro.ship_calls", "port_dw.view.v_trend"}),
        ("yardcranes.sql", "sqlserver", set()),
        ("permits.sql", "oracle", {"procedure.monthly", "table.tmp_expiring"}),
        ("berthing.sql", "mysql", {"berthing.event.ev_old"}),
        (
            "voyages.sql",
            "teradata",
            {
                *("dw.macro.fix_neg", "dw.macro.ship_voyages", "dw.procedure.recalc"),
                *("index.vt_ship.ship", "table.vt_ship"),
            },
        ),
    ],
)
def test_what_is_promised_of_an_office_is_accepted(file: str, engine: str, left: set[str], server_url: str) -> None:
    case = steps.assess_catalog(steps.survey_scripts(OFFICES / file, engine), "postgresql:18")
    assert {o.id for o in case.document.objects if o.outcome in ("rewrite", "blocked")} == left
    trial = steps.try_case(case, steps.draft_case(case), server_url)
    assert [(r.id, r.line, r.message) for r in trial.refused()] == []


@pytest.mark.parametrize(
    ("file", "engine"),
    [
        *(("vehicles.sql", "sqlserver"), ("ledger.sql", "sqlserver"), ("rentals.sql", "sqlserver")),
        *(("claims.sql", "oracle"), ("stores.sql", "oracle"), ("laboratory.sql", "oracle"), ("depot.sql", "mysql")),
        *(("yardcranes.sql", "sqlserver"), ("permits.sql", "oracle")),
    ],
)
def test_mariadb_accepts_what_is_promised_of_an_office(file: str, engine: str) -> None:
    if shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    case = steps.assess_catalog(steps.survey_scripts(OFFICES / file, engine), "mariadb:10.11")
    trial = steps.try_case(case, steps.draft_case(case))
    assert len(trial.accepted()) >= 8
    assert [(r.id, r.line, r.message) for r in trial.refused()] == []
