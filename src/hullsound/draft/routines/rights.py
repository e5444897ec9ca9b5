"""With whose rights a routine runs, where its text says that they are those of its caller.

Sources: Oracle Database 19c PL/SQL Language Reference, "AUTHID"; MySQL 8.4 Reference Manual, "Stored Object Access Control".
"""

import re
from typing import Final

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Clause

CALLER: Final = {"oracle": "AUTHID CURRENT_USER", "mysql": "SQL SECURITY INVOKER", "mariadb": "SQL SECURITY INVOKER"}
"""What a routine says there to run with the rights of its caller; those of its owner count without it."""
_SAID_BY_PACKAGE: Final = re.compile(r"(?i)\bAUTHID\s+CURRENT_USER\b")


def caller_rights(item: Object, rewriter: Rewriter) -> str:
    """Return what the target must be told of a routine that runs with the rights of its caller; '' for another."""
    said = any(clause.name == "invoker-rights" for clause in rewriter.subject.all(Clause))
    if item.type is ObjectType.PACKAGE_BODY:
        said = any(
            each.type is ObjectType.PACKAGE and _SAID_BY_PACKAGE.search(each.text) is not None
            for each in rewriter.catalog.with_name(item.name)
        )
    return CALLER.get(rewriter.target.engine, "") if said else ""
