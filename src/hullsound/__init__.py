"""Hull Sound says what moving a database to another engine will take, before any data moves.

The steps of an assessment as functions: see `hullsound.steps`.
"""

__version__ = "0.1.0"
