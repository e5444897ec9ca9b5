"""What each engine's catalogue is asked, and how its rows become the statements that make the objects."""
