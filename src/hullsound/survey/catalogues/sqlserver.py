"""SQL Server: the rows of the catalogue views put together as statements."""

from collections.abc import Iterator
from typing import Any, Final

from .model import Capture, Row, Statement, by_first, literal

_BY_LENGTH: Final = frozenset(("varchar", "char", "varbinary", "binary"))
_BY_CHARACTERS: Final = frozenset(("nvarchar", "nchar"))
_BY_PRECISION: Final = frozenset(("decimal", "numeric"))
_BY_SCALE: Final = frozenset(("datetime2", "datetimeoffset", "time"))
_MODULES: Final = {
    "P": "procedure", "PC": "procedure", "FN": "function", "IF": "function", "TF": "function", "V": "view", "TR": "trigger",
    "R": "rule", "D": "default", "RF": "procedure",
}  # fmt: skip
_TAILS: Final = {
    "CONTRACT": " ([DEFAULT] SENT BY ANY)", "SERVICE": " ON QUEUE [queue]", "XML SCHEMA COLLECTION": " AS N''",
    "CERTIFICATE": " WITH SUBJECT = N''", "SYMMETRIC KEY": " WITH ALGORITHM = AES_256 ENCRYPTION BY PASSWORD = N''",
}  # fmt: skip
"""What must follow the name for the statement to be one; its content is not told by the catalogue, or not wanted."""
_ROW_START, _ROW_END = 1, 2
"""Values of generated_always_type: sys.columns."""


def assemble(capture: Capture) -> Iterator[Statement]:
    """Put the rows of one database together as the statements that make its objects."""
    return _Assembler(capture).statements()


