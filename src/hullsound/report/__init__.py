"""Who reads it?  The assessment document, and the reports drawn from it."""
