"""Which passes go over every statement, in which order, and in whose name each of them edits.

Of two points for the same tokens and of the same rank the one that is added first stays, so the order is a precedence.
"""

from collections.abc import Callable
from functools import cache, partial
from typing import Final, NamedTuple

from hullsound.sql.tree import Call, Cast

from .constructs.dates import add_truncated_dates, prepare_dates
from .constructs.db2 import add_db2_points
from .constructs.documents import add_document_points
from .constructs.durations import add_durations
from .constructs.joined_documents import add_joined_documents
from .constructs.mysql import add_number_points
from .constructs.oracle import add_oracle_points
from .constructs.sqlite import add_sqlite_points
from .constructs.styles import cast_of
from .constructs.teradata import add_teradata_points, add_teradata_values
from .conversions.affinity import add_affinity
from .conversions.arguments import add_argument_points, add_call_points
from .conversions.ase_values import add_ase_values
from .conversions.assigned import add_assigned_values
from .conversions.case import add_case_points
from .conversions.case_groups import add_case_groups
from .conversions.collations import add_collation_points
from .conversions.constant_numbers import add_constant_numbers
from .conversions.date_sums import add_date_sums
from .conversions.decimal_digits import add_decimal_digits
from .conversions.dividing import add_whole_parts
from .conversions.domains import add_domains
from .conversions.edge_values import add_edge_values, add_oracle_remainders
from .conversions.empty_texts import add_empty_texts
from .conversions.even_digits import add_even_digits
from .conversions.extracted_parts import add_extracted_parts
from .conversions.fractions import add_fraction_points
from .conversions.implicit import add_implicit_casts
from .conversions.like_operands import add_like_operands
from .conversions.loose_numbers import add_loose_numbers, add_places
from .conversions.loose_rows import add_loose_rows
from .conversions.members import add_members
from .conversions.moment_constants import add_moment_constants, add_zoned_constants
from .conversions.mysql_values import add_mysql_values
from .conversions.null_results import add_null_results
from .conversions.padded_constants import add_padded_constants
from .conversions.padding import add_padding
from .conversions.plain_numbers import add_plain_numbers
from .conversions.powers import add_powers
from .conversions.products import add_products
from .conversions.read_texts import add_read_texts
from .conversions.rounding import add_rounding_points
from .conversions.scales import add_scale_points
from .conversions.shown_scales import add_shown_scales
from .conversions.sums import add_sum_points
from .conversions.text_parts import add_text_parts
from .conversions.truth import add_truth_points
from .conversions.truth_constants import add_truth_constants
from .conversions.typed_nulls import add_typed_nulls
from .conversions.united import add_united_values
from .conversions.whole_sums import add_whole_sums
from .conversions.whole_values import add_whole_values
from .edits.brackets import add_bit_brackets, add_case_brackets
from .edits.rewrite import CannotDraft, Point, Rewriter
from .edits.spellings import add_spellings
from .edits.text import add_lexical_points
from .statements.change_tables import refuse_change_tables
from .statements.changes import add_change_points
from .statements.document_rows import add_document_rows
from .statements.elsewhere import add_for_others
from .statements.grouping import add_constant_keys
from .statements.limits import add_counts_in_brackets
from .statements.merges import add_merge_points
from .statements.paths import add_path_points
from .statements.queries import add_applied_joins, add_query_points, add_refusals
from .statements.rownum_changes import add_rownum_changes
from .statements.titles import add_titles
from .statements.versions import add_version_points

_TSQL: Final = frozenset(("sqlserver", "ase"))
_ASE: Final = frozenset(("ase",))
_MYSQL: Final = frozenset(("mysql", "mariadb"))
_ORACLE: Final = frozenset(("oracle",))
_SQLSERVER: Final = frozenset(("sqlserver",))
_SQLITE: Final = frozenset(("sqlite",))
_DB2: Final = frozenset(("db2",))
_TERADATA: Final = frozenset(("teradata",))
_BESIDE_ORACLE: Final = _TSQL | _MYSQL | _SQLITE | _DB2 | _TERADATA
_FIXED_TEXTS: Final = _ORACLE | _TSQL | _DB2 | _TERADATA
"""Engines that keep the blanks at the end of a text of fixed length."""
_ALL: Final = _BESIDE_ORACLE | _ORACLE


