"""Oracle: the rows of the data dictionary put together as statements."""

import re
from collections.abc import Iterator
from typing import Any, Final

from .model import Capture, Row, Rows, Statement, by_first, literal

_PLAIN_NAME: Final = re.compile(r"[A-Z][A-Z0-9_$#]*")
_NOT_NULL: Final = re.compile(r'"[^"]+" IS NOT NULL')
_SIZED: Final = frozenset(("VARCHAR2", "CHAR"))
_NATIONAL: Final = frozenset(("NVARCHAR2", "NCHAR"))
_UNTOUCHED: Final = 28
"""Digits of the greatest number that a sequence without MAXVALUE goes to."""
_HEAD: Final = re.compile(r"(?is)^\s*(?:create\s+(?:or\s+replace\s+)?)?(?:(?:non)?editionable\s+)?")


def assemble(capture: Capture) -> Iterator[Statement]:
    """Put the rows of the dictionary together as the statements that make the objects, schema by schema within each kind."""
    return _Assembler(capture).statements()


class _Assembler:
    def __init__(self, capture: Capture) -> None:
        self.rows = capture.rows
        self.columns = by_first(self.rows("columns"), 2)
        self.keys = {
            key: [row[2] for row in rows] for key, rows in by_first(self.rows("constraint_columns"), 2).items()
        }
        self.views = {row[:2] for row in self.rows("views")}
        self.constraints = {row[:2]: row for row in self.rows("constraints")}
        self.primary_keys = {(row[0], row[3]): row for row in self.rows("constraints") if row[2] == "P"}
        self.divided = {row[:2]: row for row in self.rows("divided_tables")}
        self.division_columns = by_first(self.rows("division_columns"), 2)
        self.parts = by_first(self.rows("partitions"), 2)

    def statements(self) -> Iterator[Statement]:
        for owner, name, path in [("", *row) for row in self.rows("directories")]:
            yield Statement(owner, "directory", name, f"CREATE DIRECTORY {quoted(name)} AS {literal(path)}")
        yield from self._links()
        yield from self._code("types")
        yield from self._sequences()
        yield from self._tables()
        yield from self._constraints()
        yield from self._indexes()
        yield from self._comments()
        yield from self._views()
        yield from self._code("code")
        for owner, name, _ in self.rows("triggers"):
            yield Statement(owner, "trigger", name, f"ALTER TRIGGER {_dotted(owner, name)} DISABLE")
        yield from self._synonyms()
        yield from self._grants()
        yield from self._jobs()

    def _links(self) -> Iterator[Statement]:
        for owner, name, user, host in self.rows("links"):
            public = "PUBLIC " if owner == "PUBLIC" else ""
            text = f"CREATE {public}DATABASE LINK {name}"
            text += f" CONNECT TO {quoted(user)} IDENTIFIED BY VALUES ':1'" if user else ""
            yield _in_schema(owner, "database link", name, text + (f" USING {literal(host)}" if host else ""))

    def _code(self, query: str) -> Iterator[Statement]:
        for (owner, name, kind), lines in by_first(self.rows(query), 3).items():
            text = "".join(
                str(row[4] or "") if str(row[4] or "").endswith("\n") else f"{row[4] or ''}\n" for row in lines
            )
            text = f"CREATE OR REPLACE {_HEAD.sub('', text, count=1).rstrip()}"
            yield _in_schema(owner, kind.lower(), name, text)

    def _sequences(self) -> Iterator[Statement]:
        for owner, name, least, greatest, step, cycles, ordered, cache, last in self.rows("sequences"):
            text = f"CREATE SEQUENCE {_dotted(owner, name)} START WITH {last} INCREMENT BY {step}"
            text += f" MINVALUE {least}" if _whole(least) != 1 else ""
            text += f" MAXVALUE {greatest}" if len(str(_whole(greatest))) < _UNTOUCHED else ""
            text += " CYCLE" if cycles == "Y" else ""
            text += " ORDER" if ordered == "Y" else ""
            yield Statement(owner, "sequence", name, text + (f" CACHE {cache}" if _whole(cache) else " NOCACHE"))

    def _tables(self) -> Iterator[Statement]:
        identities = {row[:3]: row[3:] for row in self.rows("identities")}
        outside = {row[:2]: row[2:] for row in self.rows("external_tables")}
        for owner, name, temporary, duration, iot, _ in self.rows("tables"):
            lines = [self._column(row, identities.get(row[:3])) for row in self.columns.get((owner, name), [])]
            if iot == "IOT":
                lines += [self._constraint(row) for row in [self.primary_keys.get((owner, name))] if row is not None]
            lead = "GLOBAL TEMPORARY " if temporary == "Y" else ""
            text = f"CREATE {lead}TABLE {_dotted(owner, name)} (\n  " + ",\n  ".join(lines) + "\n)"
            if temporary == "Y":
                text += f" ON COMMIT {'PRESERVE' if duration == 'SYS$SESSION' else 'DELETE'} ROWS"
            text += "\nORGANIZATION INDEX" if iot == "IOT" else ""
            if (owner, name) in outside:
                kind, folder = outside[owner, name]
                text += f"\nORGANIZATION EXTERNAL (TYPE {kind} DEFAULT DIRECTORY {quoted(folder)})"
            if (owner, name) in self.divided:
                text += self._division(self.divided[owner, name])
            yield Statement(owner, "table", name, text)

    def _column(self, row: Row, identity: Row | None) -> str:
        name, nullable, on_null, virtual, default = row[2], row[10], row[11], row[12], row[14]
        text = f"{quoted(name)} {_type(row)}"
        if virtual == "YES":
            return f"{text} GENERATED ALWAYS AS ({str(default or '').strip()}) VIRTUAL"
        if identity is not None:
            when = "ALWAYS" if identity[0] == "ALWAYS" else "BY DEFAULT"
            text += f" GENERATED {when} AS IDENTITY{_counting(str(identity[1] or ''))}"
        elif default is not None and str(default).strip():
            text += f" DEFAULT {'ON NULL ' if on_null == 'YES' else ''}{str(default).strip()}"
        return text + (" NOT NULL" if nullable == "N" and identity is None else "")

    def _division(self, row: Row) -> str:
        owner, table, method, under, count, interval = row
        columns = ", ".join(quoted(each[2]) for each in self.division_columns.get((owner, table), []))
        text = f"\nPARTITION BY {method} ({columns})"
        text += f" INTERVAL ({interval})" if interval else ""
        if method in ("HASH", "REFERENCE", "SYSTEM"):
            return f"{text} PARTITIONS {count}"
        text += "" if under == "NONE" else f" /* SUBPARTITION BY {under} */"
        word = "VALUES LESS THAN" if method == "RANGE" else "VALUES"
        parts = [f"PARTITION {quoted(each[2])} {word} ({each[4]})" for each in self.parts.get((owner, table), [])]
        return f"{text} (\n  " + ",\n  ".join(parts) + "\n)"

    def _constraints(self) -> Iterator[Statement]:
        organized = {row[:2] for row in self.rows("tables") if row[4] == "IOT"}
        known = {row[:2] for row in self.rows("tables")}
        places = {"P": 0, "U": 1, "C": 2, "R": 3}
        for row in sorted(self.rows("constraints"), key=lambda row: places.get(row[2], 4)):
            owner, name, kind, table = row[:4]
            is_told = (kind == "P" and (owner, table) in organized) or (
                kind == "C" and _NOT_NULL.fullmatch(str(row[12]).strip())
            )
            if is_told or (owner, table) not in known:
                continue
            yield Statement(
                owner, "constraint", name, f"ALTER TABLE {_dotted(owner, table)} ADD {self._constraint(row)}"
            )

    def _constraint(self, row: Row) -> str:
        (
            owner,
            name,
            kind,
            _,
            r_owner,
            r_name,
            on_delete,
            status,
            deferrable,
            deferred,
            validated,
            generated,
            condition,
        ) = row
        columns = ", ".join(quoted(each) for each in self.keys.get((owner, name), []))
        text = "" if generated == "GENERATED NAME" else f"CONSTRAINT {quoted(name)} "
        if kind == "C":
            text += f"CHECK ({str(condition).strip()})"
        elif kind == "R":
            table = self.constraints[r_owner, r_name][3] if (r_owner, r_name) in self.constraints else r_name
            theirs = ", ".join(quoted(each) for each in self.keys.get((r_owner, r_name), []))
            text += f"FOREIGN KEY ({columns}) REFERENCES {_dotted(r_owner, table)} ({theirs})"
            text += f" ON DELETE {on_delete}" if on_delete in ("CASCADE", "SET NULL") else ""
        else:
            text += f"{'PRIMARY KEY' if kind == 'P' else 'UNIQUE'} ({columns})"
        if deferrable == "DEFERRABLE":
            text += f" DEFERRABLE INITIALLY {deferred}"
        if status == "DISABLED":
            return f"{text} DISABLE"
        return text + (" ENABLE NOVALIDATE" if validated == "NOT VALIDATED" else "")

    def _indexes(self) -> Iterator[Statement]:
        columns = by_first(self.rows("index_columns"), 2)
        expressions = {(row[0], row[1], row[2]): str(row[3]).strip() for row in self.rows("index_expressions")}
        for (
            owner,
            name,
            kind,
            table_owner,
            table,
            unique,
            type_owner,
            type_name,
            parameters,
            divided,
            _,
            _,
        ) in self.rows("indexes"):
            keys = [
                expressions.get((owner, name, place), quoted(column)) + (" DESC" if direction == "DESC" else "")
                for _, _, column, direction, place in columns.get((owner, name), [])
            ]
            lead = "UNIQUE " if unique == "UNIQUE" else "BITMAP " if "BITMAP" in kind else ""
            text = f"CREATE {lead}INDEX {_dotted(owner, name)} ON {_dotted(table_owner, table)} ({', '.join(keys)})"
            if type_name:
                text += f" INDEXTYPE IS {_dotted(type_owner, type_name)}"
                text += f" PARAMETERS ({literal(parameters)})" if parameters else ""
            text += " REVERSE" if kind.endswith("/REV") else ""
            yield Statement(owner, "index", name, text + (" LOCAL" if divided == "YES" else ""))

    def _comments(self) -> Iterator[Statement]:
        for owner, table, column, comment in self.rows("comments"):
            where = f"COLUMN {_dotted(owner, table)}.{quoted(column)}" if column else f"TABLE {_dotted(owner, table)}"
            if (owner, table) not in self.views:
                yield Statement(owner, "comment", table, f"COMMENT ON {where} IS {literal(comment)}")

    def _views(self) -> Iterator[Statement]:
        for owner, name, read_only, text in self.rows("views"):
            names = ", ".join(quoted(row[2]) for row in self.columns.get((owner, name), []))
            tail = "\nWITH READ ONLY" if read_only == "Y" and "READ ONLY" not in str(text).upper()[-40:] else ""
            head = f"CREATE OR REPLACE VIEW {_dotted(owner, name)}{f' ({names})' if names else ''} AS"
            yield _in_schema(owner, "view", name, f"{head}\n{str(text).rstrip()}{tail}")
        for owner, name, mode, method, build, rewrite, text in self.rows("materialized_views"):
            head = f"CREATE MATERIALIZED VIEW {_dotted(owner, name)} BUILD {build} REFRESH {method} ON {mode}"
            head += " ENABLE QUERY REWRITE" if rewrite == "Y" else ""
            yield _in_schema(owner, "materialized view", name, f"{head} AS\n{str(text).rstrip()}")

    def _synonyms(self) -> Iterator[Statement]:
        for owner, name, table_owner, table, link in self.rows("synonyms"):
            lead = "PUBLIC SYNONYM" if owner == "PUBLIC" else "SYNONYM"
            named = quoted(name) if owner == "PUBLIC" else _dotted(owner, name)
            target = _dotted(table_owner, table) if table_owner else quoted(table)
            text = f"CREATE {lead} {named} FOR {target}{f'@{link}' if link else ''}"
            yield Statement("" if owner == "PUBLIC" else owner, "synonym", name, text)

    def _grants(self) -> Iterator[Statement]:
        for (owner, table, grantee, grantable), rows in _by_grant(self.rows("grants")).items():
            tail = " WITH GRANT OPTION" if grantable == "YES" else ""
            text = f"GRANT {', '.join(row[2] for row in rows)} ON {_dotted(owner, table)} TO {quoted(grantee)}{tail}"
            yield Statement(owner, "grant", table, text)

    def _jobs(self) -> Iterator[Statement]:
        for owner, name, kind, action, interval, enabled in self.rows("jobs"):
            values = {"job_name": name, "job_type": kind, "job_action": action, "repeat_interval": interval}
            told = ",\n    ".join(f"{key} => {literal(value)}" for key, value in values.items() if value is not None)
            tail = f",\n    enabled => {'TRUE' if enabled == 'TRUE' else 'FALSE'}"
            yield _in_schema(owner, "job", name, f"BEGIN\n  DBMS_SCHEDULER.CREATE_JOB(\n    {told}{tail});\nEND;")
        for owner, table, policy, code_owner, package, function in self.rows("policies"):
            code = f"{package}.{function}" if package else str(function)
            values = {"object_schema": owner, "object_name": table, "policy_name": policy,
                      "function_schema": code_owner, "policy_function": code}  # fmt: skip
            told = ",\n    ".join(f"{key} => {literal(value)}" for key, value in values.items())
            yield _in_schema(owner, "policy", policy, f"BEGIN\n  DBMS_RLS.ADD_POLICY(\n    {told});\nEND;")


