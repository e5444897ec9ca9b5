"""MySQL and MariaDB: the rows of INFORMATION_SCHEMA put together as statements."""

import re
from collections.abc import Iterator
from typing import Any, Final

from .model import Capture, Row, Rows, Statement, by_first

_PLAIN_DEFAULT: Final = re.compile(r"(?i)-?\d+(\.\d+)?|NULL|b'[01]+'|CURRENT_TIMESTAMP(\(\d?\))?( ON UPDATE .*)?")
_WIDTH: Final = re.compile(r"\b((?:small|medium|big)?int|tinyint(?!\(1\)))\(\d+\)(?!.*zerofill)")
_NO_WIDTH: Final = r"\1"


def assemble(capture: Capture) -> Iterator[Statement]:
    """Put the rows of one database together as the statements that make its objects."""
    return _Assembler(capture).statements()


class _Assembler:
    def __init__(self, capture: Capture) -> None:
        self.capture = capture
        self.is_mariadb = capture.engine == "mariadb"
        self.database = capture.name

    def statements(self) -> Iterator[Statement]:
        rows = self.capture.rows
        yield from self._tables()
        yield from self._routines()
        for name, definition, check in rows("views"):
            if not definition:
                continue  # told by hidden_texts
            tail = f" WITH {check} CHECK OPTION" if check in ("CASCADED", "LOCAL") else ""
            yield self._made("view", name, f"CREATE VIEW {_quoted(name)} AS {definition}{tail}")
        for name, timing, event, table, body in rows("triggers"):
            head = f"CREATE TRIGGER {_quoted(name)} {timing} {event} ON {_quoted(table)} FOR EACH ROW"
            yield self._made("trigger", name, f"{head} {body}")
        for name, kind, at, count, unit, body in rows("events"):
            when = f"EVERY {_literal(count)} {unit}" if kind == "RECURRING" else f"AT {_literal(at)}"
            yield self._made("event", name, f"CREATE EVENT {_quoted(name)} ON SCHEDULE {when} DO {body}")
        for grantee, table, rights, grantable in rows("grants"):
            tail = " WITH GRANT OPTION" if grantable == "YES" else ""
            yield self._made("grant", table, f"GRANT {rights} ON {_quoted(table)} TO {grantee}{tail}")

    def _made(self, kind: str, name: str, text: str) -> Statement:
        return Statement(self.database, kind, name, text)

    def _tables(self) -> Iterator[Statement]:
        columns, keys, links, checks, parts = (
            by_first(self.capture.rows(name)) for name in ("columns", "keys", "references", "checks", "partitions")
        )
        for name, engine, collation, counter, comment in self.capture.rows("tables"):
            json = {match[1] for match in map(_of_json, checks.get(name, [])) if match}
            lines = [self._column(row, is_json=row[1] in json) for row in columns.get(name, [])]
            lines += _key_lines(keys.get(name, [])) + _reference_lines(links.get(name, []), self.database)
            lines += [
                f"CONSTRAINT {_quoted(row[1])} CHECK ({row[2]})" for row in checks.get(name, []) if not _of_json(row)
            ]
            text = f"CREATE TABLE {_quoted(name)} (\n  " + ",\n  ".join(lines) + "\n)"
            text += f" ENGINE={engine}" if engine else ""
            text += f" AUTO_INCREMENT={counter}" if counter and counter > 1 else ""
            if collation:
                text += f" DEFAULT CHARSET={collation.split('_')[0]} COLLATE={collation}"
            text += f" COMMENT={_literal(comment)}" if comment else ""
            yield self._made("table", name, text + _partition_text(parts.get(name, [])))

    def _column(self, row: Row, *, is_json: bool) -> str:
        _, name, kind, nullable, default, extra, collation, comment, expression = row
        # The width in which a number was once shown says nothing of it; only TINYINT(1) has a meaning.
        kind = "json" if is_json else _WIDTH.sub(_NO_WIDTH, kind)
        text = f"{_quoted(name)} {kind}"
        if collation and not is_json:
            text += f" COLLATE {collation}"
        if expression:
            stored = "STORED" if "STORED" in extra.upper() or "PERSISTENT" in extra.upper() else "VIRTUAL"
            text += f" GENERATED ALWAYS AS ({expression}) {stored}"
        text += " NOT NULL" if nullable == "NO" else ""
        if default is not None and not expression and str(default).upper() != "NULL":
            text += f" DEFAULT {self._default(str(default), extra)}"
        if "auto_increment" in extra.lower():
            text += " AUTO_INCREMENT"
        touched = re.search(r"(?i)on update (current_timestamp(?:\(\d?\))?)", extra)
        text += f" ON UPDATE {touched[1]}" if touched else ""
        text += " INVISIBLE" if "INVISIBLE" in extra.upper() else ""
        return text + (f" COMMENT {_literal(comment)}" if comment else "")

    def _default(self, default: str, extra: str) -> str:
        """Write a default: MariaDB keeps expressions, MySQL the bare value unless it says that it is computed."""
        if self.is_mariadb or _PLAIN_DEFAULT.fullmatch(default):
            return default
        return f"({default})" if "DEFAULT_GENERATED" in extra.upper() else _literal(default)

    def _routines(self) -> Iterator[Statement]:
        parameters: dict[tuple[str, str], list[str]] = {}
        for routine, kind, mode, name, type_text in self.capture.rows("parameters"):
            type_text = _WIDTH.sub(_NO_WIDTH, type_text)
            lead = f"{mode} " if kind == "PROCEDURE" and mode else ""
            parameters.setdefault((kind, routine), []).append(f"{lead}{_quoted(name)} {type_text}")
        for name, kind, returned, body, deterministic, access, security in self.capture.rows("routines"):
            text = f"CREATE {kind} {_quoted(name)}({', '.join(parameters.get((kind, name), []))})"
            text += f" RETURNS {_WIDTH.sub(_NO_WIDTH, returned)}" if kind == "FUNCTION" else ""
            text += "\n  DETERMINISTIC" if deterministic == "YES" else ""
            text += f"\n  {access}" if access and access != "CONTAINS SQL" else ""
            text += "\n  SQL SECURITY INVOKER" if security == "INVOKER" else ""
            if body is None:
                continue  # told by hidden_texts
            yield self._made(kind.lower(), name, f"{text}\n{body}")


