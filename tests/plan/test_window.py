"""The window: sizes from every source, times that behave, and rates that are measured."""

import itertools
import json
import shutil
from pathlib import Path

import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from typer.testing import CliRunner

from hullsound import steps
from hullsound.cli.app import app
from hullsound.demo import copy_planning, copy_scripts
from hullsound.errors import SourceError, TargetError
from hullsound.plan.loading import measure_loading
from hullsound.plan.sizes import TableSize, table_sizes
from hullsound.plan.streams import pieces_of, schedule
from hullsound.plan.window import Measured, Window, duration, estimate_window
from hullsound.project import Project
from hullsound.settings import Settings, WindowRules
from tests.plan.made import demo_source

SIZES = st.lists(
    st.builds(
        TableSize,
        id=st.from_regex(r"t[0-9]{3}", fullmatch=True),
        rows=st.floats(0, 1e9),
        bytes=st.floats(0, 2e11),
        index_bytes=st.floats(0, 1e10),
        indexes=st.integers(0, 4),
        references=st.integers(0, 4),
        has_key=st.booleans(),
        can_split=st.booleans(),
        origin=st.sampled_from(["measured", "given", "assumed"]),
    ),
    max_size=8,
    unique_by=lambda size: size.id,
)


def window(sizes: list[TableSize], **rules: object) -> Window:
    return estimate_window(sizes, Settings().with_given("window", **rules), change_mb_h=500.0)


@settings(max_examples=12)  # eleven estimates each
@given(SIZES)
def test_more_streams_or_a_longer_window_never_make_it_later(sizes: list[TableSize]) -> None:
    totals = [window(sizes, streams=streams).total for streams in (1, 2, 3, 8)]
    assert [t.p80 for t in totals] == sorted([t.p80 for t in totals], reverse=True)
    fits = [window(sizes, hours=hours).fits for hours in (1.0, 4.0, 12.0, 100.0)]
    assert fits == sorted(fits)
    network = [window(sizes, mbit=mbit).total.p50 for mbit in (100.0, 1_000.0, 10_000.0)]
    assert network == sorted(network, reverse=True)


@given(SIZES)
def test_parts_of_a_table_are_all_of_it_and_streams_do_one_thing_at_a_time(sizes: list[TableSize]) -> None:
    pieces = pieces_of(sizes, WindowRules())
    for size in sizes:
        own = [piece for piece in pieces if piece.table == size.id]
        assert sum(piece.mb for piece in own) == pytest.approx(size.bytes / 1e6)
        assert sum(piece.rows for piece in own) == pytest.approx(size.rows)
        assert len(own) == 1 or size.has_key
    tasks = schedule(pieces, [piece.mb for piece in pieces], 3)
    for stream in range(3):
        spans = sorted((task.begin, task.end) for task in tasks if task.stream == stream)
        assert all(after[0] >= before[1] for before, after in itertools.pairwise(spans))
    assert sorted(task.piece for task in tasks) == sorted(pieces)


def big(rows: float = 5e8, size: float = 4e11, **changes: object) -> TableSize:
    one = TableSize("t1", rows, size, size / 4, 2, 1, True, True, "given")
    return msgspec.structs.replace(one, **changes)


def test_changes_that_outrun_the_target_are_never_caught_up() -> None:
    slow = estimate_window([big()], Settings(), change_mb_h=1_000.0).online
    fast = estimate_window([big()], Settings(), change_mb_h=40_000.0).online
    assert slow is not None and slow.catch_up is not None
    assert slow.never_share == 0
    assert fast is not None and fast.catch_up is None
    assert fast.never_share == 1.0
    assert duration(None) == "never"
    assert estimate_window([big(has_key=False)], Settings(), change_mb_h=1.0).online.without_key == ["t1"]


def test_levers_stand_in_the_order_of_their_gain_and_do_what_they_say() -> None:
    many = [big(id=f"t{number}", size=8e10) for number in range(6)]
    found = window(many)
    gains = [lever.hours for lever in found.levers]
    assert gains == sorted(gains, reverse=True)
    twice = next(lever for lever in found.levers if lever.what.startswith("8 streams"))
    assert found.total.p50 - window(many, streams=8).total.p50 == pytest.approx(twice.hours, abs=0.02)


