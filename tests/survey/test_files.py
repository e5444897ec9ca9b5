"""Script files: encodings, what is no script, and files that cannot be read."""

from pathlib import Path

import pytest

from hullsound import steps
from hullsound.errors import SourceError
from hullsound.survey.files import decode


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("newline", ["\n", "\r\n"])
def test_encodings_and_line_ends(encoding: str, newline: str) -> None:
    text = newline.join(["CREATE TABLE t (", "  größe NUMBER(5)", ");"])
    assert decode(text.encode(encoding), "x") == text


def test_crlf_scripts_are_read_with_their_lines(tmp_path: Path) -> None:
    path = tmp_path / "a.sql"
    path.write_bytes(
        b"SET ECHO OFF\r\nCREATE PROCEDURE p IS\r\nBEGIN\r\n  NULL;\r\nEND;\r\n/\r\nSELECT NVL(1, 2) x FROM dual;\r\n"
    )
    catalog = steps.survey_scripts(path, "oracle")
    assert [(o.id, o.line) for o in catalog.objects.values()] == [("procedure.p", 2), ("query.a:7", 7)]
    assert not catalog.unread


def test_a_binary_file_alone_is_an_error_and_among_others_a_finding(tmp_path: Path) -> None:
    (tmp_path / "bin.sql").write_bytes(b"\0\1\2\3")
    with pytest.raises(SourceError, match="binary"):
        steps.survey_scripts(tmp_path / "bin.sql", "oracle")
    (tmp_path / "fine.sql").write_text("CREATE SEQUENCE s;", encoding="utf-8")
    catalog = steps.survey_scripts(tmp_path, "oracle")
    assert list(catalog.objects) == ["sequence.s"]
    assert "survey.unread-file" in {s.construct for s in catalog.sightings}


@pytest.mark.parametrize("name", ["missing", "empty"])
def test_sources_without_scripts(name: str, tmp_path: Path) -> None:
    (tmp_path / "empty").mkdir()
    with pytest.raises(SourceError) as caught:
        steps.survey_scripts(tmp_path / name, "oracle")
    assert caught.value.hint


def test_an_empty_script_is_no_error(tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text("", encoding="utf-8")
    assert not steps.survey_scripts(tmp_path, "oracle").objects


def test_a_folder_without_rights_is_an_error(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    import os

    real = os.scandir

    def deny(path: object) -> object:
        if str(path).endswith("closed"):
            raise PermissionError(13, "Permission denied", str(path))
        return real(path)  # type: ignore[call-overload]

    (tmp_path / "closed").mkdir()
    monkeypatch.setattr(os, "scandir", deny)
    with pytest.raises(SourceError, match="Permission denied"):
        steps.survey_scripts(tmp_path, "oracle")


def test_a_very_long_line_is_read(tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text("SELECT '" + "x" * 20_000_000 + "' a FROM dual;", encoding="utf-8")
    catalog = steps.survey_scripts(tmp_path, "oracle")
    assert len(catalog.objects) == 1
    assert not catalog.unread
