"""Names and texts of a source as a terminal or an XML file may hold them: what would steer or break these is written out."""

import re
from typing import Final

_STEERING: Final = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff\ud800-\udfff\ufffe\uffff]"
)
"""Control characters but tab and line feed, the marks of Unicode that change the direction of text, and what XML does not allow."""


def visible(text: str) -> str:
    """Write steering characters as escapes, such as \\x1b and \\u202e."""
    return _STEERING.sub(lambda match: match[0].encode("unicode_escape").decode(), text)
