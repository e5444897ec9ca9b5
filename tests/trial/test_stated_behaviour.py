"""Scripts that state in comments what each routine gives: the drafts give the same on a real PostgreSQL.

What is stated comes from the source engines' references; neither SQL Server nor Oracle runs here.
"""

from collections.abc import Iterator
from contextlib import ExitStack

import pytest

from .office import DATA, Office, open_office
from .stated import Stated, differs, read_stated

pytestmark = pytest.mark.server

SCRIPTS = {
    "chandlery.sql": "sqlserver",
    "tariffs.sql": "oracle",
    "crews.sql": "oracle",
    "gates.sql": "oracle",
    "dredgers.sql": "oracle",
    "buoys.sql": "sqlserver",
    "quays.sql": "sqlserver",
    "lines.sql": "sqlserver",
    "slips.sql": "db2",
    "floats.sql": "db2",
    "tides.sql": "teradata",
    "hands.sql": "oracle",
    "stalls.sql": "sqlserver",
    "stock.sql": "db2",
}
CASES = [(file, case) for file in SCRIPTS for case in read_stated((DATA / file).read_text(encoding="utf-8"))[1]]


@pytest.fixture(scope="module")
def offices(server_url: str) -> Iterator[dict[str, Office]]:
    with ExitStack() as stack:
        yield {
            file: stack.enter_context(open_office(file, engine, server_url, read_stated((DATA / file).read_text())[0]))
            for file, engine in SCRIPTS.items()
        }


@pytest.mark.parametrize(("file", "case"), CASES, ids=lambda value: str(value)[:60])
def test_draft_does_what_is_stated(file: str, case: Stated, offices: dict[str, Office]) -> None:
    assert differs(case, offices[file]) == ""