class Pass(NamedTuple):
    """A pass over a statement: in whose name it edits, what adds its points, and for which source engines."""

    construct: str
    add: Callable[[Rewriter], None]
    sources: frozenset[str]


def _add_casts(rewriter: Rewriter) -> None:
    for cast in rewriter.subject.all(Cast):
        if rewriter.words[cast.first] in ("CAST", "CONVERT"):
            rewriter.add(Point(cast.first, cast.last, partial(cast_of, cast)))


TO_POSTGRESQL: Final = (
    Pass("convert.ase-text", add_ase_values, _ASE),
    Pass("convert.unlike-types", add_read_texts, _ALL),
    Pass("draft.spelling", add_lexical_points, _BESIDE_ORACLE),
    Pass("draft.query", add_document_points, _SQLSERVER),
    Pass("draft.query", add_document_rows, _MYSQL | _ORACLE),
    Pass("draft.change", add_rownum_changes, _ORACLE),
    Pass("draft.query", add_applied_joins, _ORACLE),
    Pass("draft.query", add_path_points, _SQLSERVER),
    Pass("draft.query", add_version_points, _SQLSERVER),
    Pass("convert.moment-sum", add_sum_points, _TSQL),
    Pass("draft.query", add_query_points, _BESIDE_ORACLE),
    Pass("draft.change", add_change_points, _BESIDE_ORACLE),
    Pass("convert.member-place", add_members, _MYSQL),
    Pass("convert.truth-value", add_truth_points, _BESIDE_ORACLE),
    Pass("convert.collation", add_collation_points, _BESIDE_ORACLE),
    Pass("convert.argument", add_argument_points, _BESIDE_ORACLE),
    Pass("convert.unlike-types", add_implicit_casts, _BESIDE_ORACLE),
    Pass("convert.case", add_case_points, _SQLSERVER | _MYSQL | _TERADATA),
    Pass("convert.case", add_case_groups, _SQLSERVER | _MYSQL | _TERADATA),
    Pass("convert.unlike-types", add_united_values, _ALL - _ORACLE),
    Pass("convert.constant", add_constant_numbers, _ALL),
    Pass("convert.pattern", add_like_operands, _BESIDE_ORACLE),
    Pass("draft.query", add_sqlite_points, _SQLITE),
    Pass("convert.unlike-types", add_affinity, _SQLITE),
    Pass("convert.division", add_whole_values, _SQLITE),
    Pass("convert.edge-value", add_loose_numbers, _SQLITE),
    Pass("convert.edge-value", add_loose_rows, _SQLITE),
    Pass("convert.edge-value", add_places, _SQLITE),
    Pass("convert.moment", add_extracted_parts, _ALL),
    Pass("convert.moment", add_truncated_dates, _DB2 | _TERADATA),
    Pass("convert.moment", add_date_sums, _DB2 | _TERADATA),
    Pass("draft.query", add_db2_points, _DB2),
    Pass("draft.query", add_teradata_points, _TERADATA),
    Pass("convert.division", add_fraction_points, _MYSQL),
    Pass("convert.division", add_scale_points, _MYSQL),
    Pass("convert.whole-sum", add_whole_sums, _TSQL | _DB2 | _SQLITE | _TERADATA),
    Pass("convert.division", add_decimal_digits, _SQLSERVER | _DB2),
    Pass("convert.division", add_whole_parts, _DB2 | _TERADATA),
    Pass("convert.number-as-text", add_shown_scales, _TSQL | _MYSQL),
    Pass("convert.padded-text", add_mysql_values, _MYSQL),
    Pass("convert.argument", add_number_points, _MYSQL),
    Pass("convert.edge-value", add_edge_values, _MYSQL),
    Pass("convert.edge-value", add_domains, _MYSQL | _SQLITE),
    Pass("convert.moment", prepare_dates, _BESIDE_ORACLE),
    Pass("draft.type", _add_casts, _BESIDE_ORACLE),
    Pass("convert.argument", add_call_points, _ALL),
    Pass("convert.null", add_typed_nulls, _ALL),
    Pass("convert.null", add_null_results, _ALL),
    Pass("convert.product", add_products, _ORACLE | _MYSQL | _SQLITE),
    Pass("convert.padded-text", add_padded_constants, _ALL - _ORACLE),
    Pass("convert.padded-text", add_padding, _FIXED_TEXTS),
    Pass("draft.query", add_refusals, _ALL),
    Pass("convert.rounding", add_powers, _TSQL | _DB2 | _ORACLE),
    Pass("convert.rounding", add_rounding_points, _ALL),
    Pass("convert.rounding", add_assigned_values, _TSQL | _MYSQL | _DB2 | _TERADATA),
    Pass("convert.even-digit", add_even_digits, _TERADATA),
    Pass("draft.spelling", add_case_brackets, _ALL),
    Pass("draft.spelling", add_titles, _MYSQL | _SQLITE),
    Pass("draft.query", add_constant_keys, _ALL),
    Pass("draft.query", add_counts_in_brackets, _ALL),
    Pass("convert.number-as-text", add_plain_numbers, _ORACLE),
    Pass("convert.division", add_fraction_points, _ORACLE),
    Pass("draft.change", add_merge_points, _ORACLE),
    Pass("draft.query", add_oracle_points, _ORACLE),
    Pass("convert.unlike-types", add_implicit_casts, _ORACLE),
    Pass("convert.pattern", add_like_operands, _ORACLE),
    Pass("convert.edge-value", add_text_parts, _ORACLE),
    Pass("convert.empty-text", add_empty_texts, _ORACLE),
    Pass("convert.edge-value", add_oracle_remainders, _ORACLE),
)
"""Passes over a statement of another engine that becomes one of PostgreSQL, in their order."""


