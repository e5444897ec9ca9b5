"""The catalogue views of SQL Server, filled from scripts. Transact-SQL reference, "System catalog views"."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, DataType, Index, Object, ObjectType
from hullsound.survey.catalogues.model import Row
from hullsound.survey.live.model import Address
from hullsound.survey.live.sqlserver import SqlServerSession

from .dictionary import Dictionary, passed_seconds

_VIEWS: Final = {
    "databases": "name collation_name compatibility_level is_read_committed_snapshot_on is_broker_enabled is_cdc_enabled",
    "schemas": "schema_id name",
    "assemblies": "name permission_set_desc is_user_defined",
    "types": "user_type_id system_type_id schema_id name max_length precision scale is_nullable is_user_defined is_table_type",
    "table_types": "name schema_id type_table_object_id is_user_defined is_memory_optimized",
    "sequences": """object_id schema_id name user_type_id start_value increment minimum_value maximum_value is_cycling is_cached
        cache_size""",
    "partition_functions": "function_id name boundary_value_on_right",
    "partition_parameters": "function_id user_type_id max_length",
    "partition_range_values": "function_id boundary_id value",
    "partition_schemes": "name function_id data_space_id",
    "objects": "object_id schema_id name type is_ms_shipped",
    "tables": """object_id schema_id name temporal_type is_memory_optimized durability_desc is_node is_edge is_external is_filetable
        history_table_id is_ms_shipped""",
    "views": "object_id schema_id name is_ms_shipped",
    "columns": """object_id column_id name user_type_id max_length precision scale is_nullable collation_name is_sparse
        is_column_set is_filestream is_rowguidcol is_hidden generated_always_type default_object_id""",
    "default_constraints": "object_id name is_system_named definition",
    "identity_columns": "object_id column_id seed_value increment_value",
    "computed_columns": "object_id column_id definition is_persisted",
    "masked_columns": "object_id column_id masking_function",
    "periods": "object_id start_column_id end_column_id",
    "indexes": """object_id index_id name type_desc is_unique is_primary_key is_unique_constraint filter_definition is_disabled
        data_space_id""",
    "key_constraints": "parent_object_id unique_index_id is_system_named",
    "data_spaces": "data_space_id name type",
    "index_columns": """object_id index_id index_column_id column_id is_descending_key is_included_column key_ordinal
        partition_ordinal""",
    "check_constraints": "parent_object_id name definition is_system_named is_disabled is_not_trusted",
    "foreign_keys": """object_id parent_object_id name referenced_object_id delete_referential_action_desc
        update_referential_action_desc is_system_named is_disabled is_not_trusted""",
    "foreign_key_columns": """constraint_object_id constraint_column_id parent_object_id parent_column_id referenced_object_id
        referenced_column_id""",
    "sql_modules": "object_id definition uses_quoted_identifier uses_ansi_nulls",
    "triggers": "object_id name parent_class_desc is_disabled is_ms_shipped",
    "synonyms": "object_id schema_id name base_object_name",
    "extended_properties": "class major_id minor_id name value",
    "database_permissions": "class major_id minor_id grantee_principal_id permission_name state_desc",
    "database_principals": "principal_id name",
    "servers": "name product provider data_source is_linked",
    "service_queues": "object_id schema_id name is_ms_shipped",
    "service_message_types": "message_type_id name",
    "service_contracts": "service_contract_id name",
    "services": "service_id name",
    "xml_schema_collections": "xml_collection_id schema_id name",
    "certificates": "certificate_id name",
    "symmetric_keys": "symmetric_key_id name",
    "fulltext_catalogs": "fulltext_catalog_id name",
    "partitions": "partition_id object_id index_id rows",
    "allocation_units": "container_id total_pages",
    "dm_os_performance_counters": "counter_name instance_name cntr_value",
    "dm_os_schedulers": "total_cpu_usage_ms",
    "master_files": "size",
}
_BY_NAME: Final = {
    "create message type": "service_message_types", "create contract": "service_contracts", "create service": "services",
    "create certificate": "certificates", "create symmetric key": "symmetric_keys", "create fulltext catalog": "fulltext_catalogs",
}  # fmt: skip
"""Views of a number and a name, by the statement that makes what they hold."""
_FIRST_NUMBER: Final = 66_000
"""Numbers up to 65535 are the engine's own."""
_MODULES: Final = {ObjectType.PROCEDURE: "P", ObjectType.FUNCTION: "FN", ObjectType.VIEW: "V", ObjectType.TRIGGER: "TR",
                   ObjectType.RULE: "R"}  # fmt: skip
