"""Compound statements of SQL/PSM (MySQL, MariaDB, Db2, Teradata) to PL/pgSQL."""
