"""Which objects cannot keep a promise because something that they stand on is not there yet?"""

from typing import Final

from hullsound.catalog.filled import rows_with_gaps
from hullsound.catalog.model import CODE_TYPES, Object, ObjectType, shown
from hullsound.knowledge.model import Way

from .findings import Findings
from .graph import Dependencies
from .model import PROMISED, Assessment, Judged, Outcome

_RELATIONS: Final = frozenset((ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.SYNONYM,
                               ObjectType.SEQUENCE))  # fmt: skip
_CREATED_WITH: Final = frozenset((ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.INDEX, ObjectType.CONSTRAINT,
                                  ObjectType.TRIGGER, ObjectType.SYNONYM, ObjectType.GRANT, ObjectType.QUERY,
                                  ObjectType.CHANGE, ObjectType.TABLE, ObjectType.DATA))  # fmt: skip
"""Types whose creation fails unless all that they use exists."""
_STUBBED: Final = frozenset((ObjectType.FUNCTION, ObjectType.PROCEDURE, ObjectType.PACKAGE, ObjectType.PACKAGE_BODY))
"""Types of code of which PostgreSQL gets a placeholder that raises an error."""
_NO_MATTER: Final = frozenset((ObjectType.CONSTRAINT, ObjectType.INDEX, ObjectType.GRANT, ObjectType.DATA, ObjectType.QUERY,
                               ObjectType.CHANGE, ObjectType.BLOCK, ObjectType.TRIGGER))  # fmt: skip
"""Types that nothing stands on, but for the keys that foreign keys refer to."""
_UNRESOLVED: Final = "survey.unresolved"
_UNPROMISED: Final = (Way.REWRITE, Way.NONE)
_ASKING: Final = CODE_TYPES | {ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE}
"""Types whose text asks tables, and may hold more that cannot cross."""


def only_unresolved(assessment: Assessment) -> frozenset[str]:
    """Return the ids of views, queries and code that nothing but names outside of the survey keeps from being promised."""
    return frozenset(
        each.object.id
        for each in assessment.objects
        if each.outcome is Outcome.REWRITE
        and each.object.type in _ASKING
        and {finding.construct for finding in each.findings if finding.way in _UNPROMISED} == {_UNRESOLVED}
    )


def add_waiting(judged: dict[str, Judged], dependencies: Dependencies, findings: Findings) -> None:
    """Take back the promise of whatever stands on an object that is neither promised nor in a placeholder."""
    unread = {span.object for span in findings.catalog.unread if span.whole}
    is_postgresql = findings.target.engine == "postgresql" and not findings.pair.is_kin

    def is_missing(each: Judged) -> bool:
        item = each.object
        if each.outcome in PROMISED or item.type in _NO_MATTER:
            return False
        if item.type is ObjectType.TABLE:
            return not item.columns
        return not (is_postgresql and item.type in _STUBBED and item.id not in unread)

    def wait(each: Judged, culprit: str) -> None:
        findings.add_for_object("assess.waits-for", each.object, culprit)
        each.outcome = Outcome.REWRITE

    if not is_postgresql:
        for body, specification in _specifications(judged):
            if body.outcome not in PROMISED and specification.outcome in PROMISED:
                wait(specification, body.object.id)
    missing = [each.object.id for each in judged.values() if is_missing(each)]
    while missing:
        culprit = missing.pop()
        for user in dependencies.users(culprit):
            each = judged.get(user)
            if each is None or each.outcome not in PROMISED or not _needs(each.object, judged[culprit].object):
                continue
            wait(each, culprit)
            if is_missing(each):
                missing.append(user)
    # Between kin the statement itself crosses, and does what it does in the source.
    gaps = rows_with_gaps(findings.catalog) if not findings.pair.is_kin else {}
    for data, gap in gaps.items():
        if not gap.trigger and judged[data].outcome in PROMISED:
            findings.add_for_object("survey.rows-lack-values", judged[data].object, ", ".join(map(shown, gap.columns)))
            judged[data].outcome = Outcome.REWRITE
    rows = ((judged[data], gap.trigger) for data, gap in gaps.items() if gap.trigger)
    for each, key in (*_keys_referred_to(judged, findings), *rows):
        if each.outcome in PROMISED and judged[key].outcome not in PROMISED:
            wait(each, key)


def _specifications(judged: dict[str, Judged]) -> list[tuple[Judged, Judged]]:
    """Return each package body with its specification, whose routines are there by the body alone."""
    named = {
        (each.object.schema, each.object.name): each
        for each in judged.values()
        if each.object.type is ObjectType.PACKAGE
    }
    bodies = (each for each in judged.values() if each.object.type is ObjectType.PACKAGE_BODY)
    paired = ((each, named.get((each.object.schema, each.object.name))) for each in bodies)
    return [(body, specification) for body, specification in paired if specification is not None]


def _needs(user: Object, used: Object) -> bool:
    """Whether an object cannot be created, or not be run, without another."""
    if user.type in _CREATED_WITH or used.type is ObjectType.TYPE:
        return True
    # Code compiles without the routines that it calls, but its statements need the tables and views that they read.
    return user.type in CODE_TYPES and used.type in _RELATIONS


def _keys_referred_to(judged: dict[str, Judged], findings: Findings) -> list[tuple[Judged, str]]:
    """Return each foreign key with the key that it refers to."""
    found: list[tuple[Judged, str]] = []
    for each in judged.values():
        constraint = each.object.constraint
        if constraint is None or constraint.form != "foreign key":
            continue
        parent = findings.catalog.table(constraint.references, each.object.default_schema)
        for item in findings.catalog.belonging(parent.id) if parent is not None else ():
            key = item.constraint
            is_meant = key is not None and (
                sorted(key.columns) == sorted(constraint.reference_columns)
                if constraint.reference_columns
                else key.form == "primary key"
            )
            if key is not None and key.form in ("primary key", "unique") and is_meant:
                found.append((each, item.id))
                break
    return found
