"""The languages whose grammars tell strings from the rest: tree-sitter wheels, with the names of their nodes."""

from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING, Final, NamedTuple

if TYPE_CHECKING:
    from tree_sitter import Parser

STRINGS: Final = frozenset((
    "string_literal", "string", "concatenated_string", "interpolated_string_expression", "verbatim_string_literal",
    "raw_string_literal", "encapsed_string", "heredoc", "nowdoc", "interpreted_string_literal", "multiline_string_literal",
    "template_string", "heredoc_body", "text_block", "raw_string", "chained_string",
))  # fmt: skip
"""Nodes that are strings, in any of the grammars."""
CONTENTS: Final = frozenset((
    "string_fragment", "string_content", "multiline_string_fragment", "raw_string_content", "interpreted_string_literal_content",
    "raw_string_literal_content", "heredoc_content", "nowdoc_string", "string_literal_content", "string_value",
))  # fmt: skip
"""Nodes that are plain text within a string."""
ESCAPES: Final = frozenset(("escape_sequence", "string_literal_encoding", "escape_interpolation"))
DELIMITERS: Final = frozenset((
    "string_start", "string_end", "heredoc_start", "heredoc_end", "raw_string_start", "raw_string_end", "interpolation_start",
    "heredoc_beginning", '"', "'", "`", '"""', "@\"", "$\"", "heredoc_identifier", "<<<", "f\"",
))  # fmt: skip
COMMENTS: Final = frozenset(("comment", "line_comment", "block_comment"))
GROUPS: Final = frozenset(("heredoc_body", "nowdoc_body"))
JOINS: Final = frozenset(("binary_expression", "binary_operator", "binary", "additive_expression"))
"""Nodes that may put two strings together."""
JOIN_SIGNS: Final = frozenset(("+", ".", "<<"))
ASSIGNMENTS: Final = frozenset((
    "variable_declarator", "assignment", "assignment_expression", "var_spec", "const_spec", "short_var_declaration",
    "property_declaration", "property_element", "const_element", "constant_declaration",
))  # fmt: skip
ADDITIONS: Final = frozenset(
    ("augmented_assignment", "augmented_assignment_expression", "assignment_statement", "operator_assignment")
)
NAMES: Final = frozenset(("identifier", "variable_name", "simple_identifier", "constant", "name", "property_identifier",
                          "field_access", "member_access_expression"))  # fmt: skip
CALLS: Final = frozenset(("method_invocation", "invocation_expression", "call_expression", "call"))
BUILDERS: Final = frozenset(("append", "Append", "AppendLine", "appendln", "concat", "WriteString"))


class Grammar(NamedTuple):
    """A tree-sitter wheel, and the function of it that gives the language."""

    module: str
    function: str = "language"


GRAMMARS: Final[dict[str, Grammar]] = {
    ".java": Grammar("tree_sitter_java"),
    ".kt": Grammar("tree_sitter_kotlin"),
    ".kts": Grammar("tree_sitter_kotlin"),
    ".cs": Grammar("tree_sitter_c_sharp"),
    ".py": Grammar("tree_sitter_python"),
    ".js": Grammar("tree_sitter_javascript"),
    ".mjs": Grammar("tree_sitter_javascript"),
    ".jsx": Grammar("tree_sitter_javascript"),
    ".ts": Grammar("tree_sitter_typescript", "language_typescript"),
    ".tsx": Grammar("tree_sitter_typescript", "language_tsx"),
    ".php": Grammar("tree_sitter_php", "language_php"),
    ".rb": Grammar("tree_sitter_ruby"),
    ".go": Grammar("tree_sitter_go"),
}
"""By the ending of a file's name."""


@cache
def parser_for(suffix: str) -> "Parser | None":
    """Return the parser of a language; None where its wheel is not installed."""
    from tree_sitter import Language, Parser

    grammar = GRAMMARS[suffix]
    try:
        module = import_module(grammar.module)
    except ImportError:
        return None
    return Parser(Language(getattr(module, grammar.function)()))
