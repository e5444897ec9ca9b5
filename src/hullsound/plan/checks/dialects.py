"""How each engine writes the common text of a value, its digest and the aggregates that both sides compare.

Functions are those of PostgreSQL 14, MySQL 8.0, MariaDB 10.6, Oracle 19, SQL Server 2019, Db2 11.5 and SQLite 3.40.
"""

from typing import ClassVar, Final

from .forms import Form

HEX_DIGITS: Final = 12
"""Of an MD5, so that the digest fits into a signed integer of 64 bits and sums stay exact."""


class CheckDialect:
    """PostgreSQL; other engines say in their own classes what differs. Every result is text, so that no driver rounds it."""

    utc: ClassVar[str] = "SET TIME ZONE 'UTC'"
    """Statement that lets the session show points in time in UTC; '' where there is no such thing."""
    has_digest: ClassVar[bool] = True
    has_seconds: ClassVar[bool] = True
    """Whether the distance of two timestamps can be had exactly, in microseconds."""
    hashes_large_text: ClassVar[bool] = True
    has_long_texts: ClassVar[bool] = True
    """Whether texts of all columns of a row may be put together, however long they are."""
    fraction: ClassVar[int] = 6
    """Digits of the fraction of seconds that can be written."""
    quotes: ClassVar[str] = '""'

    def quote(self, name: str) -> str:
        """Quote a name, so that nothing in it is taken for SQL."""
        return self.quotes[0] + name.replace(self.quotes[1], self.quotes[1] * 2).replace("\0", "") + self.quotes[1]

    def text(self, form: Form, column: str, kind: str) -> str:
        """Return the common text of a column; NULL stays NULL. `kind` is the logical type on this side."""
        if form.name == "integer":
            return f"({self._integer(column, kind)})::text"
        if form.name == "decimal":
            return f"round(({column})::numeric, {form.digits})::text"
        if form.name == "boolean":
            return self._flag(column, kind)
        if form.name == "fixed":
            return f"rtrim(({column})::text)"
        if form.name == "date":
            return f"to_char({column}, 'YYYY-MM-DD')"
        if form.name == "timestamp":
            return self._cut(f"to_char({column}, 'YYYY-MM-DD HH24:MI:SS.US')", form)
        if form.name == "time":
            return f"to_char({column}, 'HH24:MI:SS')"
        if form.name == "binary":
            return f"encode({column}, 'hex')"
        if form.name == "uuid":
            return f"lower(({column})::text)"
        return f"({column})::text"

    def _integer(self, column: str, kind: str) -> str:
        return f"({column})::{'bigint' if kind == 'bit-string' else 'numeric'}"

    def _flag(self, column: str, kind: str) -> str:
        is_set = column if kind == "boolean" else f"{column} <> 0"
        return f"CASE WHEN {is_set} THEN '1' WHEN NOT ({is_set}) THEN '0' END"

    def _cut(self, written: str, form: Form) -> str:
        """Cut a timestamp with six digits to those that are compared."""
        return written if form.digits == 6 else f"substr({written}, 1, {19 + (form.digits + 1 if form.digits else 0)})"

    def length(self, written: str) -> str:
        return f"char_length({written})"

    def number(self, form: Form, column: str, kind: str) -> str:
        """Return a column as a number that sums without rounding."""
        if form.name == "boolean":
            return f"({self._flag(column, kind)})::numeric"
        return f"round({self._integer(column, kind)}, {form.digits})"

    def fixed(self, number: str, digits: int) -> str:
        """Return a number as text with so many decimals."""
        return f"round({number}, {digits})::text"

    def total(self, number: str, digits: int) -> str:
        """Return the sum of numbers as text with so many decimals."""
        return self.fixed(f"SUM({number})", digits)

    def days(self, column: str) -> str:
        """Return the days from 1 January 2000 to a date or timestamp."""
        return f"(({column})::date - date '2000-01-01')::numeric"

    def microseconds(self, column: str) -> str:
        """Return the microseconds from 1 January 2000 to a timestamp."""
        return f"round(extract(epoch FROM ({column})::timestamp - timestamp '2000-01-01') * 1000000)"

    def as_text(self, expression: str) -> str:
        return f"({expression})::text"

    def concat(self, parts: list[str]) -> str:
        return " || ".join(parts)

    def marked(self, written: str) -> str:
        """Return a text with its length before it, so that texts put together cannot be taken for others."""
        return f"coalesce({self.as_text(self.length(written))} || ':' || {written}, '~')"

    def digest(self, written: str) -> str:
        """Return 48 bits of the MD5 of a text as a number."""
        return f"('x' || substr(md5({written}), 1, {HEX_DIGITS}))::bit(48)::bigint"

    def modulo(self, number: str, divisor: int) -> str:
        return f"({number}) % {divisor}"
