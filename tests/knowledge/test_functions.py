"""Every function that a source supplies and a target lacks gives a finding: none crosses in silence to be refused."""

import pytest

from hullsound import steps
from hullsound.knowledge.load import load_engine
from hullsound.knowledge.targets import takes, target_engines, target_functions
from hullsound.sql.dialect import ENGINES
from hullsound.survey.files import ScriptFile

NO_CALLS = frozenset(
    """BEGIN CONNECT_BY_ROOT CUBE END EXIST EXISTS INTERVAL MODIFY NODES NORMALIZE PRIOR QUERY ROLLUP ROW UPDATE UPDATING VALUE
    VALUES""".split()
)
"""Words of grammar, and methods, which a call by itself does not show."""
NEED_MORE = {"oracle": {"INSTR", "NUMTODSINTERVAL", "NUMTOYMINTERVAL"}, "ase": {"TRY_CONVERT"}}
"""Functions whose forms constructs tell apart by arguments that the two calls here do not have."""


@pytest.mark.parametrize("engine", [engine for engine in ENGINES if load_engine(engine).function_names])
def test_no_function_that_a_target_lacks_crosses_in_silence(engine: str) -> None:
    names = sorted(load_engine(engine).function_names - NO_CALLS - NEED_MORE.get(engine, set()))
    end = "\nGO\n" if engine in ("sqlserver", "ase") else ";\n"
    silent = {}
    for arguments in ("a", "a, b"):
        files = [ScriptFile(f"{name}.sql", f"SELECT {name}({arguments}) AS x FROM t{end}", "") for name in names]
        catalog = steps.survey_texts(files, engine, is_whole=False)
        for target in target_engines():
            is_kin = {engine, target} <= {"mysql", "mariadb"} or {engine, target} <= {"sqlserver", "ase"}
            if is_kin or target == engine or not takes(target, engine):
                continue
            told = {finding.file for finding in steps.assess_catalog(catalog, target).document.findings}
            silent[target, arguments] = [
                name for name in names if name not in target_functions(target) and f"{name}.sql" not in told
            ]
    assert {key: found for key, found in silent.items() if found} == {}
