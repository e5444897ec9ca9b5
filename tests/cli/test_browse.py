"""The terminal application: driven by Textual's pilot on a hull file in a temporary folder, and the decisions that it writes."""

import asyncio
from collections.abc import Awaitable, Callable
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from textual.pilot import Pilot
from textual.widgets import DataTable, Input, Static, TabbedContent
from textual.worker import WorkerCancelled

from hullsound import steps
from hullsound.catalog.judgements import read_actuals
from hullsound.cli.browser.app import Browser
from hullsound.cli.browser.dialogs import Dialog
from hullsound.cli.browser.session import Session
from hullsound.decisions import accept_text, add_accept
from hullsound.errors import SourceError, UsageError
from hullsound.project import AcceptEntry, read_project

SCRIPT = """
CREATE TABLE vessels (id NUMBER(9) PRIMARY KEY, name VARCHAR2(40) NOT NULL, "od[bold]d" VARCHAR2(4));
CREATE VIEW v_tree AS SELECT id FROM vessels START WITH id = 1 CONNECT BY PRIOR id = id + 1;
CREATE VIEW v_plain AS SELECT NVL(name, '-') AS n FROM vessels;
CREATE OR REPLACE PROCEDURE mail_all IS BEGIN UTL_MAIL.SEND('a', 'b', message => 'x'); END;
/
"""


@pytest.fixture
def session(tmp_path: Path) -> Session:
    (tmp_path / "a.sql").write_text(SCRIPT, encoding="utf-8")
    steps.save_hull(tmp_path / "a.hull", steps.survey_scripts(tmp_path / "a.sql", "oracle"))
    return Session(tmp_path / "a.hull", "postgresql:18", tmp_path)


Play = Callable[[Browser, Pilot[None]], Awaitable[None]]


def play(session: Session, part: Play, size: tuple[int, int] = (140, 40)) -> Browser:
    """Run the application without a terminal and let `part` press its keys."""

    async def whole() -> Browser:
        app = Browser(session)
        async with app.run_test(size=size) as pilot:
            with suppress(WorkerCancelled):  # by an application that has ended
                await app.workers.wait_for_complete()
            await pilot.pause()
            await part(app, pilot)
        return app

    return asyncio.run(whole())


def text_of(app: Browser, name: str) -> str:
    return str(app.screen.query_one(name, Static).render())


async def choose(app: Browser, pilot: Pilot[None], name: str) -> None:
    """Put the cursor of the worklist on an object."""
    place = next(at for at, entry in enumerate(app.entries) if entry.id == name)
    app.query_one("#worklist", DataTable).move_cursor(row=place)
    await pilot.pause()


