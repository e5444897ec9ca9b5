"""Breaks rules on purpose, one at a time, and asks whether a test turns red: `python bench/mutants.py [COUNT] [SEED] [GLOB ...]`.

A rule that can be broken without a test noticing is one nobody holds to. Every mutant changes one place of a module (a comparison,
a condition, a constant, a result, a call for its effect), in a copy of the code; the tests that run the place are known from one
run with coverage and are run against the copy, those that take longest last. Needs `pip install coverage`, and an hour for 40.
"""

import ast
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
TESTS = ("tests/draft", "tests/analyze", "tests/knowledge", "tests/trial")
GLOBS = ("draft/**/*.py", "analyze/**/*.py")
SECONDS = 1200
"""A mutant that lets the tests run longer counts as noticed."""

_COMPARISONS: dict[type[ast.cmpop], str] = {
    ast.Eq: "!=", ast.NotEq: "==", ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">",
    ast.Is: "is not", ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in",
}  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    path: Path
    line: int
    start: int
    end: int
    text: str
    kind: str


def main(count: int, seed: int, globs: tuple[str, ...]) -> None:
    rng = random.Random(seed)
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "src"
        shutil.copytree(ROOT / "src", copy, ignore=shutil.ignore_patterns("__pycache__"))
        tests = _tests_by_line(copy, Path(folder) / "coverage")
        mutants = [m for path in _modules(globs) for m in _mutants(path) if _reached(tests, m)]
        chosen = rng.sample(mutants, min(count, len(mutants)))
        alive = []
        for mutant in chosen:
            if not _is_noticed(mutant, copy, _reached(tests, mutant), rng):
                alive.append(mutant)
                print(_describe(mutant), flush=True)
    print(f"{len(chosen)} of {len(mutants)} mutants tried, {len(chosen) - len(alive)} noticed, {len(alive)} not")


def _modules(globs: tuple[str, ...]) -> list[Path]:
    return sorted({path for glob in globs for path in (ROOT / "src" / "hullsound").glob(glob)})


def _tests_by_line(copy: Path, data: Path) -> dict[str, dict[int, frozenset[str]]]:
    """Return the tests that run each line, by module; one run of them all under coverage, kept for the state of the code."""
    plugin = data.parent / "by_line.py"
    plugin.write_text(_PLUGIN, encoding="utf-8")
    out = data.with_suffix(".json")
    arguments = [
        sys.executable,
        "-m",
        "pytest",
        "-q",
        "-x",
        "-p",
        "by_line",
        "-p",
        "no:xdist",
        "-p",
        "no:cacheprovider",
        *TESTS,
    ]
    environment = os.environ | {
        "PYTHONPATH": f"{copy}{os.pathsep}{data.parent}",
        "BY_LINE": str(out),
        "UNDER": str(copy / "hullsound"),
    }
    subprocess.run(arguments, cwd=ROOT, env=environment, check=True, stdout=subprocess.DEVNULL)
    found = json.loads(out.read_text(encoding="utf-8"))
    names = found["tests"]
    return {
        str(Path(module).relative_to(copy)): {
            int(line): frozenset(names[t] for t in which) for line, which in lines.items()
        }
        for module, lines in found["lines"].items()
    }


_PLUGIN = """
import json, os
from collections import defaultdict
import coverage, pytest

cover = coverage.Coverage(data_file=None, source=[os.environ["UNDER"]])
cover.start()

@pytest.hookimpl(wrapper=True)
def pytest_runtest_protocol(item, nextitem):
    cover.switch_context(item.nodeid)
    return (yield)

def pytest_unconfigure(config):
    cover.stop()
    data = cover.get_data()
    names = sorted(data.measured_contexts())
    place = {name: at for at, name in enumerate(names)}
    by_file = {f: data.contexts_by_lineno(f).items() for f in data.measured_files()}
    lines = {f: {line: [place[c] for c in which if c] for line, which in found} for f, found in by_file.items()}
    with open(os.environ["BY_LINE"], "w") as out:
        json.dump({"tests": names, "lines": lines}, out)
"""


def _reached(tests: dict[str, dict[int, frozenset[str]]], mutant: Mutant) -> frozenset[str]:
    return tests.get(str(mutant.path.relative_to(ROOT / "src")), {}).get(mutant.line, frozenset())


