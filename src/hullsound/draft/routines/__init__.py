"""Simple routines for targets other than PostgreSQL: written anew, statement by statement, from the tree of the source.

`walk` goes through the source's statements, `speech` and its sisters write them in the procedural language of the target.
What is not simple (cursors, temporary tables, texts run as SQL, handlers of single errors) is for a person.
"""