_ON_UPDATE: Final = re.compile(r"(?i)ON\s+UPDATE\s+(CASCADE|SET\s+NULL|SET\s+DEFAULT)")
_FUNCTION: Final = re.compile(
    r"(?is)FUNCTION\s+(\S+)\s*\((\w+)(?:\((\d+)\))?\)\s+AS\s+RANGE\s+(LEFT|RIGHT)\s+FOR\s+VALUES\s*\((.*)\)"
)
_SCHEME: Final = re.compile(r"(?is)SCHEME\s+(\S+)\s+AS\s+PARTITION\s+(\S+)")
_CONDITION: Final = re.compile(r"(?is)\bWHERE\b(.*?)(?:\bWITH\s*\(.*)?$")
_INCLUDED: Final = re.compile(r"(?is)\bINCLUDE\s*\(([^)]*)\)")
_BYTES: Final = {"NVARCHAR": 2, "NCHAR": 2, "VARCHAR": 1, "CHAR": 1, "VARBINARY": 1, "BINARY": 1}
_GENERATED: Final = {"row start": 1, "row end": 2}


@contextmanager
def open_sqlserver_stand_in(address: Address, catalog: Catalog) -> Iterator[SqlServerSession]:
    """Yield a session on the catalogue views that a surveyed database amounts to."""
    made = Filler(catalog)
    connection = made.views.connection
    connection.create_function("SERVERPROPERTY", 1, lambda name: 3 if name == "EngineEdition" else "15.0.4300.1")
    connection.create_function("DB_NAME", 0, lambda: catalog.name)
    connection.execute("ATTACH DATABASE ':memory:' AS msdb")
    connection.execute("CREATE TABLE msdb.sysjobs (job_id, name, enabled)")
    connection.execute("CREATE TABLE msdb.sysjobsteps (job_id, step_id, step_name, subsystem, database_name, command)")
    yield _StandInSession(connection, address, made.views.errors)
    connection.close()


class _StandInSession(SqlServerSession):
    """A session whose names have two parts at most, which is what SQLite has."""

    def fetch(self, query: str) -> list[Row]:
        return super().fetch(query.replace("msdb.dbo.", "msdb."))