def _mutants(path: Path) -> Iterator[Mutant]:
    text = path.read_text(encoding="utf-8")
    starts = [0]
    for line in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def span(node: ast.expr | ast.stmt) -> tuple[int, int]:
        assert node.end_lineno is not None and node.end_col_offset is not None
        return starts[node.lineno - 1] + node.col_offset, starts[node.end_lineno - 1] + node.end_col_offset

    raw = text.encode()
    for function in ast.walk(ast.parse(text)):
        if not isinstance(function, ast.FunctionDef):
            continue
        for node in ast.walk(function):
            for (start, end), replacement, kind in _changes(node, span, raw):
                yield Mutant(path, node.lineno, start, end, replacement, kind)  # type: ignore[attr-defined]


def _changes(node: ast.AST, span, raw: bytes):
    match node:
        case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in _COMPARISONS:
            between = span(left)[1], span(right)[0]
            if b"(" not in raw[slice(*between)] and b")" not in raw[slice(*between)]:
                yield between, f" {_COMPARISONS[type(op)]} ", "comparison"
        case ast.If(test=test):
            yield span(test), "True", "condition"
            yield span(test), "False", "condition"
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            yield (span(node)[0], span(operand)[0]), "", "not"
        case ast.BoolOp(op=op, values=[first, second, *_]):
            between = span(first)[1], span(second)[0]
            if b"(" not in raw[slice(*between)] and b")" not in raw[slice(*between)]:
                yield between, " and " if isinstance(op, ast.Or) else " or ", "joint"
        case ast.Return(value=ast.expr() as value) if not (isinstance(value, ast.Constant) and value.value is None):
            yield span(value), "None", "result"
        case ast.Expr(value=ast.Call()):
            yield span(node), "pass", "call"
        case ast.Constant(value=int() as value) if not isinstance(value, bool):
            yield span(node), str(value + 1), "number"


def _is_noticed(mutant: Mutant, copy: Path, tests: frozenset[str], rng: random.Random) -> bool:
    target = copy / mutant.path.relative_to(ROOT / "src")
    raw = mutant.path.read_bytes()
    target.write_bytes(raw[: mutant.start] + mutant.text.encode() + raw[mutant.end :])
    quick = sorted(test for test in tests if not test.startswith("tests/trial"))
    slow = sorted(tests - set(quick))
    rng.shuffle(quick)
    rng.shuffle(slow)
    try:
        return any(batch and _turns_red(copy, batch) for batch in (quick[:8], quick[8:], slow[:10], slow[10:]))
    finally:
        target.write_bytes(raw)


def _turns_red(copy: Path, tests: list[str]) -> bool:
    with tempfile.NamedTemporaryFile("w", suffix=".txt") as listed:
        listed.write("\n".join(tests))
        listed.flush()
        arguments = [
            sys.executable,
            "-m",
            "pytest",
            "-q",
            "-x",
            "-p",
            "no:xdist",
            "-p",
            "no:cacheprovider",
            f"@{listed.name}",
        ]
        environment = os.environ | {"PYTHONPATH": str(copy), "PYTHONDONTWRITEBYTECODE": "1"}
        try:
            done = subprocess.run(
                arguments,
                cwd=ROOT,
                env=environment,
                timeout=SECONDS,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )
        except subprocess.TimeoutExpired:
            return True
    return done.returncode != 0


def _describe(mutant: Mutant) -> str:
    raw = mutant.path.read_bytes()
    first = raw.rfind(b"\n", 0, mutant.start) + 1
    last = raw.find(b"\n", mutant.end)
    was = " ".join(raw[mutant.start : mutant.end].decode().split())
    line = " ".join(raw[first : last if last >= 0 else len(raw)].decode().split())
    return f"{mutant.path.relative_to(ROOT)}:{mutant.line} {mutant.kind}: `{was[:60]}` -> `{mutant.text.strip()}` in {line[:100]}"


if __name__ == "__main__":
    numbers = [int(each) for each in sys.argv[1:3]]
    main(*(numbers + [100, 1][len(numbers) :]), tuple(sys.argv[3:]) or GLOBS)
