"""How is SQL text read?  Text becomes tokens, statements and trees with spans; no engine is judged here."""
