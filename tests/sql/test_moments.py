"""Moments that text constants hold: the forms of each engine, and that every ISO form is read as it stands."""

from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound.sql.moments import ConstantMoment, moment_of_number, parse_moment

ENGINES = ("sqlserver", "ase", "mysql", "mariadb", "postgresql", "db2", "teradata", "sqlite")


@pytest.mark.parametrize(
    ("engine", "text", "moment"),
    [
        ("ase", "Jan 1 1998 12:00AM", "1998-01-01 00:00:00"),
        ("sqlserver", "1-Jan-98", "1998-01-01"),
        ("sqlserver", "15 March 49", "2049-03-15"),
        ("sqlserver", "January 2024", "2024-01-01"),
        ("sqlserver", "2024 Feb 29 3PM", "2024-02-29 15:00:00"),
        ("sqlserver", "20240115 10:00:00:5", "2024-01-15 10:00:00.005"),
        ("sqlserver", "10:30", "1900-01-01 10:30:00"),
        ("sqlserver", "", "1900-01-01"),
        ("sqlserver", "1/15/1998", "1998-01-15"),
        ("mysql", "24.1.5 1:2:3", "2024-01-05 01:02:03"),
        ("mysql", "20240115103000", "2024-01-15 10:30:00"),
        ("db2", "2024-01-15-10.30.00.123456", "2024-01-15 10:30:00.123456"),
        ("db2", "15.01.2024", "2024-01-15"),
        ("db2", "01/15/2024", "2024-01-15"),
        ("postgresql", "March 15, 2024", "2024-03-15"),
    ],
)  # fmt: skip
def test_form_of_an_engine(engine: str, text: str, moment: str) -> None:
    found = parse_moment(text, engine)
    assert found is not None
    assert found.text == moment


@pytest.mark.parametrize(
    ("engine", "text"),
    [("sqlserver", "2024-02-30"), ("sqlserver", "25:00"), ("sqlserver", "15/1/2024"), ("postgresql", "now"), ("mysql", ""),
     ("teradata", "15.01.2024"), ("db2", "Jan 1 2024")],
)  # fmt: skip
def test_text_in_no_form_of_the_engine(engine: str, text: str) -> None:
    assert parse_moment(text, engine) is None


def test_order_of_day_and_month_is_open_where_either_could_be_the_month() -> None:
    assert [parse_moment(text, "sqlserver") for text in ("3/4/2024", "3/14/2024", "4/4/2024")] == [
        ConstantMoment("2024-03-04", by_session=True),
        ConstantMoment("2024-03-14"),
        ConstantMoment("2024-04-04"),
    ]


@given(st.sampled_from(ENGINES), st.datetimes(datetime(1, 1, 1), datetime(9999, 12, 31)))
def test_iso_form_is_read_as_it_stands(engine: str, moment: datetime) -> None:
    text = moment.replace(microsecond=0).isoformat(" ")
    found = parse_moment(text, engine)
    assert found is not None
    assert found.text == text


@given(st.sampled_from(ENGINES), st.text("0123456789-/.: TAPMjanfebZ+", max_size=24))
def test_what_is_read_is_a_moment(engine: str, text: str) -> None:
    found = parse_moment(text, engine)
    if found is not None and found.day:
        datetime.fromisoformat(found.day)
    if found is not None and found.time:
        datetime.fromisoformat(f"2000-01-01 {found.time[:8]}")


@pytest.mark.parametrize(
    ("engine", "number", "moment"),
    [("sqlserver", "0", "1900-01-01"), ("sqlserver", "45000.5", "2023-03-17 12:00:00"), ("mysql", "20240301", "2024-03-01"),
     ("mysql", "20240301103000", "2024-03-01 10:30:00")],
)  # fmt: skip
def test_number_as_a_moment(engine: str, number: str, moment: str) -> None:
    found = moment_of_number(number, engine)
    assert found is not None
    assert found.text == moment


@pytest.mark.parametrize(("engine", "number"), [("sqlserver", "3000000"), ("mysql", "0"), ("postgresql", "20240301")])
def test_number_that_is_no_moment(engine: str, number: str) -> None:
    assert moment_of_number(number, engine) is None
