"""Code of other engines as PL/pgSQL: what every routine, trigger and block needs, whatever constructs it uses.

Each procedural grammar has a folder: `plsql`, `psm` (MySQL, MariaDB, Db2, Teradata) and `tsql` (SQL Server, ASE).
"""

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.dialect import Grammar, load_dialect

_PSM = (Grammar.MYSQL, Grammar.DB2, Grammar.TERADATA)


def add_unit_points(rewriter: Rewriter, item: Object) -> None:
    """Add the points that turn a whole unit of code into statements of PostgreSQL. Raises CannotDraft."""
    grammar = load_dialect(rewriter.catalog.engine).grammar
    # Only the family that is needed is loaded: each is large, and a probe of one line should be quick.
    if grammar is Grammar.TSQL:
        from hullsound.draft.plpgsql.tsql.units import add_tsql_unit

        add_tsql_unit(rewriter, item)
    elif grammar in _PSM or grammar is Grammar.SQLITE:
        from hullsound.draft.plpgsql.psm.units import add_psm_unit

        add_psm_unit(rewriter, item)
    else:
        from hullsound.draft.plpgsql.plsql.units import add_unit_points as add_plsql_unit

        add_plsql_unit(rewriter, item)


def add_plsql_points(rewriter: Rewriter) -> None:
    """Add the points of statements of PL/SQL that stand outside of any unit."""
    from hullsound.draft.plpgsql.plsql.statements import add_code_points

    add_code_points(rewriter)


__all__ = ["add_plsql_points", "add_unit_points"]
