"""Statements made ready for the client of their engine."""


def end_statement(text: str, engine: str) -> str:
    """Close a statement the way the engine's own client wants it."""
    text = text.rstrip()
    match engine:
        case "sqlserver" | "ase":
            return text + "\nGO\n"
        case "mysql" | "mariadb" if "DELIMITER" not in text:
            return f"DELIMITER $$\n{text}$$\n"
        case "mysql" | "mariadb":
            return text + "\n"
        case "db2":
            return f"--#SET TERMINATOR @\n{text}\n@\n"
        case "oracle":
            return text.rstrip(";") + ";\n/\n"
        case _:
            return text.rstrip(";") + ";\n"
