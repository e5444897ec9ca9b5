"""Options behind the parts of a definition: runs of words and values, each opened by a known word."""

from collections.abc import Mapping
from typing import Any, Final

from hullsound.sql.lexer import END, FENCE
from hullsound.sql.parser.change import ChangeParser

TABLE_OPTIONS: Final = frozenset(
    """ENGINE TYPE AUTO_INCREMENT AVG_ROW_LENGTH DEFAULT CHARSET CHARACTER COLLATE COMMENT ROW_FORMAT KEY_BLOCK_SIZE MAX_ROWS
    MIN_ROWS PACK_KEYS STATS_PERSISTENT STATS_AUTO_RECALC STATS_SAMPLE_PAGES CHECKSUM DELAY_KEY_WRITE TABLESPACE DATA INDEX
    CONNECTION ENCRYPTION ENCRYPTED ENCRYPTION_KEY_ID UNION INSERT_METHOD COMPRESSION WITH PAGE_COMPRESSED
    PAGE_COMPRESSION_LEVEL PAGE_CHECKSUM TRANSACTIONAL SECONDARY_ENGINE ENGINE_ATTRIBUTE SECONDARY_ENGINE_ATTRIBUTE SEQUENCE
    AUTOEXTEND_SIZE START WITHOUT INHERITS USING ON SERVER OPTIONS TEXTIMAGE_ON FILESTREAM_ON LOCK IN LONG COMPRESS ORGANIZE
    DISTRIBUTE NOT VOLATILE CARDINALITY ROW APPEND CCSID PCTFREE LOG SECURITY VALUE REFRESH MAINTAINED ENABLE DISABLE
    INITIALLY UNIQUE PRIMARY NO MAP STRICT FALLBACK MERGEBLOCKRATIO FREESPACE DATABLOCKSIZE BLOCKCOMPRESSION
    JOURNAL BEFORE AFTER DUAL LOCAL PASSWORD NODEGROUP STORAGE RAID_TYPE IETF_QUOTES PERIOD EXP_ROW_SIZE RESERVEPAGEGAP
    IDENTITY_GAP MAX_ROWS_PER_PAGE AT EXTERNAL PROPERTY FEDERATED OVERFLOW KEY INCLUDE ALLOW CLUSTER CLUSTERED FILLFACTOR
    PARALLEL EXTEND MINPCTUSED LEVEL PAGE COLLECT REVERSE SPECIFICATION BUSINESS_TIME INVISIBLE VISIBLE IGNORED PARSER
    NULLS DEFINITION INCLUDING EXCLUDING WHERE CONCURRENTLY DENSE SPARSE OBJECT_ID STATISTICS MAXERRORS SORT CHANGE
    IMMEDIATE OPTIMIZATION EXTERNALLY DEFERRABLE DEFERRED AUTOMATIC LOGGED FILEGROUP BLOCKSIZE PREFETCHSIZE
    GLOBAL PRIMARY_AMP COLUMN MULTISET SET TITLE""".split()
)
"""Words that open an option of a table or an index in one of the engines."""
OPTION_NAMES: Final[Mapping[str, str]] = {
    "WITH SYSTEM": "system-versioning",
    "WITHOUT ROWID": "without-rowid",
    "INHERITS": "inherits",
    "ON COMMIT": "on-commit",
    "NOT LOGGED": "not-logged",
    "DATA CAPTURE": "data-capture",
}
"""First words of options whose clause has a name of its own."""


class OptionParser(ChangeParser):
    """Reads option runs."""

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        self.option_values: dict[str, str] = {}
        """Values of the options that the catalogue keeps, by their word."""

    def options(self, openers: frozenset[str], clauses: set[str], stops: frozenset[str] = frozenset()) -> None:
        """Read all options that are next; each becomes a clause named after its first words."""
        while self.accept(",") or (self.words[self.pos] in openers and self.words[self.pos] not in stops):
            if self.words[self.pos] not in openers:
                self.fail("an option")
            self._option(openers, clauses, stops)

    def ends_definition(self) -> bool:
        """Whether the next statement begins here, in a family that needs no terminator."""
        return False

    def _option(self, openers: frozenset[str], clauses: set[str], stops: frozenset[str]) -> None:
        first = self.pos
        words, kinds = self.words, self.kinds
        self.pos += 1
        while kinds[self.pos] != END:
            word = words[self.pos]
            if self.pos > first + 1 and self.ends_definition():
                break
            if word == "=":
                self.pos += 1
                if words[self.pos] == "(":
                    self.skip_parenthesized()
                elif kinds[self.pos] != END:
                    self.pos += 1  # a value, though it may look like the next option
            elif word == "(":
                self.skip_parenthesized()
            elif (
                word in (",", ")", ";")
                or word in stops
                or (
                    word in openers
                    and self.pos > first + 1
                    and words[self.pos - 1] not in ("WITH", "NO", "NOT", "DEFAULT", "ON")
                )
            ):
                break
            elif kinds[self.pos] == FENCE:
                self.skip_fence()
            else:
                self.pos += 1
        if words[first] in ("COMMENT", "AUTO_INCREMENT"):
            value = self.pos - 1
            self.option_values[words[first]] = self.tokens.source(value, self.pos)
        clauses.add(self.clause(option_name(words[first], words[first + 1]), first))


def option_name(word: str, following: str) -> str:
    """Name the clause of an option by its first words."""
    known = OPTION_NAMES.get(word) or OPTION_NAMES.get(f"{word} {following}")
    if known:
        return known
    name = (
        word if not following.isalpha() or word not in ("WITH", "DATA", "INDEX", "NO", "NOT") else f"{word} {following}"
    )
    return "option-" + name.lower().replace(" ", "-").replace("_", "-")
