"""Loading knowledge: every fault is reported at once, with its file and key."""

from pathlib import Path

import pytest

from hullsound.catalog.model import DataType
from hullsound.errors import KnowledgeError
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.knowledge.model import ConstructRow, StanceRow
from hullsound.knowledge.rows import Faults, read_rows
from hullsound.knowledge.targets import parse_target
from hullsound.knowledge.types import choose_type
from hullsound.sight.detector import REGISTRY
from hullsound.sight.see import load_seer
from hullsound.sql.dialect import ENGINES


def test_faults_name_file_and_key_and_come_together(tmp_path: Path) -> None:
    path = tmp_path / "wrong.toml"
    path.write_text(
        '[one]\ntitle = "t"\nmeaning = "m"\nmatch = { detctor = "x" }\nexample = "e"\n[two]\ntitle = 5\n',
        encoding="utf-8",
    )
    faults = Faults()
    assert not read_rows(path, ConstructRow, faults)
    with pytest.raises(KnowledgeError) as caught:
        faults.raise_any()
    text = str(caught.value)
    assert "wrong.toml: [one]" in text
    assert "detctor" in text
    assert "wrong.toml: [two]" in text


def test_broken_toml_and_unknown_ways_are_faults(tmp_path: Path) -> None:
    (tmp_path / "a.toml").write_text("[x\n", encoding="utf-8")
    (tmp_path / "b.toml").write_text('[x]\nway = "maybe"\n', encoding="utf-8")
    faults = Faults()
    read_rows(tmp_path / "a.toml", StanceRow, faults)
    read_rows(tmp_path / "b.toml", StanceRow, faults)
    assert len(faults.lines) == 2


def test_every_remark_of_our_own_says_what_to_do() -> None:
    assert all(row.remedy and row.meaning for row in load_general().values())


def test_every_detector_belongs_to_a_construct() -> None:
    for engine in ENGINES:
        load_seer(engine)
    named = {c.match.detector for engine in ENGINES for c in load_constructs(engine).values()}
    assert set(REGISTRY) == named - {""}


@pytest.mark.parametrize(
    ("source", "target"),
    [
        (DataType("VARCHAR2", ("80",), "CHAR"), "varchar(80)"),
        (DataType("VARCHAR2"), "text"),
        (DataType("CHAR"), "char(1)"),
        (DataType("NUMBER"), "numeric"),
        (DataType("NUMBER", ("*",)), "numeric"),
        (DataType("NUMBER", ("4",)), "smallint"),
        (DataType("NUMBER", ("9",)), "integer"),
        (DataType("NUMBER", ("18",)), "bigint"),
        (DataType("NUMBER", ("19",)), "numeric(19,0)"),
        (DataType("NUMBER", ("10", "2")), "numeric(10,2)"),
        (DataType("NUMBER", ("3", "5")), "numeric(5,5)"),
        (DataType("NUMBER", ("5", "-2")), "numeric(7,0)"),
        (DataType("DATE"), "timestamp(0)"),
        (DataType("TIMESTAMP", ("3",)), "timestamp(3)"),
        (DataType("TIMESTAMP WITH TIME ZONE"), "timestamptz(6)"),
        (DataType("BFILE"), ""),
        (DataType("RAW", ("16",)), "bytea"),
    ],
    ids=str,
)
def test_types_pass_through_their_logical_kind(source: DataType, target: str) -> None:
    choice = choose_type("oracle", source, parse_target("postgresql:18"))
    assert choice is not None
    assert choice.text == target


def test_a_type_of_the_sources_own_is_left_to_the_catalogue() -> None:
    assert choose_type("oracle", DataType("ADDRESS_T"), parse_target("postgresql")) is None
