"""PL/SQL to PL/pgSQL."""
