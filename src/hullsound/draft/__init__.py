"""What would it become?  Edits on source text for code, text from the catalogue for tables."""
