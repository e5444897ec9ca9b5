"""Predicates for constructs that a row of knowledge cannot describe, one module per area."""
