"""How each engine writes the values that checks compare."""

from typing import Final

from hullsound.plan.checks.dialects import HEX_DIGITS, CheckDialect

from .forms import Form

_BITS: Final = frozenset(("bit", "bit-string"))


class MysqlChecks(CheckDialect):
    """MySQL and MariaDB. A date of zeros counts as NULL, as it does in the drafts."""

    utc = "SET SESSION time_zone = '+00:00'"
    quotes = "``"

    def text(self, form: Form, column: str, kind: str) -> str:
        if form.name == "integer":
            return f"CAST({column} + 0 AS CHAR)" if kind in _BITS else f"CAST({column} AS CHAR)"
        if form.name == "decimal":
            return f"CAST(CAST({column} AS DECIMAL(65, {form.digits})) AS CHAR)"
        if form.name == "fixed":
            return f"TRIM(TRAILING ' ' FROM CONVERT({column} USING utf8mb4))"
        if form.name == "date":
            return f"DATE_FORMAT({self._real(column)}, '%Y-%m-%d')"
        if form.name == "timestamp":
            return self._cut(f"DATE_FORMAT({self._real(column)}, '%Y-%m-%d %H:%i:%s.%f')", form)
        if form.name == "time":
            return f"TIME_FORMAT({column}, '%H:%i:%s')"
        if form.name == "binary":
            return f"LOWER(HEX({column}))"
        if form.name == "uuid":
            return f"LOWER(CAST({column} AS CHAR))"
        return self._flag(column, kind) if form.name == "boolean" else f"CONVERT({column} USING utf8mb4)"

    def _flag(self, column: str, kind: str) -> str:
        return f"CASE WHEN {column} <> 0 THEN '1' WHEN {column} = 0 THEN '0' END"

    def _real(self, column: str) -> str:
        return f"CASE WHEN CAST({column} AS CHAR) NOT LIKE '0000-00-00%' THEN {column} END"

    def number(self, form: Form, column: str, kind: str) -> str:
        if form.name == "boolean":
            return f"CAST({self._flag(column, kind)} AS DECIMAL(65, 0))"
        return f"CAST({column + ' + 0' if kind in _BITS else column} AS DECIMAL(65, {form.digits}))"

    def fixed(self, number: str, digits: int) -> str:
        return f"CAST(CAST({number} AS DECIMAL(65, {digits})) AS CHAR)"

    def days(self, column: str) -> str:
        return f"DATEDIFF({self._real(column)}, '2000-01-01')"

    def microseconds(self, column: str) -> str:
        return f"TIMESTAMPDIFF(MICROSECOND, '2000-01-01', {self._real(column)})"

    def as_text(self, expression: str) -> str:
        return f"CAST({expression} AS CHAR)"

    def concat(self, parts: list[str]) -> str:
        return f"CONCAT({', '.join(parts)})"

    def marked(self, written: str) -> str:
        return f"COALESCE(CONCAT(CHAR_LENGTH({written}), ':', {written}), '~')"

    def digest(self, written: str) -> str:
        return f"CAST(CONV(SUBSTRING(MD5({written}), 1, {HEX_DIGITS}), 16, 10) AS UNSIGNED)"


class OracleChecks(CheckDialect):
    utc = "ALTER SESSION SET TIME_ZONE = 'UTC'"
    has_seconds = False
    hashes_large_text = False
    has_long_texts = False

    def text(self, form: Form, column: str, kind: str) -> str:
        if form.name == "integer":
            return f"TO_CHAR({column}, 'TM9')"
        if form.name == "decimal":
            zeros = f".{'0' * form.digits}" if form.digits else ""
            return f"TO_CHAR(ROUND({column}, {form.digits}), 'FM{'9' * 37}0{zeros}', 'NLS_NUMERIC_CHARACTERS=''.,''')"
        if form.name == "date":
            return f"TO_CHAR({column}, 'YYYY-MM-DD')"
        if form.name == "timestamp":
            fraction = "'.000000'" if kind == "date-time" else f"TO_CHAR({column}, '.FF6')"
            local = f"SYS_EXTRACT_UTC({column})" if kind == "timestamp-zone" else column
            return self._cut(f"TO_CHAR({local}, 'YYYY-MM-DD HH24:MI:SS') || {fraction}", form)
        if form.name == "binary":
            return f"LOWER(RAWTOHEX({column}))"
        if form.name == "uuid":
            return f"LOWER({column})"
        return (
            self._flag(column, kind)
            if form.name == "boolean"
            else f"RTRIM({column})"
            if form.name == "fixed"
            else column
        )

    def _flag(self, column: str, kind: str) -> str:
        return f"CASE WHEN {column} <> 0 THEN '1' WHEN {column} = 0 THEN '0' END"

    def _cut(self, written: str, form: Form) -> str:
        return written if form.digits == 6 else f"SUBSTR({written}, 1, {19 + (form.digits + 1 if form.digits else 0)})"

    def length(self, written: str) -> str:
        return f"LENGTH({written})"

    def number(self, form: Form, column: str, kind: str) -> str:
        return f"TO_NUMBER({self._flag(column, kind)})" if form.name == "boolean" else f"ROUND({column}, {form.digits})"

    def fixed(self, number: str, digits: int) -> str:
        return self.text(Form("decimal", digits), number, "decimal")

    def days(self, column: str) -> str:
        return f"(TRUNC({column}) - DATE '2000-01-01')"

    def as_text(self, expression: str) -> str:
        return f"TO_CHAR({expression})"

    def digest(self, written: str) -> str:
        return f"TO_NUMBER(SUBSTR(STANDARD_HASH({written}, 'MD5'), 1, {HEX_DIGITS}), '{'X' * HEX_DIGITS}')"

    def modulo(self, number: str, divisor: int) -> str:
        return f"MOD({number}, {divisor})"


