"""Writes the page of so many objects and opens it in Chromium: its size, the time to write and to open it, and that of a filter.

Run: python bench/page.py [--objects 5000]
"""

import argparse
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from hullsound import steps
from hullsound.report.files import write_reports
from hullsound.survey.files import ScriptFile

_FILTERS = 200
_ASKED = """<script>
new MutationObserver(function (_, watch) {
  if (!document.body.dataset.ready) { return; }
  watch.disconnect();
  var search = document.getElementById("search");
  for (var at = 0; at < COUNT; at += 1) { search.value = "p" + at % 10; search.dispatchEvent(new Event("input")); }
}).observe(document.body, { attributes: true });
</script></body>"""


def opened(browser: str, page: Path, text: str, filters: int) -> float:
    """Return the seconds that the browser takes to open the page and to filter it so many times."""
    page.write_text(text.replace("</body>", _ASKED.replace("COUNT", str(filters))), encoding="utf-8")
    command = [browser, "--headless", "--no-sandbox", "--disable-gpu", "--virtual-time-budget=30000", "--dump-dom"]
    begun = time.perf_counter()
    subprocess.run([*command, f"file://{page}"], capture_output=True, check=True)
    return time.perf_counter() - begun


def script(objects: int) -> str:
    """Return a made-up source: a table with its key and a procedure of twelve queries, again and again."""
    query = "  SELECT NVL(MAX(n), {0}) INTO v FROM t{1} WHERE name = 'x{0}' AND ROWNUM = 1;\\n"
    return "".join(
        f"CREATE TABLE t{i} (id NUMBER(10) PRIMARY KEY, name VARCHAR2(40), d DATE, n NUMBER(9,2));\n"
        f"CREATE PROCEDURE p{i} (a NUMBER) IS v NUMBER; BEGIN\n"
        + "".join(query.format(k, i).replace("\\n", "\n") for k in range(12))
        + "END;\n/\n"
        for i in range(objects // 3)
    )


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--objects", type=int, default=5000)
    count = parser.parse_args().objects
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script(count), "")], "oracle"), "postgresql:18")
    with tempfile.TemporaryDirectory() as folder:
        begun = time.process_time()
        (page,) = write_reports(case, Path(folder), ["html"])
        print(
            f"{len(case.document.objects)} objects: {page.stat().st_size / 1e6:.1f} MB in {time.process_time() - begun:.1f} s"
        )
        browser = shutil.which("chromium")
        if browser is None:
            print("no browser: chromium is not installed")
            return 0
        text = page.read_text(encoding="utf-8")
        empty = opened(browser, page, "<html><body></body></html>", 0)
        plain = min(opened(browser, page, text, 0) for _ in range(3))
        busy = opened(browser, page, text, _FILTERS)
        each = 1000 * (busy - plain) / _FILTERS
        print(f"opened in {plain - empty:.2f} s beyond the browser's own start; a filter takes {each:.0f} ms")
    return 0


if __name__ == "__main__":
    sys.exit(main())
