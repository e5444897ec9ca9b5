"""Sources whose texts compare without case: said once, where columns do so and something compares them."""

import pytest

from hullsound import steps
from hullsound.project import DraftRules, Project
from hullsound.survey.files import ScriptFile

TABLE = "CREATE TABLE berth (label varchar(20), depth int);\n"
VIEW = "CREATE VIEW v AS SELECT depth FROM berth WHERE label = 'n';\n"


def told(text: str, engine: str = "mysql", target: str = "postgresql:18", project: Project | None = None) -> list[str]:
    text = text.replace(";\n", "\nGO\n") if engine == "sqlserver" else text
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target, None, project)
    found = [f for f in case.document.findings if f.construct == "assess.text-ignores-case"]
    assert all(f.object == "database" and f.severity == "warning" for f in found)
    return [f.message for f in found]


@pytest.mark.parametrize("engine", ["mysql", "mariadb", "sqlserver"])
def test_it_is_said_once(engine: str) -> None:
    (message,) = told(TABLE + VIEW + VIEW.replace(" v ", " w "), engine)
    assert "1 column." in message


def test_it_is_not_said_where_nothing_differs() -> None:
    assert told(TABLE) == []
    assert told(TABLE.replace("label varchar(20), ", "") + VIEW.replace("label = 'n'", "depth = 1")) == []
    assert told(TABLE.replace("varchar(20)", "varchar(20) COLLATE utf8mb4_bin") + VIEW) == []
    assert told(TABLE + VIEW, target="mariadb:11.4") == []
    assert told(TABLE + VIEW, "oracle") == []
    assert told(TABLE + VIEW, project=Project(drafts=DraftRules(case="compared"))) == []
