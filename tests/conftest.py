"""What tests share: a real PostgreSQL, the example schema, and the demo scripts."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from hullsound.errors import TargetError
from hullsound.survey.files import ScriptFile

DATA = Path(__file__).parent / "data"


@pytest.fixture(scope="session")
def server_url() -> Iterator[str]:
    """Start one private PostgreSQL for the session; skip where none is installed."""
    from hullsound.trial.postgresql import private_server

    server = private_server()
    try:
        url = server.__enter__()
    except TargetError as error:
        pytest.skip(f"no PostgreSQL: {error}")
    try:
        yield url
    finally:
        server.__exit__(None, None, None)


@pytest.fixture(scope="session")
def example_schema() -> ScriptFile:
    return ScriptFile("schema.sql", (DATA / "example_schema.sql").read_text(encoding="utf-8"), "")


@pytest.fixture(scope="session")
def demo_scripts(tmp_path_factory: pytest.TempPathFactory) -> Path:
    from hullsound.demo import copy_scripts

    return copy_scripts("oracle", tmp_path_factory.mktemp("demo"))
