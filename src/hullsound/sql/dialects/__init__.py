"""One module of tables per engine."""
