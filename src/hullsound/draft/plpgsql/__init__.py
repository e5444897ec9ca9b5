"""PL/SQL to PL/pgSQL: what every routine, trigger and block needs, whatever constructs it uses."""
