"""The command line: the only folder that knows Typer and Rich; one thin module per command."""
