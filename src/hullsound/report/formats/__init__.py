"""The formats of a report, one module for each: adding a module adds a format."""
