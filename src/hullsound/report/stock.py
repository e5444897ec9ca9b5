"""Taking stock: how much there is of what."""

import msgspec

from hullsound.catalog.catalog import Catalog


class TypeStock(msgspec.Struct, frozen=True):
    type: str
    objects: int
    lines: int
    columns: int
    used_by: int
    """References from other objects."""


class RoutineStock(msgspec.Struct, frozen=True):
    object: str
    name: str
    form: str
    lines: int
    complexity: int
    """Decisions plus one."""
    parameters: int


class TableStock(msgspec.Struct, frozen=True):
    object: str
    rows: int
    """As the engine estimates them."""
    bytes: int
    """With its indexes."""


class Stock(msgspec.Struct, frozen=True):
    name: str
    engine: str
    version: str
    files: int
    lines: int
    objects: int
    unread: int
    types: list[TypeStock]
    routines: list[RoutineStock]
    """Largest first."""
    tables: list[TableStock]
    """Those whose size is known, largest first."""
    settings: dict[str, str]
    """Of a running source."""


def take_stock(catalog: Catalog) -> Stock:
    """Count the objects of a catalogue by type, and list its routines by size."""
    rows: dict[str, list[int]] = {}
    for item in catalog.objects.values():
        row = rows.setdefault(item.type.value, [0, 0, 0, 0])
        row[0] += 1
        row[1] += item.lines
        row[2] += len(item.columns)
    for reference in catalog.references:
        target = catalog.objects.get(reference.target)
        if target is not None and reference.object != reference.target:
            rows[target.type.value][3] += 1
    routines = [
        RoutineStock(
            item.id, routine.name.lower(), routine.form, routine.lines, routine.complexity, len(routine.parameters)
        )
        for item in catalog.objects.values()
        for routine in item.routines
    ]
    routines.sort(key=lambda routine: (-routine.lines, routine.object, routine.name))
    tables = [
        TableStock(item.id, int(item.details["rows"]), int(item.details.get("bytes", 0)))
        for item in catalog.objects.values()
        if item.details.get("rows", "").isdigit()
    ]
    tables.sort(key=lambda table: (-table.bytes, -table.rows, table.object))
    return Stock(
        catalog.name, catalog.engine, catalog.version, len(catalog.files), sum(f.lines for f in catalog.files),
        len(catalog.objects), len(catalog.unread), [TypeStock(name, *row) for name, row in sorted(rows.items())], routines,
        tables, catalog.settings,
    )  # fmt: skip
