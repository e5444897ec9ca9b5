"""What the nodes of definitions say of types, identities, defaults and exceptions."""

from typing import Final

from hullsound.sql.lexer import Tokens
from hullsound.sql.tree import ColumnDefinition, ExceptionDeclaration, Node, Pragma, TypeName

from .model import DataType, shown


def exception_numbers(tokens: Tokens, declarations: list[Node]) -> dict[str, str]:
    """Return the declared exceptions with the error number that a pragma ties them to, or ''."""
    numbers = {node.name: "" for node in declarations if isinstance(node, ExceptionDeclaration)}
    for node in declarations:
        if isinstance(node, Pragma) and node.name == "EXCEPTION_INIT" and len(node.arguments) == 2:
            name, number = (tokens.source(each.first, each.last).upper() for each in node.arguments)
            numbers[name] = "-" + number.replace(" ", "").lstrip("-").lstrip("0")
    return numbers


def declared_name(node: Node) -> str:
    """Return the name that a declaration of a package gives."""
    name = getattr(node, "name", "")
    return name[-1] if isinstance(name, tuple) else str(name)


_SERIALS: Final = frozenset(("SERIAL", "SERIAL2", "SERIAL4", "SERIAL8", "BIGSERIAL", "SMALLSERIAL"))


def serial_identity(node: TypeName | None, engine: str) -> str:
    """Return the identity that a type such as SERIAL of PostgreSQL brings along."""
    is_serial = node is not None and engine == "postgresql" and node.name in _SERIALS
    return "by default" if is_serial else ""


def system_default(node: ColumnDefinition) -> str:
    """Return the value that NOT NULL WITH DEFAULT means without a value (Db2 11.5 SQL Reference, CREATE TABLE)."""
    kind = node.type.name if node.type is not None else ""
    if kind in ("DATE", "TIME", "TIMESTAMP"):
        return f"CURRENT {kind}"
    if "CHAR" in kind or "GRAPHIC" in kind or "LOB" in kind or "BINARY" in kind:
        return "''"
    return "0" if kind else ""


def data_type(node: TypeName | None) -> DataType:
    """Return the type a TypeName writes; a borrowed one as NAME%TYPE."""
    if node is None:
        return DataType("")
    if node.borrowed:
        return DataType(f"{'.'.join(map(shown, node.reference))}%{node.borrowed}")
    return DataType(node.name, node.arguments, node.unit)


def cast_type(node: TypeName, engine: str) -> DataType:
    """Return the type of what a cast gives.

    A cast to CHAR(n) gives a text of at most n characters without blanks behind it in MySQL and MariaDB (MySQL 8.4 Reference
    Manual, "Cast Functions and Operators").
    """
    kind = data_type(node)
    if engine in ("mysql", "mariadb") and kind.name in ("CHAR", "CHARACTER", "NCHAR") and kind.arguments:
        return DataType("VARCHAR", kind.arguments)
    return kind