class SqlserverChecks(CheckDialect):
    """Texts are hashed as UTF-8, which needs SQL Server 2019."""

    utc = ""
    has_seconds = False
    quotes = "[]"

    def text(self, form: Form, column: str, kind: str) -> str:
        if form.name == "integer":
            return f"CONVERT(varchar(40), CONVERT(decimal(38, 0), {column}))"
        if form.name == "decimal":
            return f"CONVERT(varchar(60), CONVERT(decimal(38, {form.digits}), {column}))"
        if form.name == "date":
            return f"CONVERT(varchar(10), {column}, 23)"
        if form.name == "timestamp":
            local = f"SWITCHOFFSET({column}, '+00:00')" if kind == "timestamp-zone" else column
            return self._cut(f"CONVERT(varchar(26), CONVERT(datetime2(6), {local}), 121)", form)
        if form.name == "time":
            return f"CONVERT(varchar(8), {column}, 108)"
        if form.name == "binary":
            return f"LOWER(CONVERT(varchar(max), CONVERT(varbinary(max), {column}), 2))"
        if form.name == "uuid":
            return f"LOWER(CONVERT(varchar(36), {column}))"
        written = f"CONVERT(nvarchar(max), {column})"
        return (
            self._flag(column, kind)
            if form.name == "boolean"
            else f"RTRIM({written})"
            if form.name == "fixed"
            else written
        )

    def _flag(self, column: str, kind: str) -> str:
        return f"CASE WHEN {column} <> 0 THEN '1' WHEN {column} = 0 THEN '0' END"

    def _cut(self, written: str, form: Form) -> str:
        return (
            written if form.digits == 6 else f"SUBSTRING({written}, 1, {19 + (form.digits + 1 if form.digits else 0)})"
        )

    def length(self, written: str) -> str:
        return f"(LEN({written} + N'.') - 1)"  # LEN passes trailing spaces over

    def number(self, form: Form, column: str, kind: str) -> str:
        flag = self._flag(column, kind) if form.name == "boolean" else column
        return f"CONVERT(decimal(38, {form.digits}), {flag})"

    def fixed(self, number: str, digits: int) -> str:
        return f"CONVERT(varchar(60), CONVERT(decimal(38, {digits}), {number}))"

    def days(self, column: str) -> str:
        return f"CONVERT(bigint, DATEDIFF(day, '2000-01-01', {column}))"

    def as_text(self, expression: str) -> str:
        return f"CONVERT(varchar(60), {expression})"

    def concat(self, parts: list[str]) -> str:
        return " + ".join(parts)

    def marked(self, written: str) -> str:
        return f"COALESCE(CONVERT(nvarchar(max), {self.length(written)}) + N':' + {written}, N'~')"

    def digest(self, written: str) -> str:
        utf8 = f"CONVERT(varchar(max), {written} COLLATE Latin1_General_100_BIN2_UTF8)"
        return f"CONVERT(decimal(38, 0), CONVERT(bigint, SUBSTRING(HASHBYTES('MD5', {utf8}), 1, 6)))"


