"""What is a database?  Objects, columns, constraints, code and references, and the hull file that keeps them."""