class Filler:
    """Fills the views from a catalogue; numbers of objects are their places in it."""

    def _fill_counters(self, seconds: float) -> None:
        """Let the server have counted for so long, at a steady rate."""
        per_second = {"Page reads/sec": 640, "Page writes/sec": 220, "Log Bytes Flushed/sec": 1_200_000}
        rows = [
            (name, "_Total" if name.startswith("Log") else "", int(rate * seconds)) for name, rate in per_second.items()
        ]
        rows += [("User Connections", "", 132), ("Total Server Memory (KB)", "", 24 * 2**20)]
        self.views.fill("dm_os_performance_counters", rows)
        self.views.fill("dm_os_schedulers", [(int(420 * seconds),) for _ in range(8)])
        self.views.fill("master_files", [(9_000_000,), (1_200_000,)])

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog
        self.views = Dictionary(_VIEWS)
        self._fill_counters(passed_seconds())
        self.numbers = {key: place for place, key in enumerate(catalog.objects, start=1000)}
        names = {item.name for item in catalog.objects.values() if item.type is ObjectType.SCHEMA}
        names |= {item.schema for item in catalog.objects.values() if item.schema} - {"DBO", "SYS"}
        self.schemas = {"DBO": 1, "SYS": 4} | {name: place for place, name in enumerate(sorted(names), start=5)}
        self.types: dict[str, int] = {}
        self.users: dict[str, int] = {}
        self.next_default = 500_000
        self.views.fill("schemas", [(number, name) for name, number in self.schemas.items()])
        self.views.fill("databases", [(catalog.name, "Latin1_General_CI_AS", 150, 0, 1, 0)])
        for item in catalog.objects.values():
            if item.type is ObjectType.TYPE:
                self._add_type(item)
        for item in catalog.objects.values():
            self._add(item)

    def _add(self, item: Object) -> None:
        number, schema = self.numbers[item.id], self.schemas.get(item.schema, 1)
        statement = item.details.get("statement", "")
        if item.type in _MODULES:
            kind = _MODULES[item.type]
            self.views.fill("objects", [(number, schema, item.name, kind, 0)])
            modes = item.details.get("modes", "").split()
            settings = [int(mode not in modes) for mode in ("NO_QUOTED_IDENTIFIER", "NO_ANSI_NULLS")]
            self.views.fill("sql_modules", [(number, item.text, *settings)])
            if item.type is ObjectType.VIEW:
                self.views.fill("views", [(number, schema, item.name, 0)])
                self._add_columns(item)
            if item.type is ObjectType.TRIGGER:
                is_of_table = bool(item.table)
                self.views.fill(
                    "triggers", [(number, item.name, "OBJECT_OR_COLUMN" if is_of_table else "DATABASE", 0, 0)]
                )
        elif item.type is ObjectType.TABLE and "query" not in item.details:
            self._add_table(item, number, schema)
        elif item.type is ObjectType.SEQUENCE:
            self._add_sequence(item, number, schema)
        elif item.type is ObjectType.SYNONYM:
            target = ".".join(f"[{part}]" for part in item.details["target"].split("\t"))
            self.views.fill("synonyms", [(number, schema, item.name, target)])
        elif item.type is ObjectType.INDEX:
            self._add_index(item)
        elif item.type is ObjectType.CONSTRAINT:
            self._add_constraint(item, number)
        elif item.type is ObjectType.GRANT:
            self._add_grant(item)
        elif statement in _BY_NAME:
            self.views.fill(_BY_NAME[statement], [(number + _FIRST_NUMBER, item.name)])
        elif statement == "create queue":
            self.views.fill("service_queues", [(number, schema, item.name, 0)])
        elif statement == "create xml schema collection":
            self.views.fill("xml_schema_collections", [(number + _FIRST_NUMBER, schema, item.name)])
        elif statement == "create partition function" and (found := _FUNCTION.search(item.text)):
            self.views.fill("partition_functions", [(number, item.name, found[4].upper() == "RIGHT")])
            self.views.fill("partition_parameters", [(number, self._type_number(found[2].upper()), int(found[3] or 0))])
            bounds = enumerate(re.findall(r"'([^']*)'|(\d+)", found[5]), start=1)
            self.views.fill(
                "partition_range_values", [(number, place, text or int(digits)) for place, (text, digits) in bounds]
            )
        elif statement == "create partition scheme" and (found := _SCHEME.search(item.text)):
            function = self.catalog.resolve((found[2].strip("[]").upper(),), item.schema)
            self.views.fill("partition_schemes", [(item.name, self.numbers[function.id] if function else 0, number)])
            self.views.fill("data_spaces", [(number, item.name, "PS")])

    def _type_number(self, name: str) -> int:
        """Return the number of a built-in type, which is added to sys.types when it is first met."""
        if name not in self.types:
            number = len(self.types) + 1
            self.types[name] = number
            self.views.fill("types", [(number, number, self.schemas["SYS"], name.lower(), 0, 0, 0, 1, 0, 0)])
        return self.types[name]

    def _add_type(self, item: Object) -> None:
        number, schema = self.numbers[item.id], self.schemas.get(item.schema, 1)
        if item.details.get("form") == "table":
            self.views.fill("table_types", [(item.name, schema, number, 1, "MEMORY_OPTIMIZED" in item.text.upper())])
            self._add_columns(item)
            return
        name, _, rest = item.details.get("element", "").partition("(")
        arguments = tuple(part.strip() for part in rest.rstrip(")").split(",") if part.strip())
        facts = _facts(DataType(name, arguments))
        is_nullable = "NOT NULL" not in item.text.upper()
        self.views.fill("types", [(number, self._type_number(name), schema, item.name, *facts, is_nullable, 1, 0)])

    def _add_table(self, item: Object, number: int, schema: int) -> None:
        upper = item.text.upper()
        in_memory = "MEMORY_OPTIMIZED" in upper
        history = re.search(r"(?i)HISTORY_TABLE\s*=\s*\[?(\w+)\]?\.\[?(\w+)\]?", item.text)
        history_number = None
        if history is not None:
            history_number = number + 100_000
            owner = self.schemas.setdefault(history[1].upper(), 1)
            self.views.fill("tables", [(history_number, owner, history[2].upper(), 1, 0, None, 0, 0, 0, 0, None, 0)])
        self.views.fill("tables", [(
            number, schema, item.name, 2 if "SYSTEM_VERSIONING" in upper else 0, in_memory,
            ("SCHEMA_ONLY" if "SCHEMA_ONLY" in upper else "SCHEMA_AND_DATA") if in_memory else None,
            "AS NODE" in upper, "AS EDGE" in upper, "EXTERNAL TABLE" in upper, 0, history_number, 0,
        )])  # fmt: skip
        self.views.fill("objects", [(number, schema, item.name, "U", 0)])
        self.views.fill("partitions", [(number, number, 0, 100)])
        self.views.fill("allocation_units", [(number, 8)])
        self._add_columns(item)
        period = re.search(r"(?i)PERIOD\s+FOR\s+SYSTEM_TIME\s*\(\s*\[?(\w+)\]?\s*,\s*\[?(\w+)\]?", item.text)
        if period is not None:
            places = {column.name: place for place, column in enumerate(item.columns, start=1)}
            self.views.fill("periods", [(number, places[period[1].upper()], places[period[2].upper()])])
        if item.comment:
            self.views.fill("extended_properties", [(1, number, 0, "MS_Description", item.comment)])

    def _add_columns(self, item: Object) -> None:
        number = self.numbers[item.id]
        for place, column in enumerate(item.columns, start=1):
            default = None
            if column.default:
                default, self.next_default = self.next_default, self.next_default + 1
                self.views.fill("default_constraints", [(default, None, 1, f"({column.default})")])
            own = self.catalog.resolve((column.type.name,), item.schema) if column.type.name else None
            own = own if own is not None and own.type is ObjectType.TYPE else None
            kind = self.numbers[own.id] if own else self._type_number(column.type.name or "INT")
            generated = column.generated.lower()
            always = next((value for words, value in _GENERATED.items() if words in generated), 0)
            line = self._line(item, column)
            self.views.fill("columns", [(number, place, column.name, kind, *_facts(column.type), column.nullable, None, 0, 0,
                                         "FILESTREAM" in line, "ROWGUIDCOL" in line, 0, always, default)])  # fmt: skip
            if column.identity:
                counts = re.findall(r"-?\d+", column.identity) or ["1", "1"]
                self.views.fill("identity_columns", [(number, place, int(counts[0]), int(counts[1]))])
            if column.generated and not always:
                is_kept = "PERSISTED" in line
                self.views.fill("computed_columns", [(number, place, f"({column.generated})", is_kept)])
            if column.comment:
                self.views.fill("extended_properties", [(1, number, place, "MS_Description", column.comment)])

    def _line(self, item: Object, column: Column) -> str:
        lines = item.text.upper().split("\n")
        return next((line for line in lines if re.match(rf"\s*[\[\"]?{re.escape(column.name)}\b", line)), "")

    def _add_sequence(self, item: Object, number: int, schema: int) -> None:
        told = item.details
        kind = self._type_number(told.get("as", "bigint").upper())
        bits = {"INT": 31, "SMALLINT": 15, "TINYINT": 8}.get(told.get("as", "bigint").upper(), 63)
        cache = int(told["cache"]) if told.get("cache") else None
        least, greatest = int(told.get("minvalue", -(2**bits))), int(told.get("maxvalue", 2**bits - 1))
        self.views.fill("sequences", [(number, schema, item.name, kind, int(told.get("start", 1)), int(told.get("increment", 1)),
                                       least, greatest, "cycle" in told, "no cache" not in told, cache)])  # fmt: skip

    def _columns_of(self, table: Object) -> dict[str, int]:
        return {column.name: place for place, column in enumerate(table.columns, start=1)}

    def _put_index(
        self, table: Object, place: int, name: str, kind: str, keys: list[tuple[str, bool]], **facts: Any
    ) -> None:
        number, known = self.numbers[table.id], self._columns_of(table)
        self.views.fill("indexes", [{"object_id": number, "index_id": place, "name": name, "type_desc": kind, "is_disabled": 0,
                                     "is_unique": 0, "is_primary_key": 0, "is_unique_constraint": 0} | facts])  # fmt: skip
        self.views.fill("index_columns", [(number, place, ordinal, known.get(key, 0), is_down, 0, ordinal, 0)
                                          for ordinal, (key, is_down) in enumerate(keys, start=1)])  # fmt: skip

    def _add_index(self, item: Object) -> None:
        index = item.index or Index()
        table = self.catalog.objects.get(item.table) or self.catalog.objects[item.table.replace(".table.", ".view.")]
        place = self.numbers[item.id]
        upper = item.text.upper()
        kind = "NONCLUSTERED" if "NONCLUSTERED" in upper or "CLUSTERED" not in upper else "CLUSTERED"
        kind += " COLUMNSTORE" if index.method == "columnstore" else ""
        keys = [(key.column.upper(), key.descending) for key in index.keys if key.text]
        condition = _CONDITION.search(item.text)
        self._put_index(table, place, item.name.rpartition(".")[2], kind, keys, is_unique=index.unique,
                        filter_definition=f"({condition[1].strip()})" if condition else None)  # fmt: skip
        included = _INCLUDED.search(item.text)
        known = self._columns_of(table)
        names = [name.strip(" []\n").upper() for name in included[1].split(",")] if included else []
        self.views.fill("index_columns", [(self.numbers[table.id], place, 100 + i, known.get(name, 0), 0, 1, 0, 0)
                                          for i, name in enumerate(names)])  # fmt: skip

    def _add_constraint(self, item: Object, number: int) -> None:
        constraint = item.constraint
        table = self.catalog.objects[item.table]
        if constraint is None:
            return
        system_named = item.name not in item.text.upper()
        owner = self.numbers[table.id]
        if constraint.form in ("primary key", "unique"):
            is_primary = constraint.form == "primary key"
            is_clustered = "NONCLUSTERED" not in item.text.upper() and (is_primary or "CLUSTERED" in item.text.upper())
            self._put_index(table, number, item.name, "CLUSTERED" if is_clustered else "NONCLUSTERED",
                            [(name, False) for name in constraint.columns], is_unique=1, is_primary_key=is_primary,
                            is_unique_constraint=not is_primary)  # fmt: skip
            self.views.fill("key_constraints", [(owner, number, system_named)])
        elif constraint.form == "check":
            facts = (system_named, constraint.disabled, constraint.disabled)
            self.views.fill("check_constraints", [(owner, item.name, f"({constraint.expression})", *facts)])
        else:
            target = self.catalog.table(constraint.references, item.schema)
            if target is None:
                return
            on_update = _ON_UPDATE.search(item.text)
            actions = [
                (constraint.on_delete or "no action").upper(),
                (on_update[1] if on_update else "no action").upper(),
            ]
            self.views.fill("foreign_keys", [(number, owner, item.name, self.numbers[target.id],
                                              *(action.replace(" ", "_") for action in actions), system_named, constraint.disabled,
                                              constraint.disabled)])  # fmt: skip
            theirs = constraint.reference_columns or next(iter(self.catalog.keys_of(target)), [])
            mine, other = self._columns_of(table), self._columns_of(target)
            self.views.fill("foreign_key_columns", [
                (number, place, owner, mine.get(name, 0), self.numbers[target.id], other.get(referenced, 0))
                for place, (name, referenced) in enumerate(zip(constraint.columns, theirs, strict=False), start=1)])  # fmt: skip

    def _add_grant(self, item: Object) -> None:
        schema, _, name = item.details["target"].rpartition("\t")
        target = self.catalog.resolve((schema, name) if schema else (name,), item.default_schema or "DBO")
        if target is None:
            return
        for entry in item.details["entries"].split("\n"):
            verb, right, grantee = entry.split("\t")[:3]
            user = self.users.setdefault(grantee, len(self.users) + 10)
            if user == len(self.users) + 9:
                self.views.fill("database_principals", [(user, grantee)])
            self.views.fill("database_permissions", [(1, self.numbers[target.id], 0, user, right, verb.upper())])


def _facts(kind: DataType) -> tuple[int, int, int]:
    """Return max_length in bytes, precision and scale as sys.columns tells them."""
    first = kind.arguments[0] if kind.arguments else ""
    digits = [int(each) for each in kind.arguments if each.lstrip("-").isdigit()]
    if kind.name in _BYTES:
        return (-1 if first.upper() == "MAX" else (digits[0] if digits else 1) * _BYTES[kind.name]), 0, 0
    if kind.name in ("DECIMAL", "NUMERIC"):
        return 9, digits[0] if digits else 18, digits[1] if len(digits) > 1 else 0
    if kind.name == "FLOAT":
        return 8, digits[0] if digits else 53, 0
    return 8, 0, digits[0] if digits else 7
