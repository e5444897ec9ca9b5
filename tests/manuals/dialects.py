"""How the source code of each engine is written down."""

from typing import Final

from tests.manuals.runs import Dialect

DIALECTS: Final = {
    "oracle": Dialect(
        "oracle",
        {"text": "VARCHAR2(60)", "whole": "NUMBER(10)", "number": "NUMBER(12,4)", "moment": "DATE"},
        {"text": "VARCHAR2", "whole": "NUMBER", "number": "NUMBER", "moment": "DATE"},
        "TO_DATE('{}', 'YYYY-MM-DD HH24:MI:SS')",
        "DATE '{}'",
        " FROM dual",
        "CREATE FUNCTION {name} ({parameters}) RETURN {result} IS\nBEGIN\n  RETURN {expression};\nEND;\n/\n",
        "{name} {type}",
    ),
    "sqlserver": Dialect(
        "sqlserver",
        {"text": "varchar(60)", "whole": "int", "number": "decimal(12,4)", "moment": "datetime", "day": "date"},
        {"text": "varchar(60)", "whole": "int", "number": "decimal(12,4)", "moment": "datetime", "day": "date"},
        "CAST('{}' AS datetime)",
        "CAST('{}' AS date)",
        "",
        "CREATE FUNCTION {name} ({parameters}) RETURNS {result} AS\nBEGIN\n  RETURN {expression};\nEND\nGO\n",
        "{name} {type}",
        "@",
        "\nGO\n",
    ),
    "db2": Dialect(
        "db2",
        {"text": "VARCHAR(60)", "whole": "INTEGER", "number": "DECIMAL(12,4)", "moment": "TIMESTAMP(0)", "day": "DATE"},
        {"text": "VARCHAR(60)", "whole": "INTEGER", "number": "DECIMAL(12,4)", "moment": "TIMESTAMP(0)", "day": "DATE"},
        "TIMESTAMP('{}')",
        "DATE('{}')",
        " FROM SYSIBM.SYSDUMMY1",
        "CREATE FUNCTION {name} ({parameters}) RETURNS {result} LANGUAGE SQL\nBEGIN\n  RETURN {expression};\nEND@\n",
        "{name} {type}",
        end="@\n",
    ),
    "teradata": Dialect(
        "teradata",
        {"text": "VARCHAR(60)", "whole": "INTEGER", "number": "DECIMAL(12,4)", "moment": "TIMESTAMP(0)", "day": "DATE"},
        {"text": "VARCHAR(60)", "whole": "INTEGER", "number": "DECIMAL(12,4)", "moment": "TIMESTAMP(0)", "day": "DATE"},
        "TIMESTAMP '{}'",
        "DATE '{}'",
        "",
        "CREATE FUNCTION {name} ({parameters}) RETURNS {result} LANGUAGE SQL CONTAINS SQL DETERMINISTIC SQL SECURITY DEFINER "
        "COLLATION INVOKER INLINE TYPE 1 RETURN {expression};\n",
        "{name} {type}",
    ),
}
