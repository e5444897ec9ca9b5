"""How Sphinx makes one offline site of these pages: `make docs`."""

from pathlib import Path

project = "Hull Sound"
author = "The makers of Hull Sound"
extensions = ["myst_parser"]
source_suffix = {".md": "markdown"}
exclude_patterns = ["site"]
html_theme = "furo"
html_title = "Hull Sound"
html_show_copyright = False
html_extra_path = sorted(
    str(path.relative_to(Path(__file__).parent)) for path in Path(__file__).parent.glob("*.schema.json")
)
myst_heading_anchors = 3
myst_enable_extensions = ["colon_fence"]
suppress_warnings = ["myst.header", "misc.highlighting_failure"]
pygments_style = "friendly"
