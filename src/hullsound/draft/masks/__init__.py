"""What do masks and patterns say, and how does each target write what they say? One reader per notation, one writer per target."""
