"""What masks say: each notation is read into the same pieces, and what MariaDB writes of them is what PostgreSQL writes."""

from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound import steps
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.masks import mysql, oracle, sqlserver
from hullsound.draft.masks.number_forms import read_number_mask, read_number_pattern
from hullsound.draft.masks.pieces import Fill, NumberForm, Part
from hullsound.draft.masks.reading import read_letters, read_pattern, read_percent_signs, read_style
from hullsound.survey.files import ScriptFile

MASKS = [
    "YYYY-MM-DD", "DD.MM.YYYY HH24:MI:SS", "YYMMDD", "FMDD.FMMM.YYYY", "Dy, DD Mon YYYY", "FMDay DD FMMonth", "MONTH|DAY", "mon dy",
    "HH12:MI AM", "HH:MI pm", "IYYY-IW", "Q/YYYY", "WW W", "DDD", "J", "D ID", "SSSS", "CC", "MS US", "FF3", "FMHH24:MI",
    '"on the "FMDDth',
    "DDTH", "YYYY\"T\"HH24", "FMMM/FMDD/YY", "FMHH12 AM",
]  # fmt: skip
MOMENTS = [
    "2024-02-29 06:05:04.123456",
    "1999-12-31 23:59:59.9",
    "2000-01-01 00:00:00",
    "2021-01-03 12:30:00",
    "2025-10-11 11:09:08.5",
]
NUMBER_MASKS = [
    "999", "000", "FM000", "FM999990.00", "9,999.00", "FM9,999,990.00", "FM990.99", "99.9", "FM0999", "9,990", "FM999",
    "FM9990.99", "9.99",
]  # fmt: skip
NUMBERS = ["0", "7", "-7", "42.125", "1234.5", "-0.5", "999.995", "123456", "0.05"]


@pytest.mark.parametrize(
    ("letters", "percent", "pattern"),
    [
        ("YYYY-MM-DD", "%Y-%m-%d", "yyyy-MM-dd"),
        ("DD.MM.YY HH24:MI:SS", "%d.%m.%y %H:%i:%s", "dd.MM.yy HH:mm:ss"),
        ("FMDD/MM", "%e/%c", "d/M"),
        ("FMMonth", "%M", "MMMM-"),
        ("HH12:MI AM", "%h:%i %p", "hh:mm tt"),
    ],
)
def test_the_same_in_every_notation(letters: str, percent: str, pattern: str) -> None:
    read = read_letters(letters, "oracle")
    assert read_percent_signs(percent) == read
    assert read_pattern(pattern)[: len(read)] == read


def test_fm_holds_for_all_that_follows_in_oracle_and_for_one_element_in_postgresql() -> None:
    fills = {engine: [piece.fill for piece in read_letters("FMDDMM", engine)] for engine in ("oracle", "postgresql")}
    assert fills == {"oracle": [Fill.NOTHING, Fill.NOTHING], "postgresql": [Fill.NOTHING, Fill.ZEROS]}


@pytest.mark.parametrize("mask", ["RM", "YYYY BC", "MS", 'DD"', "TZH", "Y,YYY", "DDSP"])
def test_elements_that_are_not_known_are_refused(mask: str) -> None:
    with pytest.raises(CannotDraft):
        read_letters(mask, "oracle")


@pytest.mark.parametrize("pattern", ["d", "G", "yyyyy", "dd\\x", "%d", 'dd"x"'])
def test_patterns_of_one_letter_and_unknown_ones_are_refused(pattern: str) -> None:
    with pytest.raises(CannotDraft):
        read_pattern(pattern)


def test_old_styles_have_blanks_before_one_digit() -> None:
    day = next(piece for piece in read_style("100") if piece.part is Part.DAY)
    assert day.fill is Fill.BLANKS
    with pytest.raises(CannotDraft):
        read_style("130")