def test_the_worklist_shows_what_the_assessment_says(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        assert [entry.rank for entry in app.entries] == sorted(entry.rank for entry in app.entries)
        assert app.query_one("#worklist", DataTable).row_count == len(app.entries) == 5
        assert text_of(app, "#summary") == "5 of 5 objects; 0 done"
        await choose(app, pilot, "view.v_tree")
        assert "view.v_tree" in text_of(app, "#head")
        assert app.shown is not None and "oracle.connect-by" in {each.construct for each in app.shown.findings}

    play(session, part)


def test_the_worklist_is_narrowed_by_text_and_outcome(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        await pilot.press("slash", *"V_PLAIN", "enter")
        assert [entry.id for entry in app.entries] == ["view.v_plain"]
        assert isinstance(app.focused, DataTable)
        app.query_one("#narrow", Input).value = "no such object"
        await pilot.pause()
        assert not app.entries and text_of(app, "#head") == ""
        app.query_one("#narrow", Input).value = ""
        await pilot.pause()
        seen = set()
        for _ in range(6):
            await pilot.press("o")
            seen |= {entry.outcome.value for entry in app.entries}
        assert len(app.entries) == 5 and {"as-is", "blocked", "confirm"} <= seen

    play(session, part)


def test_keys_open_findings_both_texts_and_the_explanation(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        await choose(app, pilot, "view.v_plain")
        for key, pane in (("s", "sides"), ("e", "explanation"), ("f", "findings")):
            await pilot.press(key)
            await pilot.pause()
            assert app.query_one("#tabs", TabbedContent).active == pane
        assert app.shown is not None and app.shown.findings
        first = app.shown.findings[0]
        await pilot.press("enter")
        await pilot.pause()
        assert app.query_one("#tabs", TabbedContent).active == "explanation"
        assert app.query_one("#meaning", Static).render() is not None
        assert first.construct.startswith("oracle.")

    play(session, part)


def test_a_finding_is_accepted_with_reason_owner_and_day(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        await choose(app, pilot, "view.v_tree")
        await pilot.press("f", "a")
        assert isinstance(app.screen, Dialog)
        await pilot.press("enter")
        assert "reason" in text_of(app, "#fault")
        app.screen.query_one("#reason", Input).value = 'said "so"\\'
        app.screen.query_one("#owner", Input).value = "Ann"
        app.screen.query_one("#until", Input).value = "spring"
        await pilot.click("#save")
        assert "no day" in text_of(app, "#fault")
        app.screen.query_one("#until", Input).value = "2099-03-31"
        app.screen.query_one("#until", Input).focus()
        await pilot.press("enter")
        await pilot.pause()
        assert not isinstance(app.screen, Dialog), text_of(app, "#fault")
        assert app.shown is not None and any(each.accepted for each in app.shown.findings)

    app = play(session, part)
    entry = read_project(session.folder / "hullsound.toml").accept[0]
    assert (entry.reason, entry.owner, entry.object, entry.until) == (
        'said "so"\\',
        "Ann",
        "view.v_tree",
        date(2099, 3, 31),
    )
    assert app.session.project.accept == (entry,)


def test_work_is_marked_done_with_its_hours(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        await choose(app, pilot, "view.v_plain")
        await pilot.press("d")
        await pilot.press(*"much", "enter")
        assert "no number of hours" in text_of(app, "#fault")
        app.screen.query_one("#hours", Input).value = "-1"
        await pilot.press("enter")
        assert "from 0 to" in text_of(app, "#fault")
        app.screen.query_one("#hours", Input).value = "1,5"
        await pilot.press("enter")
        await pilot.pause()
        assert text_of(app, "#summary").endswith("1 done")
        assert "done in 1.5 h" in text_of(app, "#head")

    play(session, part)
    assert [tuple(each) for each in read_actuals(session.hull)] == [("view.v_plain", 1.5, True)]


def test_dialogs_are_left_without_a_trace(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        for key in ("a", "d"):
            await pilot.press("f", key, "escape")
            assert not isinstance(app.screen, Dialog)

    play(session, part)
    assert not (session.folder / "hullsound.toml").exists() and read_actuals(session.hull) == []


def test_a_hull_file_that_cannot_be_read_ends_with_its_status(session: Session) -> None:
    session.hull.write_bytes(b"nothing")

    async def part(app: Browser, pilot: Pilot[None]) -> None:
        await pilot.pause()

    assert play(session, part).return_code == SourceError.status


def test_names_of_the_source_steer_nothing(session: Session) -> None:
    async def part(app: Browser, pilot: Pilot[None]) -> None:
        await choose(app, pilot, "table.vessels")
        await pilot.press("s")
        assert app.is_running

    play(session, part, (80, 24))


@pytest.mark.parametrize("text", ["plain", 'a "quote" and \\', "two\nlines\t", "\x7f\x01", "ünï € 日本"])
def test_every_text_comes_back_from_the_project_file(tmp_path: Path, text: str) -> None:
    entry = AcceptEntry("oracle.*", text, text, object=text)
    add_accept(tmp_path / "hullsound.toml", entry)
    add_accept(tmp_path / "hullsound.toml", AcceptEntry("a", "b", "c"))
    assert read_project(tmp_path / "hullsound.toml").accept == (entry, AcceptEntry("a", "b", "c"))


def test_what_stands_in_a_project_file_stays(tmp_path: Path) -> None:
    path = tmp_path / "hullsound.toml"
    path.write_text('target = "mariadb:11.8"  # ours', encoding="utf-8")
    add_accept(path, AcceptEntry("a", "b", "c"))
    assert path.read_text(encoding="utf-8").startswith('target = "mariadb:11.8"  # ours\n')
    path.write_text("[[accept", encoding="utf-8")
    with pytest.raises(UsageError):
        add_accept(path, AcceptEntry("a", "b", "c"))
    assert path.read_text(encoding="utf-8") == "[[accept" and sorted(tmp_path.iterdir()) == [path]
    assert accept_text(AcceptEntry("a", "b", "c")) == '[[accept]]\nconstruct = "a"\nreason = "b"\nowner = "c"\n'


def test_browse_without_a_terminal_says_so(session: Session, run: Any) -> None:
    done = run("browse", str(session.hull), cwd=session.folder)
    assert done.returncode == 2 and "needs a terminal" in done.stderr
