"""ON UPDATE CURRENT_TIMESTAMP on Oracle and SQL Server: a trigger sets the column in rows that get another value.

Sources: MySQL 8.4 Reference Manual, "Automatic Initialization and Updating for TIMESTAMP and DATETIME"; Oracle Database 19c,
"PL/SQL Language Reference", "DML Triggers"; Transact-SQL reference of SQL Server 2022, "UPDATE() - Trigger functions".
"""

from typing import TYPE_CHECKING, Final

from hullsound.catalog.model import Column, Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft

from .companions import touched_columns

if TYPE_CHECKING:
    from .postgresql import ObjectWriter

_BINARY: Final = "Latin1_General_100_BIN2"
"""A collation of SQL Server under which another case or accent is another value."""


def touch_of_oracle(writer: "ObjectWriter", item: Object) -> str:
    """Write the trigger of a table; '' where no column is set by itself. Raises CannotDraft for values that cannot be compared."""
    columns = touched_columns(item)
    watched = _watched(item, columns)
    if not columns or not watched:
        return ""
    changed = " OR ".join(_differs_in_oracle(each, writer, item) for each in watched)
    names = [writer.names.write(each) for each in columns]
    if any(each.startswith('"') for each in names):
        raise CannotDraft("ON UPDATE CURRENT_TIMESTAMP of a column whose name stands in quotes")
    lines = "".join(
        f"  IF NOT UPDATING('{each.upper()}') AND ({changed}) THEN\n    :NEW.{each} := LOCALTIMESTAMP;\n  END IF;\n"
        for each in names
    )
    return (
        f"\n\nCREATE OR REPLACE TRIGGER {writer.names.qualified(item.schema, f'{item.name}_TOUCH')}\n"
        f"BEFORE UPDATE ON {writer.name(item)} FOR EACH ROW\nBEGIN\n{lines}END;\n/"
    )


def touch_of_sqlserver(writer: "ObjectWriter", item: Object) -> str:
    """Write the trigger of a table; '' where no column is set by itself.

    Raises CannotDraft for a table without a primary key, whose changed rows nothing pairs, and for one with triggers of updates,
    which the change of this one would fire once more.
    """
    columns = touched_columns(item)
    watched = _watched(item, columns)
    if not columns or not watched:
        return ""
    beside = writer.catalog.belonging(item.id)
    if any(each.type is ObjectType.TRIGGER and "UPDATE" in each.text.upper() for each in beside):
        raise CannotDraft(
            "ON UPDATE CURRENT_TIMESTAMP beside a trigger of updates, which setting it would fire once more"
        )
    keys = [each.constraint for each in beside if each.constraint is not None and each.constraint.form == "primary key"]
    if not keys:
        raise CannotDraft("ON UPDATE CURRENT_TIMESTAMP of a table without a primary key")
    key = [writer.names.write(each) for each in keys[0].columns]
    table = writer.name(item)
    compared = [_compared_in_sqlserver(each, writer, item) for each in watched]
    rows = [", ".join(f"{row}.{each}" for each in compared) for row in ("hs_new", "hs_old")]
    pairs = [" AND ".join(f"{row}.{each} = hs_new.{each}" for each in key) for row in ("hs_old", "hs_row")]
    changes = "".join(
        f"  IF NOT UPDATE({column})\n    UPDATE hs_row SET {column} = {now}\n"
        f"    FROM {table} AS hs_row JOIN inserted AS hs_new ON {pairs[1]} JOIN deleted AS hs_old ON {pairs[0]}\n"
        f"    WHERE EXISTS (SELECT {rows[0]} EXCEPT SELECT {rows[1]});\n"
        for column, now in ((writer.names.write(each), _now(each, writer, item)) for each in columns)
    )
    return (
        f"\nGO\nCREATE TRIGGER {writer.names.qualified(item.schema, f'{item.name}_TOUCH')} ON {table} AFTER UPDATE\nAS\nBEGIN\n"
        f"  SET NOCOUNT ON;\n{changes}END;\nGO"
    )


def _watched(item: Object, touched: list[str]) -> list[Column]:
    """Return the columns of which a new value changes the row."""
    return [each for each in item.columns if each.name not in touched and not each.generated]


def _differs_in_oracle(column: Column, writer: "ObjectWriter", item: Object) -> str:
    kind, name = writer.column_type(item, column), writer.names.write(column.name)
    old, new = f":OLD.{name}", f":NEW.{name}"
    if kind.startswith(("json", "xmltype", "sdo_")):
        raise CannotDraft(f"ON UPDATE CURRENT_TIMESTAMP beside a column that cannot be compared: {name}")
    differs = f"DBMS_LOB.COMPARE({new}, {old}) <> 0" if kind.startswith("blob") else f"{new} <> {old}"
    return f"{differs} OR ({new} IS NULL AND {old} IS NOT NULL) OR ({new} IS NOT NULL AND {old} IS NULL)"


def _compared_in_sqlserver(column: Column, writer: "ObjectWriter", item: Object) -> str:
    kind, name = writer.column_type(item, column), writer.names.write(column.name)
    if kind.startswith(("xml", "json", "geography", "geometry", "text", "ntext", "image")):
        raise CannotDraft(f"ON UPDATE CURRENT_TIMESTAMP beside a column that cannot be compared: {column.name.lower()}")
    return f"{name} COLLATE {_BINARY}" if kind.startswith(("nvarchar", "varchar", "nchar", "char")) else name


def _now(name: str, writer: "ObjectWriter", item: Object) -> str:
    column = next(each for each in item.columns if each.name == name)
    return "SYSDATETIMEOFFSET()" if writer.column_type(item, column).startswith("datetimeoffset") else "SYSDATETIME()"
