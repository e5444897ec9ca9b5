"""Names that an engine gives to constraints and keys that have none, by which later statements drop or change them."""

from collections.abc import Iterator, Sequence

from .model import Object


def is_given_name(name: str, item: Object, table: Object, siblings: Sequence[Object], engine: str) -> bool:
    """Whether an engine calls an unnamed constraint of a table so; `siblings` are all of the table's, in their order."""
    if item.constraint is None or item.text.lstrip().upper().startswith("CONSTRAINT"):
        return False
    wanted = name.lower()
    return any(wanted == given.lower() for given in _given(item, table, siblings, engine))


def _given(item: Object, table: Object, siblings: Sequence[Object], engine: str) -> Iterator[str]:
    key = item.constraint
    assert key is not None
    columns = "_".join(key.columns)
    if engine == "postgresql":  # PostgreSQL 18, source of ChooseConstraintName and ChooseIndexNameAddition
        if key.form == "primary key":
            yield f"{table.name}_pkey"
        elif key.form == "unique":
            yield f"{table.name}_{columns}_key"
        elif key.form == "foreign key":
            yield f"{table.name}_{columns}_fkey"
            yield f"{table.name}_{key.columns[0]}_fkey"
        else:
            yield f"{table.name}_{key.columns[0]}_check" if key.columns else f"{table.name}_check"
    elif engine in ("mysql", "mariadb"):  # Reference Manual, "CREATE TABLE Statement", "FOREIGN KEY Constraints"
        same = [each for each in siblings if each.constraint is not None and each.constraint.form == key.form]
        place = same.index(item) + 1 if item in same else 0
        if key.form == "foreign key":
            yield f"{table.name}_ibfk_{place}"
        elif key.form == "check":
            yield f"{table.name}_chk_{place}"
            yield f"CONSTRAINT_{place}"
        elif key.form == "unique" and key.columns:
            yield key.columns[0]