def quoted(name: Any) -> str:
    """Write a name as the dictionary has it: quoted where it could not be typed plainly."""
    text = str(name)
    return text if _PLAIN_NAME.fullmatch(text) else '"' + text.replace('"', "") + '"'


def _dotted(owner: Any, name: Any) -> str:
    return f"{quoted(owner)}.{quoted(name)}"


def _in_schema(owner: str, kind: str, name: str, text: str) -> Statement:
    """Return a statement whose names without a schema mean the owner's."""
    return Statement(owner, kind, name, f"ALTER SESSION SET CURRENT_SCHEMA = {quoted(owner)};\n{text}")


def _by_grant(rows: Rows) -> dict[Row, Rows]:
    found: dict[Row, Rows] = {}
    for row in rows:
        found.setdefault((row[0], row[1], row[3], row[4]), []).append(row)
    return found


def _whole(value: Any) -> int:
    return int(float(value)) if "e" in str(value).lower() else int(value or 0)


def _counting(options: str) -> str:
    """Write the options of an identity column from the dictionary's list: START WITH: 1, INCREMENT BY: 1, ..."""
    told = dict(part.split(":", 1) for part in options.split(",") if ":" in part)
    told = {key.strip(): value.strip() for key, value in told.items()}
    start, step = told.get("START WITH", "1"), told.get("INCREMENT BY", "1")
    return "" if (start, step) == ("1", "1") else f" (START WITH {start} INCREMENT BY {step})"


def _type(row: Row) -> str:
    """Write a column's type from its parts."""
    _, _, _, name, owner, length, precision, scale, characters, used = row[:10]
    if owner:
        return _dotted(owner, name)
    if name in _SIZED:
        return f"{name}({characters} CHAR)" if used == "C" else f"{name}({length})"
    if name in _NATIONAL:
        return f"{name}({characters})"
    if name in ("RAW", "UROWID"):
        return f"{name}({length})"
    if name == "NUMBER" and (precision is not None or scale is not None):
        digits = "*" if precision is None else precision
        if precision is None and _whole(scale) == 0:
            return "INTEGER"
        return f"NUMBER({digits},{scale})" if scale is not None and _whole(scale) != 0 else f"NUMBER({digits})"
    if name == "FLOAT" and precision is not None:
        return f"FLOAT({precision})"
    return str(name)