class Db2Checks(CheckDialect):
    utc = ""
    has_seconds = False
    hashes_large_text = False
    has_long_texts = False

    def text(self, form: Form, column: str, kind: str) -> str:
        if form.name == "integer":
            return f"TRIM(CHAR(BIGINT({column})))"
        if form.name == "decimal":
            zeros = f".{'0' * form.digits}" if form.digits else ""
            return f"TRIM(TO_CHAR(DECFLOAT(ROUND({column}, {form.digits})), '{'9' * 25}0{zeros}'))"
        if form.name == "date":
            return f"TO_CHAR({column}, 'YYYY-MM-DD')"
        if form.name == "timestamp":
            return self._cut(f"TO_CHAR({column}, 'YYYY-MM-DD HH24:MI:SS.FF6')", form)
        if form.name == "time":
            return f"TO_CHAR({column}, 'HH24:MI:SS')"
        if form.name == "binary":
            return f"LOWER(HEX({column}))"
        return (
            self._flag(column, kind)
            if form.name == "boolean"
            else f"RTRIM({column})"
            if form.name == "fixed"
            else column
        )

    def _flag(self, column: str, kind: str) -> str:
        is_set = column if kind == "boolean" else f"{column} <> 0"
        return f"CASE WHEN {is_set} THEN '1' WHEN NOT ({is_set}) THEN '0' END"

    def length(self, written: str) -> str:
        return f"CHARACTER_LENGTH({written}, CODEUNITS32)"

    def number(self, form: Form, column: str, kind: str) -> str:
        return (
            f"DECFLOAT({self._flag(column, kind)})"
            if form.name == "boolean"
            else f"ROUND(DECFLOAT({column}), {form.digits})"
        )

    def fixed(self, number: str, digits: int) -> str:
        return self.text(Form("decimal", digits), number, "decimal")

    def days(self, column: str) -> str:
        return f"(DAYS({column}) - DAYS(DATE('2000-01-01')))"

    def as_text(self, expression: str) -> str:
        return f"TRIM(CHAR({expression}))"

    def digest(self, written: str) -> str:
        return f"TO_NUMBER(SUBSTR(HEX(HASH_MD5({written})), 1, {HEX_DIGITS}), '{'X' * HEX_DIGITS}')"

    def modulo(self, number: str, divisor: int) -> str:
        return f"MOD({number}, {divisor})"


class SqliteChecks(CheckDialect):
    """The digest is a function that `checks --run` brings along; SQLite itself has none."""

    utc = ""
    fraction = 3
    has_seconds = False

    def text(self, form: Form, column: str, kind: str) -> str:
        if form.name == "integer":
            return f"CAST({column} AS TEXT)"
        if form.name == "decimal":
            return f"CASE WHEN {column} IS NOT NULL THEN printf('%.{form.digits}f', {column}) END"
        if form.name == "date":
            return f"strftime('%Y-%m-%d', {column})"
        if form.name == "timestamp":
            return self._cut(f"strftime('%Y-%m-%d %H:%M:%f000', {column})", form)
        if form.name == "time":
            return f"strftime('%H:%M:%S', {column})"
        if form.name == "binary":
            return f"lower(hex({column}))"
        if form.name == "uuid":
            return f"lower({column})"
        return (
            self._flag(column, kind)
            if form.name == "boolean"
            else f"rtrim({column})"
            if form.name == "fixed"
            else column
        )

    def _flag(self, column: str, kind: str) -> str:
        return f"CASE WHEN {column} <> 0 THEN '1' WHEN {column} = 0 THEN '0' END"

    def length(self, written: str) -> str:
        return f"length({written})"

    def number(self, form: Form, column: str, kind: str) -> str:
        return f"CAST({self._flag(column, kind)} AS INTEGER)" if form.name == "boolean" else column

    def fixed(self, number: str, digits: int) -> str:
        return f"CASE WHEN {number} IS NOT NULL THEN printf('%.{digits}f', {number}) END"

    def days(self, column: str) -> str:
        return f"CAST(julianday(date({column})) - julianday('2000-01-01') AS INTEGER)"

    def as_text(self, expression: str) -> str:
        return f"CAST({expression} AS TEXT)"

    def digest(self, written: str) -> str:
        return f"hull_digest({written})"


_DIALECTS: Final[dict[str, type[CheckDialect]]] = {
    "postgresql": CheckDialect,
    "mysql": MysqlChecks,
    "mariadb": MysqlChecks,
    "oracle": OracleChecks,
    "sqlserver": SqlserverChecks,
    "db2": Db2Checks,
    "sqlite": SqliteChecks,
}


def check_dialect(engine: str) -> CheckDialect | None:
    """Return how an engine writes checks; None where that is not known."""
    kind = _DIALECTS.get(engine)
    return kind() if kind is not None else None
