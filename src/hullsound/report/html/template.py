"""Loads the templates and styles that ship with the package; every value they are given is escaped."""

from importlib.resources import files
from typing import Any


def load_template(name: str) -> Any:
    """Return a template of this folder, with escaping on."""
    import jinja2

    environment = jinja2.Environment(
        autoescape=True, trim_blocks=True, lstrip_blocks=True, undefined=jinja2.StrictUndefined
    )
    return environment.from_string(files(__package__).joinpath(name).read_text(encoding="utf-8"))


def load_asset(name: str) -> Any:
    """Return a style or script of this folder, which goes into a page as it is."""
    from markupsafe import Markup

    return Markup(files(__package__).joinpath(name).read_text(encoding="utf-8"))  # noqa: S704 - shipped with the package
