"""Sources other than scripts of a named engine: guesses, dictionaries, Access files, encodings, unchanged files."""

import re
import shutil
from pathlib import Path

import pytest

import hullsound.demo
from hullsound import steps
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.model import ObjectType
from hullsound.demo import SYSTEMS
from hullsound.errors import SourceError, UsageError
from hullsound.survey.dictionary import TEMPLATE, read_dictionary
from hullsound.survey.files import decode, read_all
from hullsound.survey.guess import _SIGNS, guess_engine

DEMO = Path(hullsound.demo.__file__).parent


@pytest.mark.parametrize("engine", SYSTEMS)
def test_every_demo_system_is_recognised_with_reasons(engine: str) -> None:
    guess = guess_engine(read_all(DEMO / engine)[0])
    assert guess.engine == engine
    assert guess.reasons


def test_scripts_that_any_engine_could_have_written_are_not_guessed(tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text("SELECT a FROM t WHERE b = 1;\n", encoding="utf-8")
    with pytest.raises(UsageError, match="cannot tell the engine"):
        steps.survey_source(tmp_path)


def test_the_template_is_a_dictionary_that_can_be_read(tmp_path: Path) -> None:
    path = tmp_path / "fields.csv"
    path.write_text(TEMPLATE, encoding="utf-8")
    catalog = steps.survey_source(path)
    tables = {item.name: item for item in catalog.objects.values() if item.type is ObjectType.TABLE}
    assert set(tables) == {"BERTH", "PORT_CALL"}
    assert tables["PORT_CALL"].details == {"rows": "250000", "bytes": "52428800"}
    dues = next(column for column in tables["PORT_CALL"].columns if column.name == "DUES")
    assert (str(dues.type), dues.nullable, dues.default, dues.comment) == ("DECIMAL(12,2)", True, "0", "In crowns")
    keys = {item.constraint.form: item.constraint for item in catalog.objects.values() if item.constraint}
    assert keys["foreign key"].references == ("BERTH",)
    assert keys["foreign key"].reference_columns == ["BERTH_ID"]


@pytest.mark.parametrize(
    "text",
    [
        "Table Name;Field Name;Data Type;Field Size;Required\nboat;id;Long Integer;;Yes\nboat;name;Text;40;No\n",
        "TABLE\tFIELD\tFORMAT\tLENGTH\tNULLABLE\nboat\tid\tlong integer\t\tN\nboat\tname\ttext\t40\tY\n",
        "owner,table_name,column_name,data_type,is_nullable\n,boat,id,long integer,NO\n,boat,name,text(40),YES\n",
    ],
)
def test_headers_and_separators_are_matched_kindly(text: str, tmp_path: Path) -> None:
    path = tmp_path / "f.csv"
    path.write_bytes(text.encode("cp1252"))
    (boat,) = (item for item in read_dictionary(path).objects.values() if item.type is ObjectType.TABLE)
    assert [(c.name, str(c.type), c.nullable) for c in boat.columns] == [
        ("ID", "LONG INTEGER", False), ("NAME", "TEXT(40)", True),
    ]  # fmt: skip


def test_rows_without_a_name_are_unread_and_headers_without_one_an_error(tmp_path: Path) -> None:
    path = tmp_path / "f.csv"
    path.write_text("table,column,type\nboat,id,int\n,lost,int\nboat,,int\n", encoding="utf-8")
    catalog = read_dictionary(path)
    assert [(u.line, u.reason) for u in catalog.unread] == [
        (3, "the row names no table"),
        (4, "the row names no column"),
    ]
    path.write_text("a,b\n1,2\n", encoding="utf-8")
    with pytest.raises(SourceError, match="names no table and no column"):
        read_dictionary(path)
    path.write_text("table,column,type\n", encoding="utf-8")
    with pytest.raises(SourceError, match="no row"):
        read_dictionary(path)


def test_access_files_are_read_through_mdb_schema(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A stand-in for the program prints what mdb-schema prints: no Access file can be made on this machine."""
    program = tmp_path / "mdb-schema"
    program.write_text(
        "#!/bin/sh\ncat <<'END'\nCREATE TABLE [Berth Log]\n (\n\t[Log ID]\t\t\tLong Integer, \n"
        "\t[Note]\t\t\tMemo/Hyperlink (255), \n\t[At]\t\t\tDateTime NOT NULL\n);\n"
        "CREATE UNIQUE INDEX [PrimaryKey] ON [Berth Log] ([Log ID]);\nEND\n",
        encoding="utf-8",
    )
    program.chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    (tmp_path / "log.mdb").write_bytes(b"\0\1\0\0Standard Jet DB\0")
    catalog = steps.survey_source(tmp_path / "log.mdb")
    table = next(item for item in catalog.objects.values() if item.type is ObjectType.TABLE)
    assert (catalog.engine, table.name) == ("access", "BERTH LOG")
    assert [(c.name, c.type.name, c.nullable) for c in table.columns] == [
        ("LOG ID", "LONG INTEGER", True), ("NOTE", "MEMO", True), ("AT", "DATETIME", False),
    ]  # fmt: skip
    assert not catalog.sightings


@pytest.mark.skipif(shutil.which("mdb-schema") is None, reason="mdbtools is not installed")
def test_a_file_that_is_no_access_file_is_an_error(tmp_path: Path) -> None:
    (tmp_path / "x.accdb").write_bytes(b"junk" * 2000)
    with pytest.raises(SourceError):
        steps.survey_source(tmp_path / "x.accdb")


TEXT = "CREATE TABLE t (naïve INT);\n"


@pytest.mark.parametrize(
    ("data", "encoding"),
    [
        (TEXT.encode("utf-8-sig"), ""), (TEXT.encode("utf-16"), ""), (TEXT.encode("utf-16-le"), ""),
        (TEXT.encode("utf-16-be"), ""), (TEXT.encode("latin-1"), ""), (TEXT.encode("cp850"), "cp850"),
    ],
)  # fmt: skip
def test_encodings_are_found_out_or_given(data: bytes, encoding: str) -> None:
    assert decode(data, "a.sql", encoding) == TEXT


def test_line_ends_nulls_and_form_feeds_do_no_harm(tmp_path: Path) -> None:
    script = "CREATE TABLE a (x INT);\n-- note\nCREATE TABLE b (y INT);\n"
    for data in (script.replace("\n", "\r\n"), script.replace("\n", "\r"), script.replace(";\n", ";\f\n"),
                 "x\0".join(["", *[""] * 0]) + script.replace("-- note", "-- no\0te")):  # fmt: skip
        (tmp_path / "a.sql").write_bytes(data.encode())
        catalog = steps.survey_source(tmp_path / "a.sql", "mysql")
        assert len(catalog.objects) == 2, data
    with pytest.raises(UsageError, match="unknown encoding"):
        steps.survey_source(tmp_path / "a.sql", "mysql", encoding="nonsense")


def test_unchanged_files_are_taken_from_the_last_hull_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from hullsound.steps import scripts

    folder, hull = tmp_path / "scripts", tmp_path / "a.hull"
    shutil.copytree(DEMO / "sqlserver", folder)
    (folder / "install.sql").unlink()  # it calls all others, which makes of them one group
    read: list[str] = []
    original = scripts.read_group
    monkeypatch.setattr(
        scripts, "read_group", lambda files, engine: (read.extend(f.name for f in files), original(files, engine))[1]
    )

    def run() -> bytes:
        read.clear()
        catalog = steps.survey_source(folder, "sqlserver", previous=hull)
        steps.save_hull(hull, catalog)
        kept = read_hull(hull)
        return repr((sorted(kept.objects), kept.references, kept.sightings, kept.unread)).encode()

    first = run()
    assert len(read) > 20
    assert run() == first
    assert read == []
    (folder / "jobs.sql").write_text("CREATE TABLE dbo.Fresh (Id int)\nGO\n", encoding="utf-8")
    assert run() != first
    assert read == ["jobs.sql"]
    hull.write_bytes(b"junk")
    run()
    assert len(read) > 20


@pytest.mark.parametrize("engine", SYSTEMS)
def test_every_sign_holds_one_of_its_words(engine: str) -> None:
    """Else texts that bear the sign would not be searched for it."""
    text = "\n".join(path.read_text(encoding="utf-8") for path in sorted((DEMO / engine).rglob("*.sql")))
    for sign in _SIGNS:
        for found in re.finditer(sign.pattern, text, re.MULTILINE | re.IGNORECASE):
            assert any(word in found[0].lower() for word in sign.words.split()), (sign.pattern, found[0])
