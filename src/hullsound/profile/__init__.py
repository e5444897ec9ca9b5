"""What do the values say? Aggregates over the rows of a running source; no value of a text ever leaves it."""
