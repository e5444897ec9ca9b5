"""Size and cost: samples kindly read, sizes chosen, doubts told, and running sources metered."""

import json
import shutil
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from hullsound import steps
from hullsound.cli.app import app
from hullsound.demo import copy_planning, copy_scripts
from hullsound.errors import SourceError, UsageError
from hullsound.plan.counters import Sample, rates_between
from hullsound.plan.document import Hours
from hullsound.plan.load import Load, read_load
from hullsound.plan.meter import meter, read_duration
from hullsound.plan.prices import Price, PriceList, read_prices
from hullsound.plan.sizing import choose_size
from hullsound.settings import Settings
from hullsound.survey.kit import write_meter_kit
from hullsound.survey.live.model import parse_address
from tests.servers import postgresql_with

MONDAY = datetime(2026, 11, 2, tzinfo=UTC)
PRICES = PriceList(
    "KBC",
    [
        Price("small", 0.1, 2, 8, 1_000, 100, 100, 500, 0.1, 0.05, 0, 0, 1),
        Price("middle", 0.2, 4, 16, 4_000, 200, 200, 1_000, 0.1, 0.05, 0, 0, 1),
        Price("large", 0.4, 8, 32, 16_000, 400, 400, 2_000, 0.1, 0.05, 0, 0, 1),
        Price("owned", 0.3, 8, 32, 16_000, 400, 400, 2_000, 0.1, 0.05, 30, 4, 0.5),
    ],
)


def load_of(cores: list[float], minutes: int = 10, **columns: float) -> Load:
    import pandas as pd

    times = pd.DatetimeIndex([MONDAY + timedelta(minutes=minutes * place) for place in range(len(cores))])
    frame = pd.DataFrame(
        {"cpu cores": cores} | {name: [value] * len(cores) for name, value in columns.items()}, index=times
    )
    return Load(frame, [])


@given(st.lists(st.floats(0.01, 5), min_size=2, max_size=40), st.floats(0.1, 1.0))
def test_a_size_that_fits_stays_fitting_when_the_load_falls(cores: list[float], share: float) -> None:
    before = choose_size(load_of(cores), PRICES, Settings())
    after = choose_size(load_of([each * share for each in cores]), PRICES, Settings())
    fitting = {each.size for each in before.choices if each.fits}
    assert fitting <= {each.size for each in after.choices if each.fits}
    if before.chosen and after.chosen:
        assert after.choices[0].cost.total <= before.choices[0].cost.total


@given(st.lists(st.floats(0.01, 3), min_size=2, max_size=20))
def test_costs_add_up_and_the_cheapest_that_fits_is_chosen(cores: list[float]) -> None:
    found = choose_size(load_of(cores, **{"storage gb": 100.0}), PRICES, Settings(), owned_cores=2)
    for each in found.choices:
        cost = each.cost
        parts = cost.compute + cost.standby + cost.storage + cost.backup + cost.licence
        assert cost.total == pytest.approx(parts, abs=0.02)
    fitting = [each for each in found.choices if each.fits]
    assert (found.chosen == fitting[0].size) if fitting else (found.chosen == "")
    assert all(one.cost.total <= other.cost.total for one, other in pairwise(fitting))


def test_the_next_smaller_size_and_what_decides_are_named() -> None:
    found = choose_size(load_of([1.0] * 90 + [4.5] * 10), PRICES, Settings().with_given("size", growth=0.0))
    assert (found.chosen, found.binding, found.smaller) == ("large", "cores", "middle")
    assert found.smaller_hours_month == pytest.approx(73.0, abs=0.1)
    assert next(each for each in found.choices if each.size == "small").lacks == ["cores"]


def test_owned_licences_count_with_their_least_cores_and_ratio() -> None:
    rules = Settings().with_given("size", standby=0)
    load = load_of([1.0, 1.2])

    def licence(owned: float) -> float:
        return next(
            e for e in choose_size(load, PRICES, rules, owned_cores=owned).choices if e.size == "owned"
        ).cost.licence

    assert licence(0) == 4 * 30  # half a licensed core for each of 8, and 4 at least
    assert licence(3) == 1 * 30
    assert licence(50) == 0


def test_the_break_even_is_a_range_or_never() -> None:
    load = load_of([1.0, 1.2])
    rules = Settings().with_given("size", standby=0)
    even = choose_size(load, PRICES, rules, stay_month=500.0, effort=Hours(100, 150), hour_cost=50).break_even
    assert even is not None and even.months_p50 is not None and even.months_p80 is not None
    assert even.months_p50 < even.months_p80
    dear = choose_size(load, PRICES, rules, stay_month=1.0, effort=Hours(100, 150), hour_cost=50).break_even
    assert dear is not None and dear.months_p50 is None
    with pytest.raises(UsageError, match="no cost of an hour"):
        choose_size(load, PRICES, rules, stay_month=500.0, effort=Hours(100, 150))


