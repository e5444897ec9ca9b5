"""The book and the pages beside it: every link leads to a page, a heading or a picture that is there."""

import re
from functools import cache
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
DOCS = ROOT / "docs"
PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted(p for p in DOCS.rglob("*.md") if "site" not in p.parts)]
LINK = re.compile(r"(?<!\\)\[[^\]\n]*\]\(([^)\s]+)\)")


@cache
def anchors(page: Path) -> frozenset[str]:
    """Return the anchors of a page's headings, as GitHub and MyST make them."""
    found = re.findall(r"^#{1,3} (.+)$", page.read_text(encoding="utf-8"), re.MULTILINE)
    return frozenset(re.sub(r"[^\w\- ]", "", each.lower()).replace(" ", "-") for each in found)


@pytest.mark.parametrize("page", PAGES, ids=lambda p: str(p.relative_to(ROOT)))
def test_links_lead_somewhere(page: Path) -> None:
    text = re.sub(r"```.*?```|`[^`\n]+`", "", page.read_text(encoding="utf-8"), flags=re.DOTALL)
    for link in LINK.findall(text):
        if "://" in link or link.startswith("mailto:"):
            continue
        name, _, anchor = link.partition("#")
        leads_to = (page.parent / name).resolve() if name else page
        assert leads_to.exists(), link
        assert not anchor or anchor in anchors(leads_to), link


def test_every_page_stands_in_the_table_of_contents() -> None:
    listed = re.findall(r"^([\w/*-]+)$", (DOCS / "index.md").read_text(encoding="utf-8"), re.MULTILINE)
    known = {path for name in listed for path in DOCS.glob(f"{name}.md")}
    assert {p for p in DOCS.rglob("*.md") if "site" not in p.parts} - known == {DOCS / "index.md"}
