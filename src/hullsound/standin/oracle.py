"""The data dictionary of Oracle, filled from scripts. Database Reference, "Static Data Dictionary Views"."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Index, Object, ObjectType
from hullsound.survey.live.model import Address
from hullsound.survey.live.oracle import OracleSession

from .dictionary import Dictionary, passed_seconds

_VIEWS: Final = {
    "product_component_version": "product version",
    "nls_database_parameters": "parameter value",
    "dba_users": "username oracle_maintained",
    "dba_objects": "owner object_type object_name oracle_maintained",
    "dba_source": "owner name type line text",
    "dba_sequences": "sequence_owner sequence_name min_value max_value increment_by cycle_flag order_flag cache_size last_number",
    "dba_tables": "owner table_name temporary duration iot_type tablespace_name nested secondary dropped num_rows",
    "dba_tab_cols": """owner table_name column_name data_type data_type_owner data_length data_precision data_scale char_length
        char_used nullable default_on_null virtual_column identity_column data_default hidden_column column_id""",
    "dba_tab_identity_cols": "owner table_name column_name generation_type identity_options",
    "dba_external_tables": "owner table_name type_name default_directory_name",
    "dba_part_tables": "owner table_name partitioning_type subpartitioning_type partition_count interval",
    "dba_part_key_columns": "owner name object_type column_name column_position",
    "dba_tab_partitions": "table_owner table_name partition_name partition_position high_value",
    "dba_constraints": """owner constraint_name constraint_type table_name r_owner r_constraint_name delete_rule status deferrable
        deferred validated generated search_condition index_name""",
    "dba_cons_columns": "owner constraint_name column_name table_name position",
    "dba_indexes": """owner index_name index_type table_owner table_name uniqueness ityp_owner ityp_name parameters partitioned
        visibility tablespace_name""",
    "dba_ind_columns": "index_owner index_name column_name descend column_position",
    "dba_ind_expressions": "index_owner index_name column_position column_expression",
    "dba_tab_comments": "owner table_name comments",
    "dba_col_comments": "owner table_name column_name comments",
    "dba_db_links": "owner db_link username host",
    "dba_directories": "directory_name directory_path",
    "dba_views": "owner view_name read_only text",
    "dba_mviews": "owner mview_name refresh_mode refresh_method build_mode rewrite_enabled query",
    "dba_triggers": "owner trigger_name status",
    "dba_synonyms": "owner synonym_name table_owner table_name db_link",
    "dba_tab_privs": "owner table_name privilege grantee grantable",
    "dba_scheduler_jobs": "owner job_name job_type job_action repeat_interval enabled",
    "dba_policies": "object_owner object_name policy_name pf_owner package function",
    "dba_segments": "owner segment_name bytes",
    "v$sysstat": "name value",
    "v$osstat": "stat_name value",
    "v$session": "type",
    "v$sgastat": "bytes",
    "v$datafile": "bytes",
}
_CODE: Final = frozenset((ObjectType.FUNCTION, ObjectType.PACKAGE, ObjectType.PACKAGE_BODY, ObjectType.PROCEDURE,
                          ObjectType.TRIGGER, ObjectType.TYPE, ObjectType.TYPE_BODY))  # fmt: skip
_FORMS: Final = {"primary key": "P", "unique": "U", "foreign key": "R", "check": "C"}
_CREATE: Final = re.compile(r"(?is)^\s*create\s+(?:or\s+replace\s+)?(?:(?:non)?editionable\s+)?")
_PARTITION: Final = re.compile(r"(?is)PARTITION\s+(\w+)\s+VALUES\s+(?:LESS\s+THAN\s*)?\(((?:[^()]|\([^()]*\))*)\)")
_DIVIDED: Final = re.compile(r"(?is)PARTITION\s+BY\s+(\w+)\s*\(([^)]*)\)(?:\s*INTERVAL\s*\(((?:[^()]|\([^()]*\))*)\))?")
_CALL: Final = re.compile(r"(?is)DBMS_SCHEDULER\.CREATE_JOB\s*\((.*?)\)\s*;")
_ARGUMENT: Final = re.compile(r"(?is)(\w+)\s*=>\s*('(?:[^']|'')*'|[^,]+)")
_QUOTED: Final = re.compile(r"'((?:[^']|'')*)'")
_LINK: Final = re.compile(r"(?is)CONNECT\s+TO\s+(\w+)")
_SIZED_TYPES: Final = frozenset(("VARCHAR2", "VARCHAR", "CHAR", "NVARCHAR2", "NCHAR"))


@contextmanager
def open_oracle_stand_in(address: Address, catalog: Catalog) -> Iterator[OracleSession]:
    """Yield a session on the dictionary that a surveyed schema amounts to."""
    dictionary = make_dictionary(catalog)
    yield _StandInSession(dictionary.connection, address, dictionary.errors)
    dictionary.connection.close()


class _StandInSession(OracleSession):
    """A session on memory, where no query takes long."""

    def limit(self, seconds: float) -> None:
        pass


def _fill_counters(made: Dictionary, seconds: float) -> None:
    """Let the server have counted for so long, at a steady rate."""
    per_second = {
        "physical read total IO requests": 420,
        "physical read total bytes": 9_000_000,
        "physical write total IO requests": 160,
        "physical write total bytes": 3_500_000,
        "redo size": 800_000,
    }
    made.fill("v$sysstat", [(name, int(rate * seconds)) for name, rate in per_second.items()])
    made.fill("v$osstat", [("BUSY_TIME", int(310 * seconds)), ("NUM_CPUS", 8)])
    made.fill("v$session", [("USER",)] * 84 + [("BACKGROUND",)] * 30)
    made.fill("v$sgastat", [(12 * 2**30,)])
    made.fill("v$datafile", [(96 * 10**9,)])


def make_dictionary(catalog: Catalog) -> Dictionary:
    """Fill the dictionary from a surveyed schema."""
    made = Dictionary(_VIEWS)
    made.fill("product_component_version", [("Oracle Database 19c Enterprise Edition", "19.0.0.0.0")])
    made.fill("nls_database_parameters", [("NLS_CHARACTERSET", "AL32UTF8"), ("NLS_LENGTH_SEMANTICS", "BYTE")])
    _fill_counters(made, passed_seconds())
    owners = {item.schema for item in catalog.objects.values() if item.schema}
    made.fill("dba_users", [("SYS", "Y"), *((owner, "N") for owner in sorted(owners - {"PUBLIC"}))])
    for item in catalog.objects.values():
        _add(made, catalog, item)
    return made


def _add(made: Dictionary, catalog: Catalog, item: Object) -> None:
    if item.comment and item.columns:
        made.fill("dba_tab_comments", [(item.schema, item.name, item.comment)])
    made.fill("dba_col_comments", [(item.schema, item.name, c.name, c.comment) for c in item.columns if c.comment])
    if item.type in _CODE:
        lines = _CREATE.sub("", item.text, count=1).rstrip("/ \n").split("\n")
        made.fill("dba_source", [(item.schema, item.name, item.type.value.upper(), number, f"{line}\n")
                                 for number, line in enumerate(lines, start=1)])  # fmt: skip
        return
    adder = _ADDERS.get(item.type)
    if adder is not None:
        adder(made, catalog, item)


def _add_table(made: Dictionary, catalog: Catalog, item: Object) -> None:
    clauses = item.details.get("clauses", "")
    temporary = item.details.get("temporary", "")
    made.fill("dba_tables", [{
        "owner": item.schema, "table_name": item.name, "temporary": "Y" if temporary else "N",
        "duration": "SYS$SESSION" if "preserve" in temporary else "SYS$TRANSACTION" if temporary else None,
        "iot_type": "IOT" if "organization-index" in clauses else None, "nested": "NO", "secondary": "N", "dropped": "NO",
        "num_rows": 100,
    }])  # fmt: skip
    made.fill("dba_segments", [(item.schema, item.name, 65536)])
    if "external-table" in clauses:
        folder = re.search(r"(?i)DEFAULT\s+DIRECTORY\s+(\w+)", item.text)
        made.fill(
            "dba_external_tables", [(item.schema, item.name, "ORACLE_LOADER", folder[1].upper() if folder else "")]
        )
    _add_columns(made, catalog, item)
    divided = _DIVIDED.search(item.details.get("partition", ""))
    if divided is not None:
        parts = _PARTITION.findall(item.details["partition"])
        made.fill("dba_part_tables", [(item.schema, item.name, divided[1].upper(), "NONE", len(parts), divided[3])])
        keys = [name.strip().upper() for name in divided[2].split(",")]
        made.fill(
            "dba_part_key_columns", [(item.schema, item.name, "TABLE", name, i + 1) for i, name in enumerate(keys)]
        )
        made.fill("dba_tab_partitions", [(item.schema, item.name, name.upper(), i + 1, bound.strip())
                                         for i, (name, bound) in enumerate(parts)])  # fmt: skip


def _add_columns(made: Dictionary, catalog: Catalog, item: Object) -> None:
    made.fill("dba_tab_cols", [{
        "owner": item.schema, "table_name": item.name, "column_name": column.name, "hidden_column": "NO", "column_id": place,
        "nullable": "Y" if column.nullable else "N", "default_on_null": "YES" if column.default_on_null else "NO",
        "virtual_column": "YES" if column.generated else "NO", "identity_column": "YES" if column.identity else "NO",
        "data_default": column.generated or column.default or None, **_type_row(catalog, column),
    } for place, column in enumerate(item.columns, start=1)])  # fmt: skip
    made.fill("dba_tab_identity_cols", [
        (item.schema, item.name, column.name, "ALWAYS" if "always" in column.identity else "BY DEFAULT",
         "START WITH: 1, INCREMENT BY: 1")
        for column in item.columns if column.identity])  # fmt: skip


def _type_row(catalog: Catalog, column: Column) -> dict[str, Any]:
    name, arguments = column.type.name, column.type.arguments
    numbers = [int(each) if each.lstrip("-").isdigit() else None for each in arguments]
    if name in ("INTEGER", "INT", "SMALLINT"):
        return {"data_type": "NUMBER", "data_length": 22, "data_scale": 0}
    if name in ("NUMBER", "NUMERIC", "DECIMAL"):
        scale = numbers[1] if len(numbers) > 1 else 0 if numbers else None
        return {
            "data_type": "NUMBER",
            "data_length": 22,
            "data_precision": numbers[0] if numbers else None,
            "data_scale": scale,
        }
    if name in _SIZED_TYPES:
        size = numbers[0] if numbers else 1
        unit = "C" if column.type.unit == "CHAR" or name.startswith("N") else "B"
        return {"data_type": name, "data_length": size, "char_length": size, "char_used": unit}
    if name == "FLOAT":
        return {"data_type": name, "data_length": 22, "data_precision": numbers[0] if numbers else 126}
    if name == "RAW":
        return {"data_type": name, "data_length": numbers[0] if numbers else None}
    own = next((item for item in catalog.with_name(name) if item.type is ObjectType.TYPE), None)
    return {"data_type": own.name if own else str(column.type), "data_type_owner": own.schema if own else None}


def _add_constraint(made: Dictionary, catalog: Catalog, item: Object) -> None:
    constraint = item.constraint
    if constraint is None:
        return
    table = catalog.objects[item.table]
    row = {
        "owner": item.schema, "constraint_name": item.name, "constraint_type": _FORMS[constraint.form], "table_name": table.name,
        "status": "DISABLED" if constraint.disabled else "ENABLED", "validated": "VALIDATED",
        "deferrable": "DEFERRABLE" if constraint.deferrable else "NOT DEFERRABLE",
        "deferred": "DEFERRED" if "deferred" in constraint.deferrable else "IMMEDIATE",
        "generated": "USER NAME" if constraint.name and constraint.name in item.text.upper() else "GENERATED NAME",
        "delete_rule": constraint.on_delete.upper() or "NO ACTION", "search_condition": constraint.expression or None,
        "index_name": item.name,
    }  # fmt: skip
    if constraint.form == "foreign key":
        target = catalog.table(constraint.references, item.schema)
        key = next((each for each in catalog.belonging(target.id if target else "")
                    if each.constraint is not None and each.constraint.form in ("primary key", "unique")
                    and each.constraint.columns == (constraint.reference_columns or each.constraint.columns)), None)  # fmt: skip
        row |= {"r_owner": key.schema if key else None, "r_constraint_name": key.name if key else None}
    made.fill("dba_constraints", [row])
    made.fill("dba_cons_columns", [(item.schema, item.name, column, table.name, place)
                                   for place, column in enumerate(constraint.columns, start=1)])  # fmt: skip


def _add_index(made: Dictionary, catalog: Catalog, item: Object) -> None:
    table, index = catalog.objects[item.table], item.index or Index()
    kind = "BITMAP" if index.method == "bitmap" else "NORMAL"
    domain = re.search(r"(?i)INDEXTYPE\s+IS\s+(?:(\w+)\.)?(\w+)", item.text)
    made.fill("dba_indexes", [{
        "owner": item.schema, "index_name": item.name, "table_owner": table.schema, "table_name": table.name,
        "index_type": "DOMAIN" if domain else kind + ("/REV" if any("reverse" in clause for clause in index.clauses) else ""),
        "uniqueness": "UNIQUE" if index.unique else "NONUNIQUE",
        "ityp_owner": (domain[1] or "SYS").upper() if domain else None, "ityp_name": domain[2].upper() if domain else None,
        "partitioned": "YES" if any("local" in clause for clause in index.clauses) else "NO", "visibility": "VISIBLE",
    }])  # fmt: skip
    known = {column.name for column in table.columns}
    for place, each in enumerate(index.keys, start=1):
        key = each.text
        is_column = key.upper() in known
        # A key of expressions stands under a name of the engine's own; DESC makes an expression of a column too.
        name = key.upper() if is_column else f"SYS_NC{place:05}$"
        made.fill("dba_ind_columns", [(item.schema, item.name, name, "DESC" if each.descending else "ASC", place)])
        if not is_column:
            made.fill("dba_ind_expressions", [(item.schema, item.name, place, key)])


def _add_view(made: Dictionary, catalog: Catalog, item: Object) -> None:
    _add_columns(made, catalog, item)
    read_only = "Y" if "READ ONLY" in item.text.upper() else "N"
    made.fill("dba_views", [(item.schema, item.name, read_only, item.details["query"])])


def _add_materialized_view(made: Dictionary, catalog: Catalog, item: Object) -> None:
    clauses = item.details["clauses"]
    made.fill("dba_mviews", [(item.schema, item.name, "COMMIT" if "on-commit" in clauses else "DEMAND",
                              "FAST" if "refresh-fast" in clauses else "COMPLETE", "IMMEDIATE",
                              "Y" if "rewrite" in clauses else "N", item.details["query"])])  # fmt: skip


def _add_sequence(made: Dictionary, catalog: Catalog, item: Object) -> None:
    told = item.details
    made.fill("dba_sequences", [(item.schema, item.name, int(told.get("minvalue", 1)), told.get("maxvalue", "9" * 28),
                                 int(told.get("increment", 1)), "Y" if "cycle" in told else "N", "Y" if "order" in told else "N",
                                 0 if "nocache" in told else int(told.get("cache", 20)), int(told.get("start", 1)))])  # fmt: skip


def _add_synonym(made: Dictionary, catalog: Catalog, item: Object) -> None:
    schema, _, name = item.details["target"].rpartition("\t")
    link = item.details["link"] or None
    made.fill(
        "dba_synonyms", [(item.schema or "PUBLIC", item.name, schema or item.default_schema or item.schema, name, link)]
    )


def _add_grant(made: Dictionary, catalog: Catalog, item: Object) -> None:
    schema, _, name = item.details["target"].rpartition("\t")
    for entry in item.details["entries"].split("\n"):
        _, right, grantee = entry.split("\t")[:3]
        made.fill("dba_tab_privs", [(schema or item.schema, name, right, grantee, "NO")])


def _add_link(made: Dictionary, catalog: Catalog, item: Object) -> None:
    user, host = _LINK.search(item.text), _QUOTED.search(item.text)
    made.fill("dba_db_links", [(item.schema, item.name, user[1].upper() if user else None, host[1] if host else None)])


def _add_directory(made: Dictionary, catalog: Catalog, item: Object) -> None:
    path = _QUOTED.search(item.text)
    made.fill("dba_directories", [(item.name, path[1] if path else "")])
    made.fill("dba_objects", [("SYS", "DIRECTORY", item.name, "N")])


def _add_job(made: Dictionary, catalog: Catalog, item: Object) -> None:
    for call in _CALL.findall(item.text):
        told = {key.lower(): value.strip().strip("'").replace("''", "'") for key, value in _ARGUMENT.findall(call)}
        made.fill("dba_scheduler_jobs", [(item.schema, *(told.get(key) for key in ("job_name", "job_type", "job_action",
                                                                                  "repeat_interval")), "TRUE")])  # fmt: skip


_ADDERS: Final = {
    ObjectType.TABLE: _add_table, ObjectType.CONSTRAINT: _add_constraint, ObjectType.INDEX: _add_index, ObjectType.VIEW: _add_view,
    ObjectType.MATERIALIZED_VIEW: _add_materialized_view, ObjectType.SEQUENCE: _add_sequence, ObjectType.SYNONYM: _add_synonym,
    ObjectType.GRANT: _add_grant, ObjectType.DATABASE_LINK: _add_link, ObjectType.DIRECTORY: _add_directory,
    ObjectType.BLOCK: _add_job,
}  # fmt: skip
