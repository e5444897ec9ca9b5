"""Transact-SQL to PL/pgSQL."""
