"""The plan of a move as tables, calendar and runbook."""
