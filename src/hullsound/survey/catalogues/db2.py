"""Db2: the rows of the SYSCAT views put together as statements."""

from collections.abc import Iterator
from typing import Any, Final

from .model import Capture, Row, Statement, by_first, literal
from .oracle import quoted

_SIZED: Final = frozenset(
    ("VARCHAR", "CHARACTER", "GRAPHIC", "VARGRAPHIC", "BINARY", "VARBINARY", "CLOB", "BLOB", "DBCLOB")
)
_RULES: Final = {"C": "CASCADE", "N": "SET NULL", "R": "RESTRICT"}
_RIGHTS: Final = ("SELECT", "INSERT", "UPDATE", "DELETE")


def assemble(capture: Capture) -> Iterator[Statement]:
    """Put the rows of one database together as the statements that make its objects."""
    return _Assembler(capture).statements()


class _Assembler:
    def __init__(self, capture: Capture) -> None:
        self.rows = capture.rows
        self.columns = by_first(self.rows("columns"), 2)
        self.keys = {
            key: [row[3] for row in rows] for key, rows in by_first(self.rows("constraint_columns"), 3).items()
        }

    def statements(self) -> Iterator[Statement]:
        for (name,) in self.rows("schemas"):
            yield Statement(name, "schema", name, f"CREATE SCHEMA {quoted(name)}")
        for schema, name, _, source, length, scale in self.rows("types"):
            text = f"CREATE TYPE {_dotted(schema, name)} AS {_sized(source, length, scale)}"
            yield Statement(schema, "type", name, text)
        for schema, name, kind, length, scale, default in self.rows("variables"):
            tail = f" DEFAULT {default}" if default is not None else ""
            yield Statement(
                schema, "variable", name, f"CREATE VARIABLE {_dotted(schema, name)} {_sized(kind, length, scale)}{tail}"
            )
        yield from self._sequences()
        yield from self._tables()
        yield from self._constraints()
        yield from self._indexes()
        for schema, name, b_schema, b_name in self.rows("aliases"):
            yield Statement(
                schema, "alias", name, f"CREATE ALIAS {_dotted(schema, name)} FOR {_dotted(b_schema, b_name)}"
            )
        for schema, name, default, text in self.rows("views"):
            yield from _told(schema, "view", name, default, text)
        for schema, name, kind, default, text, _ in self.rows("routines"):
            yield from _told(schema, "procedure" if kind == "P" else "function", name, default, text)
        for schema, name, default, text in self.rows("triggers"):
            yield from _told(schema, "trigger", name, default, text)
        for schema, name, grantee, *held in self.rows("grants"):
            rights = [right for right, how in zip(_RIGHTS, held, strict=True) if how in ("Y", "G")]
            if rights:
                text = f"GRANT {', '.join(rights)} ON {_dotted(schema, name)} TO {quoted(str(grantee).strip())}"
                yield Statement(schema, "grant", name, text)

    def _sequences(self) -> Iterator[Statement]:
        for schema, name, kind, start, step, least, greatest, cycles, cache, ordered in self.rows("sequences"):
            text = f"CREATE SEQUENCE {_dotted(schema, name)}{f' AS {kind}' if kind else ''} START WITH {start} INCREMENT BY {step}"
            text += f" MINVALUE {least} MAXVALUE {greatest}{' CYCLE' if cycles == 'Y' else ''}"
            text += f" CACHE {cache}" if int(cache or 0) > 1 else " NO CACHE"
            yield Statement(schema, "sequence", name, text + (" ORDER" if ordered == "Y" else ""))

    def _tables(self) -> Iterator[Statement]:
        for schema, name, kind, remarks in self.rows("tables"):
            rows = self.columns.get((schema, name), [])
            lead = "GLOBAL TEMPORARY " if kind == "G" else ""
            text = f"CREATE {lead}TABLE {_dotted(schema, name)} (\n  " + ",\n  ".join(map(_column, rows)) + "\n)"
            yield Statement(schema, "table", name, text)
            if remarks:
                yield Statement(
                    schema, "comment", name, f"COMMENT ON TABLE {_dotted(schema, name)} IS {literal(remarks)}"
                )
            for row in rows:
                if row[13]:
                    where = f"{_dotted(schema, name)}.{quoted(row[2])}"
                    yield Statement(schema, "comment", name, f"COMMENT ON COLUMN {where} IS {literal(row[13])}")

    def _constraints(self) -> Iterator[Statement]:
        for schema, table, name, kind, enforced in self.rows("constraints"):
            columns = ", ".join(map(quoted, self.keys.get((schema, table, name), [])))
            tail = " NOT ENFORCED" if enforced == "N" else ""
            yield self._added(schema, table, name, f"{'PRIMARY KEY' if kind == 'P' else 'UNIQUE'} ({columns}){tail}")
        for schema, table, name, text in self.rows("checks"):
            yield self._added(schema, table, name, f"CHECK ({text})")
        for schema, table, name, r_schema, r_table, r_key, on_delete, on_update in self.rows("references"):
            mine, theirs = (
                ", ".join(map(quoted, self.keys.get(key, [])))
                for key in ((schema, table, name), (r_schema, r_table, r_key))
            )
            text = f"FOREIGN KEY ({mine}) REFERENCES {_dotted(r_schema, r_table)} ({theirs})"
            text += f" ON DELETE {_RULES[on_delete]}" if on_delete in _RULES else ""
            yield self._added(schema, table, name, text + (" ON UPDATE RESTRICT" if on_update == "R" else ""))

    def _added(self, schema: str, table: str, name: str, text: str) -> Statement:
        return Statement(
            schema, "constraint", name, f"ALTER TABLE {_dotted(schema, table)} ADD CONSTRAINT {quoted(name)} {text}"
        )

    def _indexes(self) -> Iterator[Statement]:
        columns = by_first(self.rows("index_columns"), 2)
        made_by_keys = {(row[0], row[2]) for row in self.rows("constraints")}
        for schema, name, t_schema, table, rule in self.rows("indexes"):
            if (t_schema, name) in made_by_keys:
                continue
            rows = columns.get((schema, name), [])
            keys = ", ".join(
                (row[4] or quoted(row[2])) + (" DESC" if row[3] == "D" else "") for row in rows if row[3] != "I"
            )
            extra = ", ".join(quoted(row[2]) for row in rows if row[3] == "I")
            text = f"CREATE {'UNIQUE ' if rule == 'U' else ''}INDEX {_dotted(schema, name)} ON {_dotted(t_schema, table)} ({keys})"
            yield Statement(schema, "index", name, text + (f" INCLUDE ({extra})" if extra else ""))


