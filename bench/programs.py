"""Looks for SQL in a made-up application: classes of Java with statements, words for people and code beside.

Run: python bench/programs.py [LINES]
Prints seconds, lines per second and the most memory used, for finding alone and with judging; and what twice the lines take.
"""

import random
import resource
import sys
import tempfile
import time
from pathlib import Path

from hullsound import steps
from hullsound.survey.programs.scripts import read_programs

SEED = 7
_METHOD = """
    /** Looks up number {n}; select the berth first. */
    public String look{n}(long id, String column) {{
        String label = "Update the list of {n} ships, then select one";
        int count = 0;
        for (int i = 0; i < {n} % 17; i++) {{
            count += i * 3;
            if (count > 1000) {{ break; }}
        }}
        log.info("delete of " + count + " rows from the view begins");
        {sql}
        return label + count;
    }}
"""
_SQL = (
    'query("SELECT c.call_id, NVL(c.status, \'X\') FROM port_calls c WHERE c.call_id = ?" + " AND ROWNUM <= {n}", id);',
    'query("UPDATE berths SET status = ?, changed = SYSDATE WHERE berth_id = ?", id);',
    'StringBuilder sql = new StringBuilder("SELECT name FROM vessels v"); sql.append(" WHERE v.imo = ?"); query(sql, id);',
    'query("SELECT name FROM vessels ORDER BY " + column);',
    "count++;",
    "count += 2;",
)


def write_application(folder: Path, lines: int) -> int:
    """Write classes of about 400 lines each; return how many lines there are."""
    chance = random.Random(SEED)
    written = number = 0
    while written < lines:
        methods = []
        for _ in range(30):
            number += 1
            methods.append(_METHOD.format(n=number, sql=chance.choice(_SQL).replace("{n}", str(number))))
        text = f"package harbour;\n\npublic class C{number} {{\n{''.join(methods)}}}\n"
        (folder / f"C{number}.java").write_text(text, encoding="utf-8")
        written += text.count("\n")
    return written


def measure(lines: int) -> float:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        written = write_application(folder, lines)
        begun = time.perf_counter()
        found = read_programs(folder, "oracle")
        reading = time.perf_counter() - begun
        begun = time.perf_counter()
        catalog, _ = steps.survey_programs(folder, "oracle")
        steps.assess_catalog(catalog, "postgresql:18")
        whole = time.perf_counter() - begun
    texts = sum(len(program.texts) for program in found.programs)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{written} lines, {texts} texts: found in {reading:.1f} s, judged as well in {whole:.1f} s,", end=" ")
    print(f"{written / whole:.0f} lines/s, {memory:.0f} MB")
    return whole


if __name__ == "__main__":
    wanted = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    half, whole = measure(wanted // 2), measure(wanted)
    print(f"twice the lines take {whole / half:.2f} times as long")
