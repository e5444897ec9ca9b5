"""Loads the templates and styles that ship with the package; every value they are given is escaped."""

from importlib.resources import files
from typing import Any

from hullsound.visible import visible


def load_template(name: str) -> Any:
    """Return a template of this folder, with escaping on."""
    import jinja2

    environment = jinja2.Environment(
        loader=jinja2.PackageLoader("hullsound.report", "html"),
        autoescape=True,
        trim_blocks=True,
        lstrip_blocks=True,
        undefined=jinja2.StrictUndefined,
        finalize=_finalized,
    )
    return environment.get_template(name)


def _finalized(value: Any) -> Any:
    """Write out what would turn text around; markup that the program itself has made stays as it is."""
    return visible(value) if type(value) is str else value


def load_asset(name: str) -> Any:
    """Return a style or script of this folder, which goes into a page as it is."""
    from markupsafe import Markup

    return Markup(files(__package__).joinpath(name).read_text(encoding="utf-8"))  # noqa: S704 - shipped with the package
