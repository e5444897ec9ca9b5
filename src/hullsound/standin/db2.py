"""The SYSCAT views of Db2, filled from scripts. SQL Reference, "Road map to the catalog views"."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Index, Object, ObjectType
from hullsound.survey.live.db2 import Db2Session
from hullsound.survey.live.model import Address

from .dictionary import Dictionary

_VIEWS: Final = {
    "schemata": "schemaname",
    "datatypes": "typeschema typename typeid metatype sourceschema sourcename length scale",
    "variables": "varschema varname varmoduleid typename length scale DEFAULT",
    "sequences": "seqschema seqname seqtype datatypeid START INCREMENT minvalue maxvalue CYCLE cache ORDER",
    "tables": "tabschema tabname type remarks base_tabschema base_tabname card npages",
    "columns": """tabschema tabname colname colno typeschema typename length scale nulls codepage DEFAULT generated IDENTITY text
        remarks""",
    "colidentattributes": "tabschema tabname colname START INCREMENT",
    "tabconst": "tabschema tabname constname type enforced",
    "keycoluse": "tabschema tabname constname colname colseq",
    "REFERENCES": "tabschema tabname constname reftabschema reftabname refkeyname deleterule updaterule",
    "checks": "tabschema tabname constname type text",
    "indexes": "indschema indname tabschema tabname uniquerule system_required",
    "indexcoluse": "indschema indname colname colseq colorder text",
    "views": "viewschema viewname qualifier text",
    "routines": "routineschema routinename specificname routinetype origin qualifier text",
    "triggers": "trigschema trigname qualifier text",
    "tabauth": "tabschema tabname grantor grantee selectauth insertauth updateauth deleteauth",
}
_RULES: Final = {"cascade": "C", "set null": "N", "restrict": "R"}
_INCLUDED: Final = re.compile(r"(?is)\bINCLUDE\s*\(([^)]*)\)")
_SOURCE: Final = re.compile(r"([A-Z ]+?)(?:\((\d+)(?:,\s*(\d+))?\))?$")


@contextmanager
def open_db2_stand_in(address: Address, catalog: Catalog) -> Iterator[Db2Session]:
    """Yield a session on the catalogue that a surveyed database amounts to."""
    made = Dictionary(_VIEWS, "syscat")
    made.connection.execute("ATTACH DATABASE ':memory:' AS sysibmadm")
    made.connection.execute("CREATE TABLE sysibmadm.dbcfg (name, value)")
    made.connection.execute("CREATE TABLE sysibmadm.env_inst_info (service_level)")
    made.connection.execute("INSERT INTO sysibmadm.env_inst_info VALUES ('DB2 v11.5.8.0')")
    made.connection.execute("INSERT INTO sysibmadm.dbcfg VALUES ('codeset', 'UTF-8')")
    schemas = sorted({item.schema for item in catalog.objects.values() if item.schema})
    made.fill("schemata", [(schema,) for schema in schemas])
    for place, item in enumerate(catalog.objects.values()):
        _add(made, catalog, item, place)
    yield Db2Session(made.connection, address, made.errors)
    made.connection.close()


def _add(made: Dictionary, catalog: Catalog, item: Object, place: int) -> None:
    where = (item.schema, item.name)
    told = item.details
    default = item.default_schema or item.schema
    if item.type is ObjectType.TABLE and "query" not in told:
        _add_table(made, catalog, item)
    elif item.type is ObjectType.CONSTRAINT:
        _add_constraint(made, catalog, item)
    elif item.type is ObjectType.INDEX:
        _add_index(made, catalog, item)
    elif item.type is ObjectType.VIEW:
        made.fill("views", [(*where, default, item.text)])
    elif item.type in (ObjectType.PROCEDURE, ObjectType.FUNCTION):
        kind = "P" if item.type is ObjectType.PROCEDURE else "F"
        made.fill("routines", [(*where, f"SQL{place:06}", kind, "Q", default, item.text)])
    elif item.type is ObjectType.TRIGGER:
        made.fill("triggers", [(*where, default, item.text)])
    elif item.type is ObjectType.SYNONYM:
        schema, _, name = told["target"].rpartition("\t")
        made.fill("tables", [(*where, "A", None, schema or default, name, None, None)])
    elif item.type is ObjectType.TYPE and (found := _SOURCE.match(told.get("element", ""))):
        made.fill(
            "datatypes", [(*where, place, "T", "SYSIBM", found[1], found[2] and int(found[2]), int(found[3] or 0))]
        )
    elif item.type is ObjectType.SEQUENCE:
        made.fill("datatypes", [("SYSIBM", told.get("as", "INTEGER"), place, "S", None, None, None, None)])
        counts = (
            told.get("start", 1),
            told.get("increment", 1),
            told.get("minvalue", 1),
            told.get("maxvalue", 2147483647),
        )
        cycles, ordered = ("Y" if word in told else "N" for word in ("cycle", "order"))
        cache = int(told.get("cache") or (0 if "no cache" in told else 20))
        made.fill("sequences", [(*where, "S", place, *counts, cycles, cache, ordered)])
    elif item.type is ObjectType.GRANT:
        _add_grant(made, catalog, item)


def _add_table(made: Dictionary, catalog: Catalog, item: Object) -> None:
    kind = "G" if "TEMPORARY" in item.text.upper()[:40] else "T"
    made.fill("tables", [(item.schema, item.name, kind, item.comment or None, None, None, 100, 2)])
    for place, column in enumerate(item.columns):
        made.fill("columns", [_column_row(catalog, item, column, place)])
        if column.identity:
            counts = [*re.findall(r"-?\d+", column.identity), "1", "1"]
            made.fill("colidentattributes", [(item.schema, item.name, column.name, int(counts[0]), int(counts[1]))])


def _column_row(catalog: Catalog, item: Object, column: Column, place: int) -> dict[str, object]:
    name = column.type.name
    own = catalog.resolve((name.rpartition(".")[2],), item.schema)
    is_own = own is not None and own.type is ObjectType.TYPE
    is_bits = name.endswith(" FOR BIT DATA")
    kind = name.removesuffix(" FOR BIT DATA").replace("CHAR VARYING", "VARCHAR")
    kind = {"CHAR": "CHARACTER", "INT": "INTEGER", "DEC": "DECIMAL", "NUMERIC": "DECIMAL"}.get(kind, kind)
    numbers = [int(each) for each in column.type.arguments if each.isdigit()]
    length = numbers[0] if numbers else {"DECIMAL": 5, "CHARACTER": 1}.get(kind)
    scale = (
        numbers[1]
        if len(numbers) > 1
        else numbers[0]
        if kind == "TIMESTAMP" and numbers
        else 6
        if kind == "TIMESTAMP"
        else 0
    )
    return {
        "tabschema": item.schema, "tabname": item.name, "colname": column.name, "colno": place,
        "typeschema": own.schema if is_own and own else "SYSIBM", "typename": own.name if is_own and own else kind,
        "length": length, "scale": scale, "nulls": "Y" if column.nullable else "N", "codepage": 0 if is_bits else 1208,
        "DEFAULT": column.default or None, "generated": "A" if column.generated or "always" in column.identity else " ",
        "IDENTITY": "Y" if column.identity else "N", "text": f"AS ({column.generated})" if column.generated else None,
        "remarks": column.comment or None,
    }  # fmt: skip


def _add_constraint(made: Dictionary, catalog: Catalog, item: Object) -> None:
    constraint, table = item.constraint, catalog.objects.get(item.table)
    if constraint is None or table is None:
        return
    where = (table.schema, table.name, item.name)
    made.fill("keycoluse", [(*where, name, place) for place, name in enumerate(constraint.columns, start=1)])
    if constraint.form in ("primary key", "unique"):
        made.fill("tabconst", [(*where, "P" if constraint.form == "primary key" else "U", "Y")])
    elif constraint.form == "check":
        made.fill("checks", [(*where, "C", constraint.expression)])
    else:
        target = catalog.table(constraint.references, item.schema)
        keys = [each for each in catalog.belonging(target.id if target else "")
                if each.constraint is not None and each.constraint.form in ("primary key", "unique")]  # fmt: skip
        wanted = constraint.reference_columns
        key = next(
            (
                each
                for each in keys
                if each.constraint and each.constraint.columns == (wanted or each.constraint.columns)
            ),
            None,
        )
        if target is not None and key is not None:
            made.fill(
                "REFERENCES",
                [(*where, target.schema, target.name, key.name, _RULES.get(constraint.on_delete.lower(), "A"), "A")],
            )


def _add_index(made: Dictionary, catalog: Catalog, item: Object) -> None:
    table, index = catalog.objects[item.table], item.index or Index()
    made.fill("indexes", [(item.schema, item.name, table.schema, table.name, "U" if index.unique else "D", 0)])
    known = {column.name for column in table.columns}
    place = 0
    for place, each in enumerate(index.keys, start=1):
        key = each.text
        text = None if key.upper() in known else key
        made.fill("indexcoluse", [(item.schema, item.name, key.upper(), place, "D" if each.descending else "A", text)])
    included = _INCLUDED.search(item.text)
    for more, name in enumerate(included[1].split(",") if included else [], start=place + 1):
        made.fill("indexcoluse", [(item.schema, item.name, name.strip().upper(), more, "I", None)])


def _add_grant(made: Dictionary, catalog: Catalog, item: Object) -> None:
    schema, _, name = item.details["target"].rpartition("\t")
    for entry in item.details["entries"].split("\n"):
        _, rights, grantee = entry.split("\t")[:3]
        held = ["Y" if right in rights else "N" for right in ("SELECT", "INSERT", "UPDATE", "DELETE")]
        made.fill("tabauth", [(schema or item.schema, name, "HR", grantee, *held)])
