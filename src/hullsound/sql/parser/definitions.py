"""CREATE, ALTER, DROP, GRANT and COMMENT in the forms of all engines but Oracle's own."""

from typing import ClassVar, Final

from hullsound.sql.dialect import Grammar
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import FENCE, QUOTED, STRING, WORD
from hullsound.sql.parser.indexes_and_views import ViewParser
from hullsound.sql.parser.schema_changes import read_schema_changes
from hullsound.sql.tree import (
    CommentOn,
    CreateSequence,
    CreateSynonym,
    CreateType,
    OtherStatement,
    Parts,
    Statement,
)

_MODIFIERS: Final = frozenset(
    """OR REPLACE ALTER TEMPORARY TEMP GLOBAL LOCAL VOLATILE MULTISET SET UNLOGGED UNIQUE CLUSTERED NONCLUSTERED FULLTEXT SPATIAL
    COLUMNSTORE PRIMARY XML FOREIGN EXTERNAL MATERIALIZED RECURSIVE VIRTUAL ONLINE OFFLINE AGGREGATE CONSTRAINT PUBLIC TRUSTED
    PROCEDURAL HASH JOIN EXISTING SELECTIVE VECTOR PERFORMANCE SPECIFIC TRACE HADOOP NICKNAMED STATEMENT DEFAULT""".split()
)
_TWO_WORD_KINDS: Final = frozenset(
    """ACCESS METHOD|ACCESS CONTROL|APPLICATION ROLE|ASYMMETRIC KEY|AUDIT POLICY|AUDIT SPECIFICATION|AVAILABILITY GROUP|
    BROKER PRIORITY|BUFFER POOL|COLUMN ENCRYPTION|COLUMN MASTER|CRYPTOGRAPHIC PROVIDER|DATABASE AUDIT|DATABASE PARTITION|
    DATABASE SCOPED|DATABASE ENCRYPTION|DATA SOURCE|DATA WRAPPER|EVENT MONITOR|EVENT NOTIFICATION|EVENT SESSION|EVENT TRIGGER|
    EXTERNAL DATA|EXTERNAL FILE|EXTERNAL LANGUAGE|EXTERNAL LIBRARY|EXTERNAL RESOURCE|EXTERNAL TABLE|FOREIGN DATA|
    FULLTEXT CATALOG|FULLTEXT STOPLIST|HISTOGRAM TEMPLATE|HASH INDEX|INDEX EXTENSION|JOIN INDEX|LANGUAGE PLPGSQL|
    LOGFILE GROUP|MASTER KEY|MESSAGE TYPE|OPERATOR CLASS|OPERATOR FAMILY|PARTITION FUNCTION|PARTITION SCHEME|
    REMOTE SERVICE|RESOURCE GROUP|RESOURCE POOL|RESOURCE GOVERNOR|SEARCH PROPERTY|SECURITY LABEL|SECURITY POLICY|SERVER AUDIT|
    SERVER ROLE|SERVICE CLASS|SPATIAL REFERENCE|STORED PROCEDURE|SYMMETRIC KEY|TABLE STATISTICS|TEXT SEARCH|
    TYPE BODY|TYPE MAPPING|USER MAPPING|USER TEMPORARY|USAGE LIST|WORK ACTION|WORK CLASS|WORKLOAD GROUP|XML SCHEMA|
    DEFAULT CONVERSION|CURRENT STATISTICS|ENCRYPTION KEY|LARGE TABLESPACE|SYSTEM TEMPORARY|REGULAR TABLESPACE|MASK ON|
    PACKAGE BODY|SPECIFIC PROCEDURE|SPECIFIC FUNCTION|MODULE BODY|GLOBAL VARIABLE""".replace("\n", "").split("|")
)
_KINDS_TWICE: Final = frozenset(kind.strip() for kind in _TWO_WORD_KINDS)
_THIRD_WORDS: Final = frozenset(
    ("CONFIGURATION", "DICTIONARY", "PARSER", "TEMPLATE", "CREDENTIAL", "SPECIFICATION", "KEY", "WRAPPER", "SOURCE", "FORMAT",
     "COLLECTION", "POOL", "LIST", "BINDING", "TABLESPACE", "POLICY", "SET", "GROUP", "SYSTEM")
)  # fmt: skip
_SEQUENCE_REFUSALS: Final = frozenset(("MINVALUE", "MAXVALUE", "CYCLE", "CACHE", "ORDER", "OWNER"))
"""What may stand behind NO in the options of a sequence."""
_SEQUENCE_FLAGS: Final = frozenset(
    (
        "CYCLE",
        "NOCYCLE",
        "NOCACHE",
        "NOMAXVALUE",
        "NOMINVALUE",
        "NOORDER",
        "ORDER",
        "KEEP",
        "NOKEEP",
        "LOGGED",
        "UNLOGGED",
    )
)