@cache
def _passes_from(source: str) -> tuple[Pass, ...]:
    return tuple(each for each in TO_POSTGRESQL if source in each.sources)


def add_passes(rewriter: Rewriter) -> None:
    """Add names, constants, queries, changes and conversions as the target writes them."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    words = rewriter.words[rewriter.subject.read.first : rewriter.subject.read.last]
    if source in _TSQL and (_has_other_methods(words, target) or _calls_method(rewriter)):
        raise CannotDraft("a method of a type")
    if source == "postgresql" and target != "postgresql" and "PG_CATALOG" in words:
        raise CannotDraft("a function or table of PostgreSQL's own catalogue")
    if "{" in words and source != target:
        raise CannotDraft("a constant or a call in braces, which drivers read")
    if source == "db2":
        refuse_change_tables(rewriter)
    with rewriter.asked_by("draft.spelling"):
        add_spellings(rewriter)
        if source != target:
            add_bit_brackets(rewriter)
    with rewriter.asked_by("convert.moment"):
        add_moment_constants(rewriter)
    with rewriter.asked_by("convert.truth-value"):
        add_truth_constants(rewriter)
        add_zoned_constants(rewriter)
    if target != "postgresql":
        with rewriter.asked_by("convert.moment-sum"):
            add_durations(rewriter)
        with rewriter.asked_by("draft.query"):
            if source == "teradata":
                add_teradata_values(rewriter)
            add_for_others(rewriter)
            add_joined_documents(rewriter)
        if target in _MYSQL and source in _FIXED_TEXTS:
            with rewriter.asked_by("convert.padded-text"):
                add_padding(rewriter)
    elif source != "postgresql":
        for each in _passes_from(source):
            with rewriter.asked_by(each.construct):
                each.add(rewriter)
    if source == "oracle" and target != "oracle":
        with rewriter.asked_by("convert.argument"):
            _add_replaced_by_nothing(rewriter)


def _add_replaced_by_nothing(rewriter: Rewriter) -> None:
    """Give REPLACE of two arguments its third one, which other engines ask for."""
    for call in rewriter.subject.all(Call):
        if call.parts == ("REPLACE",) and len(call.arguments) == 2:
            rewriter.insert(call.closing, ", ''")


def _calls_method(rewriter: Rewriter) -> bool:
    """Whether a method of a column or variable is called; those that PostgreSQL has a like for have fixers of their own."""
    if rewriter.target.engine in ("postgresql", "sqlserver"):
        return False
    named = (call.parts[-2] for call in rewriter.subject.all(Call) if len(call.parts) > 1)
    return any(name.startswith("@") or rewriter.catalog.columns_named(name) for name in named)


def _has_other_methods(words: list[str], target: str) -> bool:
    """Whether a method of a type stands there, other than those of paths in a tree that PostgreSQL gets."""
    paths = "HIERARCHYID" if target == "postgresql" else ""
    return any(word == "::" and words[at - 1] != paths for at, word in enumerate(words))
