"""Objects written from the catalogue: tables and what belongs to them, by target, in the order of creation."""
