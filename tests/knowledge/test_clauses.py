"""Clauses that the reader notes and nothing asks for would be promised as they stand."""

import re
from pathlib import Path
from typing import Final

import hullsound

_ROOT: Final = Path(hullsound.__file__).parent
_NOTED: Final = re.compile(r'clause\(\s*"([a-z0-9-]+)"')
_SEEN_OTHERWISE: Final = {
    "column-options": "its parts are nodes of their own",
    "constraint-trigger": "postgresql.trigger-function, postgresql.deferrable-constraint",
    "default-values": "rejections/read_back.py, where the target refuses it",
    "dynamic-result-sets": "db2.result-sets, teradata.result-sets",
    "edge-constraint": "sqlserver.graph-table",
    "escape-clause": "the draft stops at the brace",
    "for-replication": "nothing differs in the procedure itself",
    "load-data": "mysql.load-data, a statement",
    "partition-automatic": "oracle.partition-by-list, whose draft stops",
    "select-into-variables": "mysql.user-variable, or assignments of routines",
    "standard-body": "routines draft it as they draft a body in quotes",
    "table-option-change": "options are nodes of their own",
    "typed-view": "oracle.object-view",
    "with-ordinality": "the functions before it, such as postgresql.generate-series",
}
"""Clauses that no construct names, and what tells of them."""


def test_each_clause_of_the_reader_is_asked_for() -> None:
    parser = _ROOT / "sql" / "parser"
    noted = {name for file in parser.glob("*.py") for name in _NOTED.findall(file.read_text(encoding="utf-8"))}
    files = [*_ROOT.rglob("*.toml"), *(path for path in _ROOT.rglob("*.py") if parser not in path.parents)]
    asked = set(re.findall(r'"([a-z0-9-]+)"', "\n".join(path.read_text(encoding="utf-8") for path in files)))
    assert noted - asked - set(_SEEN_OTHERWISE) == set()
    assert set(_SEEN_OTHERWISE) <= noted - asked
