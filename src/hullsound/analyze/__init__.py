"""What every expression is: its type, the column that it names, and what surrounds it."""
