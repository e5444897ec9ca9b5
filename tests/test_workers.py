"""Work in several processes: the same results in the same order, errors that are told, and no process where none pays."""

import os
import signal
import subprocess
import sys
import threading
import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound import steps
from hullsound.draft import write
from hullsound.draft.rejections import find
from hullsound.steps import scripts
from hullsound.survey.files import ScriptFile
from hullsound.workers import Workers, packs_of

SCRIPT = """
CREATE TABLE berths{0} (id NUMBER(9) PRIMARY KEY, name VARCHAR2(40) NOT NULL, plan BFILE);
CREATE VIEW long_berths{0} AS SELECT NVL(name, 'none') AS name FROM berths{0} WHERE ROWNUM < 10;
CREATE FUNCTION name_of{0}(p NUMBER) RETURN VARCHAR2 IS v VARCHAR2(40); BEGIN
  SELECT name INTO v FROM berths{0} WHERE id = p; RETURN v; EXCEPTION WHEN NO_DATA_FOUND THEN RETURN NULL; END;
/
CREATE PROCEDURE tell{0} IS BEGIN DBMS_AQ.ENQUEUE('x'); UPDATE berths{0} SET name = SYSDATE; END;
/
"""


@given(st.lists(st.integers(0, 50), max_size=40), st.integers(1, 60))
def test_packs_hold_every_place_once(sizes: list[int], enough: int) -> None:
    packs = packs_of(sizes, enough)
    assert [place for pack in packs for place in pack] == list(range(len(sizes)))
    assert all(sum(sizes[place] for place in pack[:-1]) < enough for pack in packs)


def in_own_process(function: str, *arguments: str) -> None:
    """Run a function of this file in a process that has no other threads, whatever ran in this one before."""
    code = "import runpy, sys; runpy.run_path(sys.argv[1])[sys.argv[2]](*sys.argv[3:])"
    command = [sys.executable, "-c", code, __file__, function, *arguments]
    done = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
    assert done.returncode == 0, done.stderr


def work_in_order() -> None:
    results = list(Workers(2).map(lambda place: (place * place, os.getpid()), [1] * 20, 0))
    assert [square for square, _ in results] == [place * place for place in range(20)]
    assert os.getpid() not in {process for _, process in results}


def test_other_processes_work_in_order() -> None:
    in_own_process("work_in_order")


def test_an_error_in_another_process_is_raised_here() -> None:
    with pytest.raises(ZeroDivisionError):
        list(Workers(2).map(lambda place: 1 // (place - 7), [1] * 20, 0))


def test_an_interrupt_ends_all_processes() -> None:
    """As from a terminal, where it goes to every process: none may be left waiting for a lock that another took with it."""
    code = (
        "import signal, time\nfrom hullsound.workers import Workers\n"
        "signal.signal(signal.SIGINT, signal.default_int_handler)\nprint('begun', flush=True)\n"
        "list(Workers(3).map(lambda place: time.sleep(0.002) or 'x' * 50_000, [1] * 20_000, 0))"
    )
    for _ in range(4):
        command = [sys.executable, "-c", code]
        with subprocess.Popen(
            command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, start_new_session=True
        ) as process:
            assert process.stdout is not None
            assert process.stdout.readline() == b"begun\n"
            time.sleep(0.5)
            os.killpg(process.pid, signal.SIGINT)
            try:
                assert process.wait(timeout=20) != 0
            except subprocess.TimeoutExpired:
                os.killpg(process.pid, signal.SIGKILL)
                raise


def test_no_process_is_started_for_little_work_or_beside_threads() -> None:
    assert not Workers(2).are_used([10, 10], 100)
    assert not Workers(1).are_used([100, 100], 100)
    done = threading.Event()
    beside = threading.Thread(target=done.wait)
    beside.start()
    try:
        assert not Workers(2).are_used([100, 100], 100)
    finally:
        done.set()
        beside.join()


def draft_alone_and_together(target: str) -> None:
    write.WORTH = find.WORTH = scripts._WORTH_A_PROCESS = 0
    files = [ScriptFile(f"{n}.sql", SCRIPT.format(n), "") for n in range(12)]
    alone, together = (
        steps.assess_catalog(steps.survey_texts(files, "oracle", jobs=jobs), target, jobs=jobs) for jobs in (1, 3)
    )
    assert together.document == alone.document
    both = zip(together.drafts.drafts, alone.drafts.drafts, strict=True)
    assert all(one.text == other.text and one.edits == other.edits for one, other in both)
    assert together.drafts.converted() == alone.drafts.converted()
    assert any(draft.is_finished for draft in alone.drafts.drafts)
    if target.startswith("postgresql"):
        assert any(draft.text and not draft.is_finished for draft in alone.drafts.drafts)


@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:11.8", "sqlserver:2022"])
def test_the_result_does_not_depend_on_the_processes(target: str) -> None:
    in_own_process("draft_alone_and_together", target)
