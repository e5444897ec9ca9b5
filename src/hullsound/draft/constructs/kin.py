"""What constructs become between engines of one family."""

from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.collations import exact_collation
from hullsound.knowledge.engine_model import Target
from hullsound.sight.detector import Found
from hullsound.sql.tree import ColumnDefinition, Operation

from . import fixer

_UCA_SINCE: Final = 1010
"""First version of MariaDB with collations of Unicode 14 (documentation, "Supported Character Sets and Collations")."""
_BY_UNICODE_14: Final = {
    "AI_CI": "utf8mb4_uca1400_nopad_ai_ci",
    "AS_CI": "utf8mb4_uca1400_nopad_as_ci",
    "AS_CS": "utf8mb4_uca1400_nopad_as_cs",
    "BIN": "utf8mb4_nopad_bin",
}
_BY_UNICODE_5: Final = {"AI_CI": "utf8mb4_unicode_520_nopad_ci", "BIN": "utf8mb4_nopad_bin"}


@fixer("collation_of_mariadb")
def fix_collation(place: Found, rewriter: Rewriter) -> str:
    """Name the collation nearest to one of MySQL 8; like that, it does not pad with blanks."""
    name = rewriter.words[place.first].strip("`'\"").upper().removeprefix("UTF8MB4_0900_")
    known = _known(rewriter.target)
    if name not in known:
        raise CannotDraft("no collation with this way of comparing")
    return known[name]


@fixer("charset_of_mariadb")
def fix_character_set(place: Found, rewriter: Rewriter) -> str:
    """Name the collation that MySQL 8 takes for utf8mb4 where none is named: MariaDB takes another one."""
    text = rewriter.tokens.source(place.first, place.last)
    words = rewriter.words[rewriter.subject.read.first : rewriter.subject.read.last]
    has_own = "COLLATE" in words[place.first - rewriter.subject.read.first :]
    if rewriter.catalog.version.startswith("5.") or "UTF8MB4" not in text.upper() or has_own:
        return text
    return f"{text} COLLATE {_known(rewriter.target)['AI_CI']}"


def database_options(catalog: Catalog, target: Target) -> str:
    """Return what CREATE DATABASE must say so that tables without a word of their own, and variables, compare as in the source."""
    exact = exact_collation(catalog.engine, target.engine)
    if exact:
        return f"CHARACTER SET utf8mb4 COLLATE {exact}"
    if catalog.engine != "mysql" or target.engine != "mariadb" or catalog.version.startswith("5."):
        return ""
    return f"CHARACTER SET utf8mb4 COLLATE {_known(target)['AI_CI']}"


def _known(target: Target) -> dict[str, str]:
    return _BY_UNICODE_14 if target.version >= _UCA_SINCE else _BY_UNICODE_5


@fixer("engine_for_type")
def fix_table_type(place: Found, rewriter: Rewriter) -> str:
    """Write TYPE = x, as a table's option, as ENGINE = x."""
    return "ENGINE" + rewriter.tokens.source(place.first, place.last)[len("TYPE") :]


@fixer("share_lock")
def fix_share_lock(place: Found, rewriter: Rewriter) -> str:
    """Write the only form that MariaDB has."""
    words = rewriter.words[place.first : place.last]
    if "OF" in words:
        raise CannotDraft("a lock on some of the tables of a query")
    return " ".join(["LOCK IN SHARE MODE", *(word for word in words if word in ("NOWAIT", "SKIP", "LOCKED"))])


@fixer("json_extract")
def fix_json_arrow(place: Found, rewriter: Rewriter) -> str:
    """Write -> and ->> on JSON as the functions that they stand for."""
    node = place.node
    if not isinstance(node, Operation) or len(node.operators) != 1:
        raise CannotDraft("several paths in a row")
    text = f"JSON_EXTRACT({rewriter.nodes(node.operands)})"
    return f"JSON_UNQUOTE({text})" if node.operators[0] == "->>" else text


@fixer("quoted_name")
def fix_quoted_name(place: Found, rewriter: Rewriter) -> str:
    """Quote a name that has become a reserved word."""
    return f"`{rewriter.tokens.source(place.first, place.last)}`"


@fixer("reference_system")
def fix_reference_system(place: Found, rewriter: Rewriter) -> str:
    """Write SRID 4326, of a column, as MariaDB does."""
    return f"REF_SYSTEM_ID={rewriter.tokens.source(place.last - 1, place.last)}"


@fixer("ignored_index")
def fix_ignored_index(place: Found, rewriter: Rewriter) -> str:
    """Write INVISIBLE of an index as MariaDB does; of a column it stays."""
    columns = rewriter.subject.all(ColumnDefinition)
    return "INVISIBLE" if any(each.first <= place.first < each.last for each in columns) else "IGNORED"


@fixer("last_word")
def fix_last_word(place: Found, rewriter: Rewriter) -> str:
    """Keep the last word of a place alone: what stands before it says what holds anyway."""
    return rewriter.tokens.source(place.last - 1, place.last)


@fixer("invisible_index")
def fix_invisible_index(place: Found, rewriter: Rewriter) -> str:
    """Write IGNORED of an index as MySQL does."""
    return rewriter.tokens.source(place.first, place.last)[: -len("IGNORED")] + "INVISIBLE"


@fixer("bracketed")
def fix_bracketed(place: Found, rewriter: Rewriter) -> str:
    """Write a constant as an expression."""
    return f"({rewriter.tokens.source(place.first, place.last)})"


@fixer("created_anew")
def fix_created_anew(place: Found, rewriter: Rewriter) -> str:
    """Write CREATE OR REPLACE as CREATE: on an empty target there is nothing to replace."""
    return "CREATE"


@fixer("stored_column")
def fix_stored_column(place: Found, rewriter: Rewriter) -> str:
    return rewriter.tokens.source(place.first, place.last)[: -len("PERSISTENT")] + "STORED"
