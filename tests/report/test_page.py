"""The page in a real browser: it lists, filters, sorts and opens objects from disk, and hostile names stay text."""

import re
import shutil
import subprocess
from html.parser import HTMLParser
from importlib.resources import files
from pathlib import Path
from urllib.parse import quote

import pytest

from hullsound import steps
from hullsound.catalog.judgements import Actual
from hullsound.plan.planning import PlanningInput, make_planning
from hullsound.plan.work import PlanSource
from hullsound.project import read_project
from hullsound.report.files import write_reports
from hullsound.report.html.comparison import render_comparison
from hullsound.survey.files import ScriptFile

SCRIPT = """
CREATE TABLE berths (id NUMBER(5) PRIMARY KEY, plan BFILE);
CREATE TABLE calls (id NUMBER(5) PRIMARY KEY, note VARCHAR2(40));
CREATE VIEW late AS
  SELECT NVL(note, '</pre><img src=x onerror=alert(1)>') AS n FROM calls;
CREATE VIEW "<img src=x onerror=alert(1)>" AS SELECT id FROM calls;
"""


class Seen(HTMLParser):
    """What a browser has made of the page: texts by the place they stand in, and the tags that it holds."""

    def __init__(self) -> None:
        super().__init__()
        self.tags: set[str] = set()
        self.ids: list[str] = []
        self.opened: list[str] = []
        self.texts: list[str] = []
        self.path: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.add(tag)
        self.path.append(tag)
        given = dict(attrs)
        if tag == "details" and given.get("class") == "object":
            self.ids.append(given["id"] or "")
            if "open" in given:
                self.opened.append(given["id"] or "")

    def handle_endtag(self, tag: str) -> None:
        while self.path and self.path.pop() != tag:
            pass

    def handle_data(self, data: str) -> None:
        if self.path[-1:] not in (["script"], ["style"]):
            self.texts.append(data)

    @property
    def text(self) -> str:
        return " ".join("".join(self.texts).split())


@pytest.fixture(scope="module")
def page(tmp_path_factory: pytest.TempPathFactory) -> Path:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", SCRIPT, "")], "oracle"), "postgresql:18")
    (path,) = write_reports(case, tmp_path_factory.mktemp("page"), ["html"])
    return path


def seen(page: Path, state: str = "") -> Seen:
    """Open the page in Chromium and return what it shows."""
    browser = shutil.which("chromium")
    if browser is None:
        pytest.skip("no browser: chromium is not installed")
    command = [browser, "--headless", "--no-sandbox", "--disable-gpu", "--virtual-time-budget=10000", "--dump-dom"]
    done = subprocess.run([*command, f"file://{page}{state}"], capture_output=True, text=True, check=True, timeout=120)
    result = Seen()
    result.feed(done.stdout)
    return result


def test_the_page_lists_what_needs_a_person(page: Path) -> None:
    shown = seen(page)
    assert shown.ids == ["table.berths"]
    assert "1 of 6 objects" in shown.text
    assert not shown.opened


def test_the_address_keeps_filters_and_order(page: Path) -> None:
    everything = "#?outcomes=as-is,drafted,confirm,rewrite,blocked"
    tables = seen(page, f"{everything}&type=table&sort=-id")
    assert tables.ids == ["table.calls", "table.berths"]
    assert seen(page, f"{everything}&q=oracle.nvl").ids == ["view.late"]
    assert seen(page, f"{everything}&severity=blocker").ids == ["table.berths"]
    assert seen(page, "#?outcomes=rewrite").ids == []


def test_the_worklist_is_filtered_by_wave_and_owner(tmp_path: Path) -> None:
    rules = tmp_path / "hullsound.toml"
    rules.write_text('[[accept]]\nconstruct = "oracle.type-bfile"\nreason = "gone by then"\nowner = "none <Ada>"\n')
    catalog = steps.survey_texts([ScriptFile("a.sql", SCRIPT, "")], "oracle")
    case = steps.assess_catalog(catalog, "postgresql:18", project=read_project(rules))
    done = [Actual("table.calls", 1.0, True)]
    source = PlanSource("desk", case.catalog, case.assessment)
    planning = make_planning(source, case.assessment.project, PlanningInput(), done)
    (page,) = write_reports(case, tmp_path, ["html"], planning=planning)
    everything = "#?outcomes=as-is,drafted,confirm,rewrite,blocked"
    assert seen(page, f"{everything}&owner=%3Dnone+%3CAda%3E").ids == ["table.berths"]
    assert "table.berths" not in seen(page, f"{everything}&owner=none").ids
    waves = {wave.number: {each.id for each in wave.objects} for wave in planning.plan.waves}
    assert waves
    for number, objects in waves.items():
        assert set(seen(page, f"{everything}&wave={number}").ids) == objects
    assert seen(page, f"{everything}&wave=done").ids == ["table.calls"]
    assert len(seen(page, f"{everything}&sort=-wave").ids) == len(case.document.objects)


def test_a_page_without_plan_and_owners_has_no_filters_for_them(page: Path) -> None:
    text = page.read_text(encoding="utf-8")
    assert 'id="type"' in text
    assert 'id="wave"' not in text
    assert 'id="owner"' not in text


def test_an_object_opens_by_its_address_with_source_and_draft(page: Path) -> None:
    shown = seen(page, "#view.late")
    assert shown.opened == ["view.late"]
    assert "COALESCE(note" in shown.text
    assert "NVL(note" in shown.text