def test_short_coarse_flat_and_holey_samples_are_doubted() -> None:
    short = choose_size(load_of([1.0, 2.0] * 20), PRICES, Settings())
    assert short.confidence == "low"
    assert "less than a week" in short.why[0]
    coarse = choose_size(load_of([1.0, 2.0] * 200, minutes=60), PRICES, Settings())
    assert any("misses short peaks" in each for each in coarse.why)
    flat = choose_size(load_of([1.0, 1.001] * 600), PRICES, Settings())
    assert any("flat" in each for each in flat.why)
    assert any("nothing tells memory gb" in each for each in flat.why)
    holey = load_of([1.0, 2.0] * 600)
    found = choose_size(Load(holey.frame.drop(holey.frame.index[100:500]), []), PRICES, Settings())
    assert any("of the time has no sample" in each for each in found.why)


def test_exports_of_monitoring_are_read_kindly(tmp_path: Path) -> None:
    file = tmp_path / "export.csv"
    file.write_text(
        "\ufeffTimestamp;CPU Utilization;Memory (GB);Read IOPS;Host\n"
        "2026-11-02 08:00:00;12,5;4,0;1.234,5;kb1\n2026-11-02 08:05:00;25 %;4,5;800;kb1\n",
        encoding="utf-8",
    )
    load = read_load(file, cores=8)
    assert list(load.frame.columns) == ["cpu cores", "memory gb", "read iops"]
    assert list(load.frame["cpu cores"]) == [1.0, 2.0]
    assert load.frame["read iops"].iloc[0] == 1234.5
    assert load.step_seconds == 300


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("time,cpu cores\n2026-11-02T08:00,1\n2026-11-02T07:59,1\n", "line 3, column time"),
        ("time,cpu cores\n2026-11-02T08:00,1\n2026-11-02T08:00,1\n", "the same time"),
        ("time,cpu cores\n2026-11-02T08:00,-1\n2026-11-02T08:01,1\n", "line 2, column cpu cores: -1 is below 0"),
        ("time,cpu cores\n2026-11-02T08:00,nan\n2026-11-02T08:01,1\n", "not a finite number"),
        ("time,cpu cores\nyesterday,1\n", "is not a point in time"),
        ("time,cpu cores\n2026-11-02T08:00,1\n", "fewer than two samples"),
        ("time,cpu cores\n", "fewer than two samples"),
        ("time,colour\n2026-11-02T08:00,1\n2026-11-02T08:01,1\n", "no column of load"),
        ("time,cpu %\n2026-11-02T08:00,1\n2026-11-02T08:01,1\n", "number of cores"),
        ("cpu cores\n1\n", "no column time"),
        ("", "is empty"),
    ],
)
def test_wrong_samples_are_told_with_line_and_column(tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "load.csv"
    file.write_text(text)
    with pytest.raises(SourceError) as error:
        read_load(file)
    assert said in str(error.value)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("size,hour,cores,memory gb\na,1,2,8\n", "no column currency"),
        ("size,currency,hour,cores,memory gb\na,KBC,-1,2,8\n", "line 2, column hour: -1 is below 0"),
        ("size,currency,hour,cores,memory gb\na,KBC,1,2,8\nb,XYZ,1,2,8\n", "line 3, column currency"),
        ("size,currency,hour,cores,memory gb\na,KBC,1,2,8\na,KBC,1,2,8\n", "line 3, column size: a is named twice"),
        ("size,currency,hour,cores,memory gb\na,,1,2,8\n", "line 2, column currency: empty"),
        ("size,currency,hour,cores,memory gb,colour\na,KBC,1,2,8,x\n", "'colour' is not known"),
        ("size,currency,hour,cores,memory gb\n", "holds no size"),
        ("size,currency,hour,cores,memory gb\na,KBC,1,0,8\n", "no cores or no memory"),
    ],
)
def test_a_wrong_price_list_is_told_with_line_and_column(tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "prices.csv"
    file.write_text(text)
    with pytest.raises(SourceError) as error:
        read_prices(file)
    assert said in str(error.value)


def test_counters_that_begin_anew_have_no_rate() -> None:
    before, after = (
        Sample(0.0, {"read ios": 500, "log bytes": 10}),
        Sample(10.0, {"read ios": 20, "log bytes": 5e6 + 10}),
    )
    assert rates_between(before, after) == {"log mb/s": pytest.approx(0.5)}
    with pytest.raises(ValueError, match="backwards"):
        rates_between(after, before)


@pytest.mark.parametrize(("text", "seconds"), [("60", 60), ("90s", 90), ("15m", 900), ("24h", 86_400), ("7d", 604_800)])
def test_lengths_of_time_are_read(text: str, seconds: float) -> None:
    assert read_duration(text) == seconds


@pytest.mark.parametrize("text", ["", "soon", "-5", "0", "9999d"])
def test_other_lengths_of_time_are_refused(text: str) -> None:
    with pytest.raises(ValueError):
        read_duration(text)


@pytest.mark.parametrize("scheme", ["oracle", "mssql"])
def test_stand_ins_are_metered(scheme: str, tmp_path: Path) -> None:
    path = tmp_path / "load.csv"
    found = meter(parse_address(f"{scheme}://?standin=demo"), steps.open_source, path, 0.1, 0.3)
    assert (found.samples, found.missed, found.refused) == (3, 0, set())
    load = read_load(path)
    assert set(load.frame.columns) >= {
        "cpu cores",
        "memory gb",
        "read iops",
        "write iops",
        "log mb/s",
        "connections",
        "storage gb",
    }
    assert (load.frame > 0).all().all()


@pytest.mark.server
def test_a_running_postgresql_is_metered(server_url: str, tmp_path: Path) -> None:
    with postgresql_with(server_url) as (url, connection):

        def work(seconds: float) -> None:
            connection.execute(
                b"CREATE TABLE IF NOT EXISTS load AS SELECT g, repeat('x', 200) FROM generate_series(1, 20000) g"
            )
            connection.commit()

        found = meter(parse_address(url), steps.open_source, tmp_path / "load.csv", 0.2, 0.6, sleep=work)
    assert (found.missed, found.refused) == (0, set())
    load = read_load(tmp_path / "load.csv")
    assert set(load.frame.columns) >= {"memory gb", "read iops", "write iops", "log mb/s", "connections", "storage gb"}
    assert load.frame["log mb/s"].max() > 0
    assert load.frame["connections"].max() >= 1


@pytest.mark.server
def test_a_running_mariadb_is_metered(tmp_path: Path) -> None:
    if shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    from hullsound.trial.mariadb import private_mariadb, root_connection

    with private_mariadb() as socket, root_connection(socket) as connection:
        with connection.cursor() as cursor:
            cursor.execute("CREATE DATABASE yard")
        address = parse_address(f"mariadb://root@localhost/yard?unix_socket={socket}")
        found = meter(address, steps.open_source, tmp_path / "load.csv", 0.3, 0.9)
    assert (found.missed, found.refused) == (0, set())
    load = read_load(tmp_path / "load.csv")
    assert set(load.frame.columns) >= {"memory gb", "read iops", "write iops", "connections", "storage gb"}


def test_a_server_that_is_away_costs_only_its_samples(tmp_path: Path) -> None:
    calls = 0

    def opened(address: object) -> object:
        nonlocal calls
        calls += 1
        if calls == 3:
            raise SourceError("gone")
        return steps.open_source(parse_address("oracle://?standin=demo"))

    found = meter(parse_address("oracle://?standin=demo"), opened, tmp_path / "load.csv", 0.1, 0.4)  # type: ignore[arg-type]
    assert (found.samples, found.missed) == (3, 1)


@pytest.mark.server
def test_the_kit_of_a_meter_prints_a_table_that_size_reads(server_url: str, tmp_path: Path) -> None:
    text = write_meter_kit("postgresql")
    queries = [line for line in text.split(";\n") if "SELECT to_char" in line]
    lines = ["time,name,value"]
    with postgresql_with(server_url) as (_, connection):
        for _ in range(3):
            for query in queries:
                lines += [
                    row[0] for row in connection.execute(query[query.index("SELECT to_char") :].encode()).fetchall()
                ]
            connection.execute(b"SELECT pg_sleep(1.1)")
            connection.rollback()
    file = tmp_path / "load.csv"
    file.write_text("\n".join(lines) + "\n")
    assert set(read_load(file).frame.columns) >= {"memory gb", "connections", "storage gb", "log mb/s"}
    for engine in ("oracle", "sqlserver", "mysql", "mariadb", "db2"):
        assert "time,name,value" in write_meter_kit(engine)
    with pytest.raises(UsageError, match="no meter kit"):
        write_meter_kit("teradata")


def test_the_commands_size_and_meter(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    hull = tmp_path / "harbour.hull"
    steps.survey_into(hull, copy_scripts("oracle", tmp_path), "oracle", "19", name="harbour")
    tables = copy_planning(tmp_path)
    base = ["size", str(tables["load"]), "--prices", str(tables["prices"])]
    told = CliRunner().invoke(app, [*base, "--stay", "2400", "--hull", str(hull), "--to", "postgresql:18", "--hour-cost", "95",
                                    "--picture", "load.svg"])  # fmt: skip
    assert told.exit_code == 0, told.output
    assert "has paid for itself after" in told.stdout
    assert (tmp_path / "load.svg").read_text().startswith("<svg")
    document = json.loads(CliRunner().invoke(app, [*base, "--format", "json"]).stdout)
    assert document["confidence"] == "normal"
    assert document["chosen"] == document["choices"][0]["size"]
    assert CliRunner().invoke(app, [*base, "--stay", "5"]).exit_code != 0
    metered = CliRunner().invoke(
        app, ["meter", "oracle://?standin=demo", "-o", "x.csv", "--every", "0.2", "--for", "0.4"]
    )
    assert metered.exit_code == 0, metered.output
    assert len((tmp_path / "x.csv").read_text().splitlines()) == 3
    assert (
        CliRunner()
        .invoke(app, ["meter", "oracle://?standin=demo", "-o", "y.csv", "--every", "5m", "--for", "60"])
        .exit_code
        != 0
    )
    assert not (tmp_path / "y.csv").exists()