class _Assembler:
    def __init__(self, capture: Capture) -> None:
        self.rows = capture.rows
        self.columns = by_first(self.rows("columns"))
        self.tables = {row[0]: (row[1], row[2]) for row in self.rows("tables")}
        self.views = {row[0]: (row[1], row[2]) for row in self.rows("views")}
        self.in_memory = {row[0] for row in self.rows("tables") if row[4]}
        self.indexes = by_first(self.rows("indexes"))
        self.index_columns = by_first(self.rows("index_columns"), 2)

    def statements(self) -> Iterator[Statement]:
        for (name,) in self.rows("schemas"):
            yield Statement(name, "schema", name, f"CREATE SCHEMA {_quoted(name)}")
        for name, rights in self.rows("assemblies"):
            text = (
                f"CREATE ASSEMBLY {_quoted(name)} FROM 0x00 WITH PERMISSION_SET = {str(rights).replace('_ACCESS', '')}"
            )
            yield Statement("", "assembly", name, text)
        yield from self._types()
        yield from self._sequences()
        yield from self._partitions()
        yield from self._tables()
        yield from self._keys()
        yield from self._checks_and_references()
        yield from self._indexes()
        yield from self._modules()
        for schema, name, target in self.rows("synonyms"):
            yield Statement(schema, "synonym", name, f"CREATE SYNONYM {_dotted(schema, name)} FOR {target}")
        yield from self._comments()
        yield from self._grants()
        for name, product, provider, source in self.rows("linked_servers"):
            values = {"server": name, "srvproduct": product, "provider": provider, "datasrc": source}
            told = ", ".join(f"@{key} = {_unicode(value)}" for key, value in values.items() if value is not None)
            yield Statement("", "server", name, f"EXEC sys.sp_addlinkedserver {told}")
        for kind, schema, name in self.rows("others"):
            named = _quoted(name) if schema is None else _dotted(schema, name)
            text = f"CREATE {kind} {named}{_TAILS.get(kind, '')}"
            yield Statement(schema or "", kind.lower(), name, text)
        yield from self._jobs()

    def _jobs(self) -> Iterator[Statement]:
        for name, steps in by_first(self.rows("jobs")).items():
            text = f"EXEC msdb.dbo.sp_add_job @job_name = {_unicode(name)}, @enabled = {int(steps[0][1] or 0)}"
            for _, _, number, step, subsystem, database, command in steps:
                values = {
                    "job_name": name,
                    "step_name": step,
                    "subsystem": subsystem,
                    "database_name": database,
                    "command": command,
                }
                told = ", ".join(f"@{key} = {_unicode(value)}" for key, value in values.items() if value is not None)
                text += f"\nEXEC msdb.dbo.sp_add_jobstep @step_id = {number}, {told}"
            yield Statement("", "job", name, text)

    def _types(self) -> Iterator[Statement]:
        for schema, name, base, length, precision, scale, nullable in self.rows("types"):
            tail = "" if nullable else " NOT NULL"
            text = f"CREATE TYPE {_dotted(schema, name)} FROM {_type(base, length, precision, scale)}{tail}"
            yield Statement(schema, "type", name, text)
        for schema, name, number, in_memory in self.rows("table_types"):
            lines = [*map(self._column, self.columns.get(number, [])), *self._key_lines(number)]
            text = f"CREATE TYPE {_dotted(schema, name)} AS TABLE (\n  " + ",\n  ".join(lines) + "\n)"
            yield Statement(schema, "type", name, text + (" WITH (MEMORY_OPTIMIZED = ON)" if in_memory else ""))

    def _sequences(self) -> Iterator[Statement]:
        for schema, name, kind, start, step, least, greatest, cycles, cached, size in self.rows("sequences"):
            text = f"CREATE SEQUENCE {_dotted(schema, name)} AS {kind} START WITH {start} INCREMENT BY {step}"
            text += f" MINVALUE {least} MAXVALUE {greatest}{' CYCLE' if cycles else ''}"
            text += (f" CACHE {size}" if size else " CACHE") if cached else " NO CACHE"
            yield Statement(schema, "sequence", name, text)

    def _partitions(self) -> Iterator[Statement]:
        values = by_first(self.rows("partition_values"))
        for name, kind, length, right, number in self.rows("partition_functions"):
            bounds = ", ".join(_bound(row[2]) for row in values.get(number, []))
            text = f"CREATE PARTITION FUNCTION {_quoted(name)} ({_type(kind, length, 0, 0) if kind in _BY_LENGTH else kind})"
            text += f" AS RANGE {'RIGHT' if right else 'LEFT'} FOR VALUES ({bounds})"
            yield Statement("", "partition function", name, text)
        for name, function in self.rows("partition_schemes"):
            text = f"CREATE PARTITION SCHEME {_quoted(name)} AS PARTITION {_quoted(function)} ALL TO ([PRIMARY])"
            yield Statement("", "partition scheme", name, text)

    def _tables(self) -> Iterator[Statement]:
        periods = {row[0]: row[1:] for row in self.rows("periods")}
        histories = {row[10:12] for row in self.rows("tables") if row[11] is not None}
        for (
            number,
            schema,
            name,
            temporal,
            in_memory,
            durability,
            node,
            edge,
            outside,
            _,
            h_schema,
            h_name,
        ) in self.rows("tables"):
            if (schema, name) in histories:
                continue  # the engine makes it with the table whose history it keeps
            rows = [row for row in self.columns.get(number, []) if not (row[1].startswith("$") or "graph_id" in row[1])]
            lines = [self._column(row) for row in rows]
            if number in periods:
                lines.append("PERIOD FOR SYSTEM_TIME ({}, {})".format(*map(_quoted, periods[number])))
            if in_memory:  # all of whose indexes are told inside
                lines += self._key_lines(number)
                for row in self.indexes.get(number, []):
                    if not (row[5] or row[6]):
                        kind = "NONCLUSTERED HASH" if "HASH" in row[3] else row[3]
                        lines.append(f"INDEX {_quoted(row[2])} {kind} ({self._key_columns(row)})")
            text = (
                f"CREATE {'EXTERNAL ' if outside else ''}TABLE {_dotted(schema, name)} (\n  "
                + ",\n  ".join(lines)
                + "\n)"
            )
            text += " AS NODE" if node else " AS EDGE" if edge else ""
            text += self._place(number)
            options = [f"SYSTEM_VERSIONING = ON (HISTORY_TABLE = {_dotted(h_schema, h_name)})"] if temporal == 2 else []
            options += [f"MEMORY_OPTIMIZED = ON, DURABILITY = {durability}"] if in_memory else []
            yield Statement(schema, "table", name, text + (f" WITH ({', '.join(options)})" if options else ""))

    def _place(self, number: int) -> str:
        """Say which scheme divides a table, where one does."""
        for row in self.indexes.get(number, []):
            if row[11] == "PS" and row[3].startswith("CLUSTERED"):
                columns = [each[2] for each in self.index_columns.get(row[:2], []) if each[6]]
                return f" ON {_quoted(row[10])} ({', '.join(map(_quoted, columns))})"
        return ""

    def _column(self, row: Row) -> str:
        (_, name, type_schema, kind, own, length, precision, scale, nullable, collation, sparse, is_set, in_file, is_guid, hidden,
         generated, default_name, system_named, default, seed, step, computed, persisted, mask) = row  # fmt: skip
        if computed is not None:
            return f"{_quoted(name)} AS {computed}{' PERSISTED' if persisted else ''}"
        text = f"{_quoted(name)} {_dotted(type_schema, kind) if own else _type(kind, length, precision, scale)}"
        text += " FILESTREAM" if in_file else ""
        text += f" COLLATE {collation}" if collation and not own else ""
        text += " SPARSE" if sparse else ""
        text += " COLUMN_SET FOR ALL_SPARSE_COLUMNS" if is_set else ""
        text += f" MASKED WITH (FUNCTION = {literal(mask)})" if mask else ""
        text += f" IDENTITY({seed},{step})" if seed is not None else ""
        if generated in (_ROW_START, _ROW_END):
            text += (
                f" GENERATED ALWAYS AS ROW {'START' if generated == _ROW_START else 'END'}{' HIDDEN' if hidden else ''}"
            )
        text += " ROWGUIDCOL" if is_guid else ""
        text += "" if nullable else " NOT NULL"
        if default is not None:
            named = "" if system_named or not default_name else f" CONSTRAINT {_quoted(default_name)}"
            text += f"{named} DEFAULT {default}"
        return text

    def _keys(self) -> Iterator[Statement]:
        for row in self.rows("indexes"):
            if (row[5] or row[6]) and row[0] in self.tables and row[0] not in self.in_memory:
                schema, table = self.tables[row[0]]
                yield Statement(
                    schema, "constraint", row[2], f"ALTER TABLE {_dotted(schema, table)} ADD {self._key(row)}"
                )

    def _key_lines(self, number: int) -> list[str]:
        return [self._key(row) for row in self.indexes.get(number, []) if row[5] or row[6]]

    def _key(self, row: Row) -> str:
        named = "" if row[9] or row[0] not in self.tables else f"CONSTRAINT {_quoted(row[2])} "
        kind = "PRIMARY KEY" if row[5] else "UNIQUE"
        return f"{named}{kind} {row[3]} ({self._key_columns(row)})"

    def _key_columns(self, row: Row) -> str:
        keys = [each for each in self.index_columns.get(row[:2], []) if not each[4] and each[5] != 0]
        return ", ".join(_quoted(each[2]) + (" DESC" if each[3] else "") for each in keys)

    def _checks_and_references(self) -> Iterator[Statement]:
        for number, name, definition, system_named, disabled, not_trusted in self.rows("checks"):
            if number in self.tables:
                yield from self._added(number, name, f"CHECK {definition}", system_named, disabled, not_trusted)
        columns = by_first(self.rows("reference_columns"))
        for (
            number,
            name,
            own,
            r_schema,
            r_table,
            on_delete,
            on_update,
            system_named,
            disabled,
            not_trusted,
        ) in self.rows("references"):
            mine, theirs = (", ".join(_quoted(each[place]) for each in columns.get(own, [])) for place in (1, 2))
            text = f"FOREIGN KEY ({mine}) REFERENCES {_dotted(r_schema, r_table)} ({theirs})"
            for event, action in (("DELETE", on_delete), ("UPDATE", on_update)):
                text += f" ON {event} {action.replace('_', ' ')}" if action != "NO_ACTION" else ""
            if number in self.tables:
                yield from self._added(number, name, text, system_named, disabled, not_trusted)

    def _added(
        self, number: int, name: str, text: str, system_named: Any, disabled: Any, not_trusted: Any
    ) -> Iterator[Statement]:
        schema, table = self.tables[number]
        named = "" if system_named else f"CONSTRAINT {_quoted(name)} "
        lead = " WITH NOCHECK" if not_trusted else ""
        yield Statement(schema, "constraint", name, f"ALTER TABLE {_dotted(schema, table)}{lead} ADD {named}{text}")
        if disabled:
            yield Statement(
                schema, "constraint", name, f"ALTER TABLE {_dotted(schema, table)} NOCHECK CONSTRAINT {_quoted(name)}"
            )

    def _indexes(self) -> Iterator[Statement]:
        for row in self.rows("indexes"):
            owner = self.tables.get(row[0]) or self.views.get(row[0])
            if row[5] or row[6] or owner is None or row[0] in self.in_memory:
                continue
            kind = str(row[3])
            lead = "UNIQUE " if row[4] else ""
            named = f"CREATE {lead}{kind} INDEX {_quoted(row[2])} ON {_dotted(*owner)}"
            if kind == "CLUSTERED COLUMNSTORE":
                text = named
            elif kind == "NONCLUSTERED COLUMNSTORE":
                columns = [each[2] for each in self.index_columns.get(row[:2], [])]
                text = f"{named} ({', '.join(map(_quoted, columns))})"
            else:
                text = f"{named} ({self._key_columns(row)})"
                extra = [each[2] for each in self.index_columns.get(row[:2], []) if each[4]]
                text += f" INCLUDE ({', '.join(map(_quoted, extra))})" if extra else ""
            text += f" WHERE {row[7]}" if row[7] else ""
            yield Statement(owner[0], "index", row[2], text)

    def _modules(self) -> Iterator[Statement]:
        for schema, name, kind, text, quoted_names, disabled, *nulls in self.rows("modules"):
            what = _MODULES.get(str(kind).strip(), "module")
            if text is None:
                continue  # told by hidden_texts
            settings = {"QUOTED_IDENTIFIER": quoted_names, "ANSI_NULLS": next(iter(nulls), None)}
            off = [setting for setting, value in settings.items() if value not in (None, True, 1)]
            lead = "".join(f"SET {setting} OFF\nGO\n" for setting in off)
            yield Statement(schema, what, name, lead + str(text).strip())
            if disabled:
                yield Statement(schema, what, name, f"DISABLE TRIGGER {_dotted(schema, name)} ON ALL SERVER")
        for name, text, _ in self.rows("database_triggers"):
            yield Statement("", "trigger", name, str(text).strip())

    def _comments(self) -> Iterator[Statement]:
        for schema, table, column, value in self.rows("comments"):
            text = f"EXEC sys.sp_addextendedproperty @name = N'MS_Description', @value = {_unicode(value)}, "
            text += f"@level0type = N'SCHEMA', @level0name = {_unicode(schema)}"
            text += f", @level1type = N'TABLE', @level1name = {_unicode(table)}"
            text += f", @level2type = N'COLUMN', @level2name = {_unicode(column)}" if column is not None else ""
            yield Statement(schema, "comment", table, text)

    def _grants(self) -> Iterator[Statement]:
        for schema, name, right, state, grantee in self.rows("grants"):
            verb = "DENY" if state == "DENY" else "GRANT"
            tail = " WITH GRANT OPTION" if state == "GRANT_WITH_GRANT_OPTION" else ""
            yield Statement(
                schema, "grant", name, f"{verb} {right} ON {_dotted(schema, name)} TO {_quoted(grantee)}{tail}"
            )


def _type(name: str, length: int, precision: int, scale: int) -> str:
    """Write a built-in type: max_length counts bytes, and is -1 for max."""
    if name in _BY_LENGTH:
        return f"{name}({'max' if length == -1 else length})"
    if name in _BY_CHARACTERS:
        return f"{name}({'max' if length == -1 else length // 2})"
    if name in _BY_PRECISION:
        return f"{name}({precision},{scale})"
    if name in _BY_SCALE:
        return f"{name}({scale})"
    return f"{name}(24)" if name == "float" and precision == 24 else name


def _quoted(name: Any) -> str:
    return "[" + str(name).replace("]", "]]") + "]"


def _dotted(schema: Any, name: Any) -> str:
    return f"{_quoted(schema)}.{_quoted(name)}"


def _unicode(text: Any) -> str:
    return f"N{literal(text)}"


def _bound(value: Any) -> str:
    return str(value) if isinstance(value, int | float) and not isinstance(value, bool) else literal(value)