def test_the_place_of_a_finding_leads_to_its_line(page: Path, tmp_path: Path) -> None:
    click = """setTimeout(function () {
      document.querySelector("details[open] .place").click();
      document.body.append("pointed at " + document.querySelector("details[open] .pointed .number").textContent);
    }, 2000);"""
    clicked = tmp_path / "clicked.html"
    clicked.write_text(
        page.read_text(encoding="utf-8").replace("</body>", f"<script>{click}</script></body>"), encoding="utf-8"
    )
    assert "pointed at 5" in seen(clicked, "#view.late").text


def test_a_line_leads_back_to_its_finding(page: Path, tmp_path: Path) -> None:
    click = """setTimeout(function () {
      var told = document.querySelector("details[open] .number .told");
      told.click();
      document.body.append("line " + told.textContent + " leads to " + document.activeElement.textContent.trim());
    }, 2000);"""
    clicked = tmp_path / "clicked.html"
    clicked.write_text(
        page.read_text(encoding="utf-8").replace("</body>", f"<script>{click}</script></body>"), encoding="utf-8"
    )
    assert "line 5 leads to 5:10" in seen(clicked, "#view.late").text


def test_unchanged_stretches_are_folded_and_shown(tmp_path: Path) -> None:
    plain = "".join(f"  v := v + {n};\n" for n in range(30))
    body = f"  v := NVL(v, 0);\n{plain}  v := NVL(v, 1);\n  RETURN v;\n"
    code = f"CREATE FUNCTION f RETURN NUMBER IS v NUMBER;\nBEGIN\n{body}END;\n/\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", code, "")], "oracle"), "postgresql:18")
    (page,) = write_reports(case, tmp_path, ["html"])
    show = """setTimeout(function () {
      var code = document.querySelector("details[open] .code"), before = code.querySelectorAll(".line:not(.folded)").length;
      var told = code.querySelector(".unfold").textContent;
      code.querySelector(".unfold").click();
      document.body.append(before + " lines, " + told + ", then " + code.querySelectorAll(".line:not(.folded)").length);
    }, 2000);"""
    shown = tmp_path / "shown.html"
    shown.write_text(
        page.read_text(encoding="utf-8").replace("</body>", f"<script>{show}</script></body>"), encoding="utf-8"
    )
    assert re.search(r"12 lines, \u2026 24 unchanged lines, then 36", seen(shown, "#function.f").text)


def test_hostile_names_and_texts_stay_text(page: Path) -> None:
    name = "view.<img src=x onerror=alert(1)>"
    for state in ("#?outcomes=as-is,drafted,confirm,rewrite,blocked", "#view.late", "#" + quote(name)):
        shown = seen(page, state)
        assert "img" not in shown.tags
    assert shown.opened == [name]


def test_a_printed_page_is_a_summary_of_two_pages(tmp_path: Path) -> None:
    browser = shutil.which("chromium")
    if browser is None:
        pytest.skip("no browser: chromium is not installed")
    text = SCRIPT + "".join(f"CREATE TABLE plans{n} (id NUMBER(5) PRIMARY KEY, plan BFILE);\n" for n in range(120))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle"), "postgresql:18")
    planning = steps.planning_of(case, case.assessment.project)
    (page,) = write_reports(case, tmp_path, ["html"], planning=planning)
    printed = tmp_path / "page.pdf"
    command = [browser, "--headless", "--no-sandbox", "--disable-gpu", f"--print-to-pdf={printed}", f"file://{page}"]
    subprocess.run(command, capture_output=True, check=True, timeout=120)
    assert 1 <= len(re.findall(rb"/Type */Page\b", printed.read_bytes())) <= 2


AXE = """window.addEventListener("load", function () {
  setTimeout(function () {
    axe.run(document, { resultTypes: ["violations"] }).then(function (found) {
      var kept = found.violations.filter(function (each) { return each.impact === "serious" || each.impact === "critical"; });
      var out = document.createElement("p");
      var told = kept.map(function (each) { return [each.id, each.nodes[0].html]; });
      out.textContent = "axe found " + JSON.stringify(told) + " in all";
      document.body.append(out);
    });
  }, 500);
});"""


def faults(text: str, state: str, folder: Path) -> str:
    """Return what a page says once axe-core has judged it; scripts are let in for that."""
    rules = (files("axe_core_python") / "axe.min.js").read_text(encoding="utf-8")
    checked = folder / "checked.html"
    end = text.rindex("</body>")
    judged = f"{text[:end]}<script>{rules}</script><script>{AXE}</script>{text[end:]}"
    checked.write_text(re.sub(r'<meta http-equiv="Content-Security-Policy"[^>]*>', "", judged), encoding="utf-8")
    return seen(checked, state).text


@pytest.mark.parametrize("state", ["", "#view.late", "#?outcomes=as-is,drafted,confirm,rewrite,blocked&sort=-hours"])
def test_axe_finds_nothing_serious(page: Path, tmp_path: Path, state: str) -> None:
    """The rules of WCAG 2 that axe-core checks: contrast, names of controls, tables, landmarks, keyboard."""
    assert "axe found [] in all" in faults(page.read_text(encoding="utf-8"), state, tmp_path)


def test_axe_finds_nothing_serious_in_a_comparison(tmp_path: Path) -> None:
    hull = tmp_path / "desk.hull"
    steps.save_hull(hull, steps.survey_texts([ScriptFile("a.sql", SCRIPT, "")], "oracle"))
    text = render_comparison(steps.compare_hull(hull, ["postgresql:18", "mariadb:11.8"]))
    assert "axe found [] in all" in faults(text, "", tmp_path)
