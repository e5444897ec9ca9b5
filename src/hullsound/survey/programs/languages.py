"""The languages whose grammars tell strings from the rest: tree-sitter wheels, with the names of their nodes."""

import warnings
from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING, Final, NamedTuple

if TYPE_CHECKING:
    from tree_sitter import Parser

STRINGS: Final = frozenset((
    "string_literal", "string", "concatenated_string", "interpolated_string_expression", "verbatim_string_literal",
    "raw_string_literal", "encapsed_string", "heredoc", "nowdoc", "interpreted_string_literal", "multiline_string_literal",
    "template_string", "heredoc_body", "text_block", "raw_string", "chained_string", "interpolated_string_literal",
    "heredoc_content", "concatenation",
))  # fmt: skip
"""Nodes that are strings, in any of the grammars."""
CHAINS: Final = frozenset(("concatenated_string", "chained_string", "concatenation"))
"""Nodes of strings that stand side by side, with nothing of the text between them."""
CONTENTS: Final = frozenset((
    "string_fragment", "string_content", "multiline_string_fragment", "raw_string_content", "interpreted_string_literal_content",
    "raw_string_literal_content", "heredoc_content", "nowdoc_string", "string_literal_content", "string_value",
))  # fmt: skip
"""Nodes that are plain text within a string."""
ESCAPES: Final = frozenset(("escape_sequence", "string_literal_encoding", "escape_interpolation"))
DELIMITERS: Final = frozenset((
    "string_start", "string_end", "heredoc_start", "heredoc_end", "raw_string_start", "raw_string_end", "interpolation_start",
    "heredoc_beginning", '"', "'", "`", '"""', "@\"", "$\"", "heredoc_identifier", "<<<", "f\"",
    "raw_string_delimiter",
))  # fmt: skip
COMMENTS: Final = frozenset(("comment", "line_comment", "block_comment"))
GROUPS: Final = frozenset(("heredoc_body", "nowdoc_body"))
JOINS: Final = frozenset(("binary_expression", "binary_operator", "binary", "additive_expression"))
"""Nodes that may put two strings together."""
JOIN_SIGNS: Final = frozenset(("+", "."))
SHIFTS: Final = frozenset(("binary_expression", "binary"))
"""Nodes that may append to a text by <<, as C++ and Ruby do."""
ASSIGNMENTS: Final = frozenset((
    "variable_declarator", "assignment", "assignment_expression", "var_spec", "const_spec", "short_var_declaration",
    "property_declaration", "property_element", "const_element", "constant_declaration", "init_declarator",
    "variable_assignment",
))  # fmt: skip
ADDITIONS: Final = frozenset(
    ("augmented_assignment", "augmented_assignment_expression", "assignment_statement", "operator_assignment")
)
ADDITION_SIGNS: Final = frozenset(("+=", ".="))
NAMES: Final = frozenset(("identifier", "variable_name", "simple_identifier", "constant", "name", "property_identifier",
                          "field_access", "member_access_expression", "scalar"))  # fmt: skip
DECLARATORS: Final = frozenset(("pointer_declarator", "array_declarator", "reference_declarator"))
"""What C puts around the name of a variable."""
CALLS: Final = frozenset(
    ("method_invocation", "invocation_expression", "call_expression", "call", "function_call_expression")
)
BUILDERS: Final = frozenset(
    ("append", "Append", "AppendLine", "AppendFormat", "appendLine", "appendln", "concat", "WriteString")
)
FUNCTIONS: Final = frozenset((
    "method_declaration", "function_definition", "function_declaration", "constructor_declaration", "method_definition", "method",
    "subroutine_declaration_statement", "local_function_statement",
))  # fmt: skip
"""Nodes within which the variables of others are not known."""
LINE_BUILDERS: Final = frozenset(("AppendLine", "appendLine", "appendln"))
JOINERS: Final = frozenset(("join", "Join", "joinToString", "implode", "Concat"))
"""Calls that put the strings of a list together."""
LISTS: Final = frozenset((
    "array", "list", "array_creation_expression", "composite_literal", "literal_value", "element_value_array_initializer",
    "implicit_array_creation_expression", "collection_expression", "initializer_expression", "array_initializer", "tuple",
))  # fmt: skip
ELEMENTS: Final = frozenset(("argument", "value_argument", "array_element_initializer", "literal_element"))
"""What grammars put around each value of a list."""
KOTLIN: Final = frozenset((".kt", ".kts"))
SHELL: Final = frozenset((".sh", ".bash", ".ksh"))


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
    ".c": Grammar("tree_sitter_c"),
    ".h": Grammar("tree_sitter_cpp"),
    ".cpp": Grammar("tree_sitter_cpp"),
    ".cc": Grammar("tree_sitter_cpp"),
    ".cxx": Grammar("tree_sitter_cpp"),
    ".hpp": Grammar("tree_sitter_cpp"),
    ".sh": Grammar("tree_sitter_bash"),
    ".bash": Grammar("tree_sitter_bash"),
    ".ksh": Grammar("tree_sitter_bash"),
    ".pl": Grammar("tree_sitter_perl"),
    ".pm": Grammar("tree_sitter_perl"),
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
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", DeprecationWarning)  # some wheels give their language in an older way
        return Parser(Language(getattr(module, grammar.function)()))
