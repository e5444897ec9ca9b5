"""What a profile found, as rows for people."""

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import shown
from hullsound.knowledge.load import load_questions


class ValueFact(msgspec.Struct, frozen=True):
    """One answer of the values of a column."""

    object: str
    column: str
    question: str
    title: str
    rows: int | None
    """How many rows say yes; None where a number was asked for."""
    value: int | None
    """The number that was asked for, such as the longest; None where rows were counted."""
    seen: int
    """Rows that were looked at."""
    total: int


def list_values(catalog: Catalog, *, only_yes: bool = False) -> list[ValueFact]:
    """Return the answers of a profile in the order of tables and columns; with `only_yes`, those that rows say yes to."""
    rows = load_questions()
    order = {key: place for place, key in enumerate(catalog.objects)}
    facts = []
    for m in sorted(catalog.measures, key=lambda m: order.get(m.object, len(order))):
        row = rows.get(m.question)
        if row is None or (only_yes and not m.count):
            continue
        count, value = (m.count, None) if row.is_count else (None, m.value)
        facts.append(
            ValueFact(m.object, shown(m.column), m.question, row.asks or row.title, count, value, m.seen, m.total)
        )
    return facts