class DefinitionParser(ViewParser):
    """Reads definitions; statements with code are left to the parsers of the procedural families."""

    code_kinds: ClassVar[frozenset[str]] = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER"))

    def create(self) -> Statement:
        first = self.pos
        self.pos += 1
        modifiers = self._modifiers()
        word, following = self.words[self.pos], self.words[self.pos + 1]
        if self.words[self.pos - 1] == "DEFAULT" and self.dialect.grammar is Grammar.TSQL:
            return self._named_rest(first, "CREATE DEFAULT")
        if word in self.code_kinds and (word == "PACKAGE" or f"{word} {following}" not in _KINDS_TWICE):
            return self.create_code(first, modifiers)
        if word == "TABLE" and following != "STATISTICS":
            return self.create_table(first, modifiers)
        if word == "INDEX" and following != "EXTENSION":
            return self.create_index(first, modifiers)
        if word == "VIEW":
            return self.create_view(first, modifiers)
        if word == "SEQUENCE":
            return self.create_sequence(first)
        if word in ("SYNONYM", "ALIAS", "NICKNAME"):
            return self.create_synonym(first, public="PUBLIC" in modifiers)
        if word == "TYPE" and following != "MAPPING":
            return self.create_type(first)
        if word == "SCHEMA":
            return self.create_schema(first)
        kind = self._kind()
        for modifier in ("MATERIALIZED", "PUBLIC", "JOIN", "HASH"):
            if modifier in modifiers:
                kind = f"{modifier} {kind}"
        return self._named_rest(first, f"CREATE {kind}")

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        raise NotImplementedError

    def _modifiers(self) -> set[str]:
        """Read the words between CREATE and the kind of object."""
        modifiers: set[str] = set()
        while True:
            first = self.pos
            word, following = self.words[first], self.words[first + 1]
            if word in ("DEFINER", "ALGORITHM") and following == "=":
                self.pos += 2
                self._account() if word == "DEFINER" else self._step()
                if word == "DEFINER":
                    self.clause("definer", first)
            elif word == "SQL" and following == "SECURITY":
                self.pos += 3
                if self.words[self.pos - 1] == "INVOKER":
                    self.clause("invoker-rights", first)
            elif self.accept("IF", "NOT", "EXISTS") or self.accept("NO", "CASCADE"):
                modifiers.add("IF NOT EXISTS")
            elif word in _MODIFIERS and f"{word} {following}" not in _KINDS_TWICE and self.kinds[first + 1] == WORD:
                modifiers.add(word)
                self.pos += 1
            else:
                return modifiers

    def _kind(self) -> str:
        """Read the words that name a kind of object."""
        kind = self.words[self.pos]
        if self.kinds[self.pos] != WORD:
            self.fail("a kind of object")
        self.pos += 1
        if f"{kind} {self.words[self.pos]}" in _KINDS_TWICE:
            kind = f"{kind} {self.words[self.pos]}"
            self.pos += 1
            if self.words[self.pos] in _THIRD_WORDS:
                kind = f"{kind} {self.words[self.pos]}"
                self.pos += 1
        return kind

    # --- indexes, views, sequences, types ---

    def create_sequence(self, first: int) -> CreateSequence:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        node = CreateSequence(first, self.pos, name, self.sequence_options())
        self.nodes.append(node)
        return node

    def sequence_options(self) -> dict[str, str]:
        """Read START WITH, INCREMENT BY and their like, with or without the small words."""
        options: dict[str, str] = {}
        while self.kinds[self.pos] == WORD:
            word = self.words[self.pos]
            self.accept(",")
            if word == "AS":
                self.pos += 1
                kind = self.type_name()
                options["as"] = self.tokens.source(kind.first, kind.last)
            elif word in ("START", "INCREMENT", "MINVALUE", "MAXVALUE", "CACHE", "RESTART"):
                self.pos += 1
                self.accept_any(("WITH", "BY"))
                self.accept("=")
                options[word.lower()] = self.signed_number()
            elif word == "NO" and self.words[self.pos + 1] in _SEQUENCE_REFUSALS:
                self.pos += 2
                options[f"no {self.words[self.pos - 1].lower()}"] = ""
            elif word == "OWNED":
                self.pos += 2
                options["owned by"] = ".".join(self.qualified_name())
            elif word in _SEQUENCE_FLAGS:
                self.pos += 1
                options[word.lower()] = ""
            elif word in ("ENGINE", "COMMENT"):
                self.pos += 1
                self.accept("=")
                self.pos += 1
            else:
                break
        return options

    def create_synonym(self, first: int, *, public: bool) -> CreateSynonym:
        self.pos += 1
        name = self.qualified_name()
        self.expect("FOR")
        self.accept_any(("TABLE", "SEQUENCE", "MODULE"))
        target = self.qualified_name()
        if self.words[first + 1] == "NICKNAME":
            self.skip_rest()
        node = CreateSynonym(first, self.pos, name, target, "", public)
        self.nodes.append(node)
        return node

    def create_type(self, first: int) -> CreateType:
        self.pos += 1
        name = self.qualified_name()
        node = CreateType(first, self.pos, name, "incomplete", [], None)
        if self.accept("FROM"):
            node.form = "alias"
            node.element = self.type_name()
            node.nullable = not self.accept("NOT", "NULL")
            self.accept("NULL")
        elif self.accept("AS"):
            self._type_form(node)
        elif self.accept("EXTERNAL"):
            node.form = "external"
        elif self.at("("):
            node.form = "base"
            self.skip_parenthesized()
        if not self.ends_definition():
            self.skip_rest()
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _type_form(self, node: CreateType) -> None:
        word = self.words[self.pos]
        if word == "TABLE":
            self.pos += 1
            node.form = "table"
            columns: list = []  # type: ignore[type-arg]
            self.table_elements(columns, [], [])
            node.attributes = [(column.name, column.type) for column in columns if column.type is not None]
        elif word in ("ENUM", "RANGE"):
            self.pos += 1
            node.form = word.lower()
            self.skip_parenthesized()
        elif word == "(" or (word == "ROW" and self.words[self.pos + 1] == "("):
            self.accept("ROW")
            node.form = "object"
            self.expect("(")
            while not self.accept(")"):
                name = self.identifier()
                node.attributes.append((name, self.type_name()))
                if self.accept("COLLATE"):
                    self.qualified_name()
                while self.words[self.pos] not in (",", ")", ""):
                    self.skip_parenthesized() if self.at("(") else self._step()
                self.accept(",")
        elif self.kinds[self.pos] in (WORD, QUOTED):
            node.form = "distinct"
            node.element = self.type_name()
            if self.words[self.pos - 1] == "]":
                node.form = "array"
        else:
            self.fail("a type")

    def create_schema(self, first: int) -> Statement:
        """Read CREATE SCHEMA; what it creates inside stands behind it."""
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name: Parts = self.qualified_name() if self.is_name() and not self.at("AUTHORIZATION") else ()
        if self.accept("AUTHORIZATION"):
            owner = self.any_word()
            name = name or (owner,)
        if not self.ends_definition():
            self.skip_rest()
        return self.other_statement(first, "CREATE SCHEMA", name)

    # --- the rest ---

    def alter(self) -> Statement:
        first = self.pos
        self.pos += 1
        modifiers = self._modifiers() - {"SET", "DEFAULT"}
        if self.at("TABLE"):
            return self.alter_table(first)
        if self.words[self.pos] in self.code_kinds and self.alters_code():
            return self.create_code(first, modifiers | {"ALTER"})
        if self.at("VIEW") and self.alters_code():
            return self.create_view(first, modifiers)
        return self._named_rest(first, f"ALTER {self._kind()}")

    def alters_code(self) -> bool:
        """Whether ALTER here brings the whole text anew, as in the T-SQL family."""
        return False

    def drop(self) -> Statement:
        first = self.pos
        self.pos += 1
        while self.words[self.pos] in ("TEMPORARY", "MATERIALIZED", "FOREIGN", "SPECIFIC", "PUBLIC", "STATISTICS") and (
            self.kinds[self.pos + 1] == WORD and self.words[self.pos + 1] not in ("ON", "IF")
        ):
            self.pos += 1
        return self._named_rest(first, f"DROP {self._kind()}")

    def _named_rest(self, first: int, words: str) -> OtherStatement:
        self.accept("CONCURRENTLY")
        self.accept("IF", "EXISTS") or self.accept("IF", "NOT", "EXISTS")
        name: Parts = ()
        if self.is_name() and not self.at("ON") and not self.ends_definition():
            name = self.qualified_name()
        if words in ("ALTER DATABASE", "ALTER INDEX"):
            self.accept_any(("SET", "DISABLE"))  # may begin a line of its own
        if not self.ends_definition():
            self.skip_rest()
        return self.other_statement(first, words, name)

    def other_statement(self, first: int, words: str, name: Parts = ()) -> OtherStatement:
        node = OtherStatement(first, self.pos, words.lower(), name, read_schema_changes(self, first, self.pos))
        self.nodes.append(node)
        return node

    def whole_statement(self, first: int, words: str, name: Parts = ()) -> OtherStatement:
        """Read a statement known by its words only, to its end."""
        self.skip_rest()
        return self.other_statement(first, words, name)

    def comment(self) -> CommentOn:
        first = self.pos
        self.pos += 1
        self.accept("ON")
        kind = self.any_word()
        while (
            self.kinds[self.pos] == WORD
            and self.kinds[self.pos + 1] in (WORD, QUOTED)
            and not self.at("IS")
            and (self.words[self.pos + 1] not in ("IS", "ON", "AS"))
        ):
            kind += f" {self.any_word()}"
        name: Parts = ()
        if self.at("(") and kind != "CAST":
            self.skip_parenthesized()
        elif self.is_name():
            name = self.qualified_name()
        if kind not in ("TABLE", "COLUMN", "VIEW", "MATERIALIZED VIEW"):
            kind = f"other {kind}"
        text = "''"
        while self.words[self.pos] not in ("IS", "AS", "") and self.kinds[self.pos] != STRING:
            self.skip_parenthesized() if self.at("(") else self._step()
        self.accept_any(("IS", "AS"))
        if self.is_string():
            self.pos += 1
            text = self.tokens.source(self.pos - 1, self.pos)
            while self.is_string():
                self.pos += 1
        elif self.kinds[self.pos] == FENCE:
            self.skip_fence()
        elif not self.accept("NULL") and not self.at("("):
            self.fail("a text")
        else:
            self.skip_rest()
        node = CommentOn(first, self.pos, kind.lower(), name, text)
        self.nodes.append(node)
        return node

    def assignment_value(self) -> None:
        """Step over a value of SET that may be a list of words."""
        self.expression(COMPARE)
        while self.accept(","):
            self.expression(COMPARE)