@given(st.text(alphabet="YMDHISQWJAPFdmonthy-/:.,\"'\\ %#09", max_size=24))
def test_no_mask_is_read_into_something_that_a_writer_falls_over(mask: str) -> None:
    """Every mask is read or refused, and what is read is written or refused, with its quotes closed."""
    for read in (lambda m: read_letters(m, "oracle"), read_percent_signs, read_pattern):
        try:
            pieces = read(mask)
        except CannotDraft:
            continue
        for write in (
            lambda p: mysql.moment_text("d", p),
            sqlserver_text := lambda p: sqlserver.moment_text("d", p),
            lambda p: oracle.moment_text("d", p, has_fraction=True),
        ):
            try:
                text = write(pieces)
            except CannotDraft:
                continue
            assert text.count("'") % 2 == 0 and text
        assert sqlserver_text


def test_forms_of_numbers() -> None:
    assert read_number_mask("FM9,990.00", "oracle") == NumberForm(4, 1, 2, 2, True, 0, "#########", True)
    assert read_number_pattern("N2") == NumberForm(0, 1, 2, 2, groups=True)
    assert read_number_pattern("0000") == NumberForm(0, 4, 0, 0)
    for mask in ("S99", "L99", "99PR", "9,99", "FM.99", "XX", "99V9"):
        with pytest.raises(CannotDraft):
            read_number_mask(mask, "oracle")
    for pattern in ("C", "P1", "E2", "0.0%"):
        with pytest.raises(CannotDraft):
            read_number_pattern(pattern)


# --- what two real engines write ---


def drafts(expressions: list[str]) -> Iterator[tuple[str, str]]:
    """Yield each expression of PostgreSQL with its draft for MariaDB; those that are refused are left out."""
    views = "".join(f"CREATE VIEW v{n} AS SELECT {text} AS r FROM t;\n" for n, text in enumerate(expressions))
    script = f"CREATE TABLE t (d timestamp, n numeric(12,4));\n{views}"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("m.sql", script, "")], "postgresql"), "mariadb:10.11")
    for draft in case.drafts.drafts:
        if draft.object.type == "view" and draft.is_promised and draft.is_finished:
            query = draft.text[draft.text.index("SELECT") :].rstrip(";\n")
            yield expressions[int(draft.object.name[1:])], query


@pytest.mark.server
@pytest.mark.parametrize(
    ("masks", "column", "values", "least"),
    [(MASKS, "d", [f"'{each}'" for each in MOMENTS], 26), (NUMBER_MASKS, "n", NUMBERS, 13)],
    ids=["moments", "numbers"],
)
def test_both_engines_write_the_same(
    masks: list[str], column: str, values: list[str], least: int, server_url: str, mariadb: Any
) -> None:
    from hullsound.trial.postgresql import scratch_database

    found = list(drafts([f"to_char({column}, '{mask}')" for mask in masks]))
    assert len(found) >= least
    rows = "; ".join(f"INSERT INTO t ({column}) VALUES ({value})" for value in values)
    with scratch_database(server_url) as connection:
        connection.execute("CREATE TABLE t (d timestamp, n numeric(12,4))")
        connection.execute(rows.encode())
        start = [
            "CREATE OR REPLACE DATABASE yard_of_masks",
            "USE yard_of_masks",
            "CREATE TABLE t (d datetime(6), n decimal(12,4))",
        ]
        mariadb.value("\x01".join((*start, *rows.split("; "), "SELECT 1")))
        for expression, query in found:
            wanted = [
                each[0] for each in connection.execute(f"SELECT {expression} FROM t ORDER BY d, n".encode()).fetchall()
            ]
            # The client takes blanks at the ends off, so that the rows are put between bars.
            value = query.removeprefix("SELECT ").replace(" FROM t", "", 1)
            joined = f"SELECT GROUP_CONCAT('|', r, '|' ORDER BY d, n SEPARATOR '') FROM (SELECT d, n, {value} FROM t) x"
            given = mariadb.value(f"USE yard_of_masks\x01{joined}")
            assert given == "".join(f"|{each}|" for each in wanted), (expression, query)
