"""Values that an engine converts by itself and another does not: casts, truth values, rounding, what is NULL."""
