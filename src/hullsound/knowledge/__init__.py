"""What do we know?  Constructs of sources, stances of targets and types, as data that is checked when loaded."""