def _column(row: Row) -> str:
    name, type_schema, kind, length, scale, nulls, codepage, default, generated, identity, text = row[2:13]
    start, step = row[14:]
    is_own = not str(type_schema).strip().startswith("SYS")
    written = f"{quoted(name)} {_dotted(type_schema, kind) if is_own else _sized(kind, length, scale)}"
    if kind in ("VARCHAR", "CHARACTER") and codepage == 0:
        written += " FOR BIT DATA"
    written += "" if nulls == "Y" else " NOT NULL"
    if identity == "Y":
        when = "ALWAYS" if generated == "A" else "BY DEFAULT"
        return f"{written} GENERATED {when} AS IDENTITY (START WITH {start}, INCREMENT BY {step})"
    if generated == "A" and text:
        return f"{written} GENERATED ALWAYS {str(text).strip()}"
    return written + (f" WITH DEFAULT {default}" if default is not None and str(default).strip() else "")


def _told(schema: str, kind: str, name: str, default_schema: Any, text: Any) -> Iterator[Statement]:
    """Yield a statement as the catalogue has it, with the schema that its plain names mean."""
    if text:
        lead = f"SET CURRENT SCHEMA {quoted(str(default_schema or schema).strip())}\n@\n"
        yield Statement(schema, kind, name, lead + str(text).strip())


def _sized(kind: str, length: Any, scale: Any) -> str:
    if kind in _SIZED and length:
        return f"{'CHAR' if kind == 'CHARACTER' else kind}({length})"
    if kind in ("DECIMAL", "NUMERIC"):
        return f"{kind}({length},{scale})"
    if kind == "TIMESTAMP" and scale is not None and int(scale) != 6:
        return f"TIMESTAMP({scale})"
    if kind == "DECFLOAT":
        return f"DECFLOAT({'16' if int(length or 0) == 8 else '34'})"
    return kind


def _dotted(schema: Any, name: Any) -> str:
    return f"{quoted(str(schema).strip())}.{quoted(name)}"
