"""The page's tables of facts: each is there as far as there is data for it, and the bar leads to it."""

from pathlib import Path

from hullsound import steps
from hullsound.project import read_project
from hullsound.report.files import write_reports

ACCEPTING = """
[[accept]]
construct = "oracle.type-bfile"
reason = "Documents <move> to the object store."
owner = "Port office"
until = 2099-04-01
[effort]
repeat = 0.25
"""


def page_of(folder: Path) -> str:
    scripts = folder / "scripts"
    scripts.mkdir()
    (scripts / "a.sql").write_text("CREATE TABLE a (id NUMBER(5), doc BFILE, note CLOB);", encoding="utf-8")
    programs = folder / "programs"
    programs.mkdir()
    (programs / "Desk.java").write_text(
        'class Desk { String q = "SELECT NVL(id, 0) FROM a WHERE ROWNUM < 5"; }', encoding="utf-8"
    )
    (folder / "hullsound.toml").write_text(ACCEPTING, encoding="utf-8")
    hull = folder / "a.hull"
    steps.survey_into(hull, scripts, "oracle", "", programs=programs)
    case = steps.assess_hull(hull, "postgresql:18", read_project(folder / "hullsound.toml"))
    write_reports(case, folder / "report", ["html"])
    return (folder / "report" / "index.html").read_text(encoding="utf-8")


def test_tables_of_facts(tmp_path: Path) -> None:
    page = page_of(tmp_path)
    for anchor in ("types", "programs", "assumptions", "accepted"):
        assert f'<a href="#{anchor}">{anchor.capitalize()}</a>' in page
        assert f'<section id="{anchor}">' in page
    assert '<a href="#values">' not in page
    assert "<code>NUMBER(5)</code>" in page
    assert "<td>Desk.java</td>" in page
    assert '<code>effort.repeat</code></td><td class="o">0.25</td><td>given</td>' in page
    assert "Documents &lt;move&gt; to the object store." in page
    assert "<td>Port office</td><td>2099-04-01</td>" in page
