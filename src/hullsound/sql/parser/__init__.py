"""Recursive-descent parsers: one core of expressions, queries and DDL, and a grammar for each procedural family."""