def _of_json(row: Row) -> re.Match[str] | None:
    """Return what matches where a check is the one that MariaDB adds to a column of type JSON by itself."""
    return re.fullmatch(r"json_valid\(`([^`]+)`\)", str(row[2]))


def _key_lines(rows: Rows) -> list[str]:
    """Write the keys of a table, over columns or, on MySQL, expressions."""
    grouped: dict[str, Rows] = {}
    for row in rows:
        grouped.setdefault(row[1], []).append(row)
    lines = []
    for name, parts in grouped.items():
        columns = ", ".join(
            (f"({part[8]})" if part[3] is None else _quoted(part[3]))
            + (f"({part[4]})" if part[4] else "")
            + (" DESC" if part[5] == "D" else "")
            for part in parts
        )
        kind = "" if parts[0][2] else "UNIQUE "
        if parts[0][6] in ("FULLTEXT", "SPATIAL"):
            kind = f"{parts[0][6]} "
        lines.append(f"PRIMARY KEY ({columns})" if name == "PRIMARY" else f"{kind}KEY {_quoted(name)} ({columns})")
    return lines


def _reference_lines(rows: Rows, database: str) -> list[str]:
    grouped: dict[str, Rows] = {}
    for row in rows:
        grouped.setdefault(row[1], []).append(row)
    lines = []
    for name, parts in grouped.items():
        schema, table, on_update, on_delete = parts[0][3], parts[0][4], parts[0][6], parts[0][7]
        where = _quoted(table) if schema == database else f"{_quoted(schema)}.{_quoted(table)}"
        mine, theirs = (", ".join(_quoted(part[place]) for part in parts) for place in (2, 5))
        text = f"CONSTRAINT {_quoted(name)} FOREIGN KEY ({mine}) REFERENCES {where} ({theirs})"
        text += f" ON DELETE {on_delete}" if on_delete not in ("RESTRICT", "NO ACTION") else ""
        lines.append(text + (f" ON UPDATE {on_update}" if on_update not in ("RESTRICT", "NO ACTION") else ""))
    return lines


def _partition_text(rows: Rows) -> str:
    if not rows:
        return ""
    method, expression = rows[0][1], rows[0][2]
    head = f"\nPARTITION BY {method} ({expression or ''})"
    if method.split(" ")[0] not in ("RANGE", "LIST"):
        return f"{head} PARTITIONS {len(rows)}"
    parts = []
    for _, _, _, name, bounds, _ in rows:
        values = f"VALUES LESS THAN ({bounds})" if method.startswith("RANGE") else f"VALUES IN ({bounds})"
        parts.append(f"PARTITION {_quoted(name)} {values}")
    return f"{head} ({', '.join(parts)})"


def _quoted(name: str) -> str:
    return "`" + str(name).replace("`", "``") + "`"


def _literal(text: Any) -> str:
    return "'" + str(text).replace("\\", "\\\\").replace("'", "''") + "'"
