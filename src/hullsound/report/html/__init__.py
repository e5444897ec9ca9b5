"""The assessment as one page that opens from disk."""