def test_what_bounds_the_copy_is_named() -> None:
    assert window([big(can_split=False)]).limit == "the largest piece, t1"
    assert window([big()], mbit=10.0).limit == "the network"
    assert window([]).limit.startswith("nothing")


def test_measured_rates_take_the_place_of_assumptions_and_say_so() -> None:
    found = estimate_window([big()], Settings(), measured=Measured(write_mb_s=(90.0, 100.0, 110.0)))
    origins = {each.key: each.origin for each in found.assumptions}
    assert origins["window.write_mb_s"] == "measured"
    assert origins["window.read_mb_s"] == "assumed"


def test_sizes_come_from_a_table_the_survey_or_the_types(tmp_path: Path) -> None:
    catalog = demo_source().catalog
    assert {size.origin for size in table_sizes(catalog, WindowRules())} == {"unknown"}
    given_sizes = table_sizes(catalog, WindowRules(), copy_planning(tmp_path)["sizes"])
    assert {size.origin for size in given_sizes} == {"given"}
    assert "harbour.table.gtt_call_selection" not in {size.id for size in given_sizes}
    berths = next(table for table in catalog.objects.values() if table.id == "harbour.table.berths")
    berths.details = berths.details | {"rows": "1000"}
    assert next(s for s in table_sizes(catalog, WindowRules()) if s.id == berths.id).origin == "assumed"
    berths.details = berths.details | {"bytes": "500000"}
    measured = next(s for s in table_sizes(catalog, WindowRules()) if s.id == berths.id)
    assert measured.origin == "measured"
    assert measured.bytes + measured.index_bytes == pytest.approx(500_000)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("table,rows\nnowhere,5\n", "line 2, column table: 'nowhere' is no table of the survey"),
        ("table,rows\nberths,-5\n", "line 2, column rows: -5 is below 0"),
        ("table,rows\nberths,1\nberths,2\n", "line 3, column table: 'berths' is named twice"),
        ("table,rows,bytes\nberths,,\n", "neither rows nor bytes nor mb"),
        ("rows\n5\n", "no column table"),
    ],
)
def test_a_wrong_table_of_sizes_is_told_with_its_line(tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "sizes.csv"
    file.write_text(text)
    with pytest.raises(SourceError) as error:
        table_sizes(demo_source().catalog, WindowRules(), file)
    assert said in str(error.value)


@pytest.mark.server
@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:10.11"])
def test_loading_is_measured_on_a_real_target(
    target: str, server_url: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    if target.startswith("mariadb") and shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    from hullsound.knowledge.targets import parse_target
    from hullsound.plan import loading

    monkeypatch.setattr(loading, "_SECONDS", 0.3)
    source = demo_source(target=target)
    sizes = table_sizes(source.catalog, WindowRules(), copy_planning(tmp_path)["sizes"])
    url = server_url if target.startswith("postgresql") else "private"
    rates = measure_loading(source.catalog, sizes, parse_target(target), Project(), url)
    for low, likely, high in rates.measured.values().values():
        assert 0 < low <= likely <= high
    assert len(rates.remarks) == 7
    with pytest.raises(TargetError, match="cannot be measured on oracle"):
        measure_loading(source.catalog, sizes, parse_target("oracle:23"), Project(), "private")


def test_the_command_draws_and_tells(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    hull = tmp_path / "harbour.hull"
    steps.survey_into(hull, copy_scripts("oracle", tmp_path), "oracle", "19", name="harbour")
    sizes = copy_planning(tmp_path)["sizes"]
    base = ["window", str(hull), "--to", "postgresql:18", "--sizes", str(sizes)]
    told = CliRunner().invoke(app, [*base, "--change-mb-h", "900", "--picture", "streams.png"])
    assert told.exit_code == 0, told.output
    assert "harbour.table.error_log" in told.stdout
    assert (tmp_path / "streams.png").read_bytes().startswith(b"\x89PNG")
    document = json.loads(CliRunner().invoke(app, [*base, "--format", "json", "--streams", "16"]).stdout)
    assert document["schema"] == "hullsound.window/1"
    assert document["streams"] == 16
    assert CliRunner().invoke(app, [*base, "--picture", "streams.pdf"]).exit_code != 0
    assert CliRunner().invoke(app, [*base, "--mbit", "-1"]).exit_code != 0
