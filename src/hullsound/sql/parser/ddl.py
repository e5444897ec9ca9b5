"""CREATE, ALTER, DROP, GRANT and COMMENT for objects that hold no procedural code."""

from typing import Final

from hullsound.sql.lexer import END, WORD
from hullsound.sql.parser.oracle_objects import OracleObjectParser
from hullsound.sql.parser.privileges import read_privileges
from hullsound.sql.parser.schema_changes import read_schema_changes
from hullsound.sql.tree import (
    CommentOn,
    CreateSequence,
    CreateSynonym,
    CreateView,
    Grant,
    OtherStatement,
    Statement,
)

_CODE_KINDS: Final = frozenset(("PROCEDURE", "FUNCTION", "PACKAGE", "TRIGGER"))
_TWO_WORD_KINDS: Final = frozenset(
    ("DATABASE LINK", "MATERIALIZED VIEW", "MATERIALIZED ZONEMAP", "ROLLBACK SEGMENT", "TEMPORARY TABLESPACE",
     "UNDO TABLESPACE", "BIGFILE TABLESPACE", "SMALLFILE TABLESPACE", "AUDIT POLICY", "FLASHBACK ARCHIVE",
     "RESTORE POINT", "JAVA SOURCE", "JAVA CLASS", "JAVA RESOURCE", "ATTRIBUTE DIMENSION", "ANALYTIC VIEW",
     "INMEMORY JOIN", "PLUGGABLE DATABASE", "LOCKDOWN PROFILE", "PROPERTY GRAPH", "SNAPSHOT LOG", "TYPE BODY",
     "PACKAGE BODY", "PUBLIC SYNONYM", "RESOURCE COST", "DISK GROUP")
)  # fmt: skip
_CREATE_MODIFIERS: Final = frozenset(
    ("FORCE", "NO", "EDITIONABLE", "NONEDITIONABLE", "EDITIONING", "UNIQUE", "BITMAP", "MULTIVALUE", "GLOBAL", "PRIVATE",
     "TEMPORARY", "PUBLIC", "SHARED", "DUPLICATED", "SHARDED", "IMMUTABLE", "BLOCKCHAIN", "REPLACE", "COMPILE",
     "RESOLVE", "NOFORCE", "AND")
)  # fmt: skip


class DdlParser(OracleObjectParser):
    """Reads data definition; statements with code are left to the parser built on this one."""

    def create(self) -> Statement:
        first = self.expect("CREATE")
        modifiers: set[str] = set()
        if self.accept("OR", "REPLACE"):
            modifiers.add("REPLACE")
        if self.accept("IF", "NOT", "EXISTS"):
            modifiers.add("IF NOT EXISTS")
        while self.words[self.pos] in _CREATE_MODIFIERS:
            modifiers.add(self.words[self.pos])
            self.pos += 1
        word = self.words[self.pos]
        following = self.words[self.pos + 1]
        if word in _CODE_KINDS or (word == "TYPE" and following == "BODY"):
            return self.create_code(first)
        if word == "TABLE":
            return self.create_table(first, modifiers)
        if word == "INDEX":
            return self.create_index(first, modifiers)
        if word == "VIEW":
            return self.create_view(first, modifiers)
        if word == "MATERIALIZED" and following == "VIEW":
            if self.words[self.pos + 2] == "LOG":
                return self.other_statement(first, "CREATE MATERIALIZED VIEW LOG")
            return self.create_materialized_view(first)
        if word == "SEQUENCE":
            return self.create_sequence(first)
        if word == "SYNONYM":
            return self.create_synonym(first, public="PUBLIC" in modifiers)
        if word == "TYPE":
            return self.create_type(first)
        kind = word
        if f"{word} {following}" in _TWO_WORD_KINDS:
            kind = f"{word} {following}"
            self.pos += 1
        if self.kinds[self.pos] != WORD:
            self.fail("a kind of object")
        self.pos += 1
        if modifiers & {"PUBLIC"}:
            kind = f"PUBLIC {kind}"
        return self._named_rest(first, f"CREATE {kind}")

    def create_code(self, first: int) -> Statement:
        raise NotImplementedError

    def create_view(self, first: int, modifiers: set[str]) -> CreateView:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        clauses: set[str] = set()
        if "FORCE" in modifiers and "NO" not in modifiers:
            clauses.add(self.clause("force-view", first))
        columns = self._view_columns()
        if self.accept("OF"):
            start = self.pos - 1
            self.qualified_name()
            self._skip_to("AS")
            clauses.add(self.clause("object-view", start))
        if self.accept("DEFAULT", "COLLATION"):
            self.any_word()
        if self.accept("BEQUEATH"):
            self.any_word()
        self.expect("AS")
        query = self.query()
        read_only = check = False
        while self.accept("WITH"):
            if self.accept("READ", "ONLY"):
                read_only = True
                clauses.add(self.clause("view-read-only", self.pos - 3))
            else:
                self.expect("CHECK", "OPTION")
                check = True
            if self.accept("CONSTRAINT"):
                self.identifier()
        node = CreateView(first, self.pos, name, columns, query, False, check, read_only, clauses)
        self.nodes.append(node)
        return node

    def _skip_to(self, word: str) -> None:
        while self.words[self.pos] != word:
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            elif self.kinds[self.pos] == END:
                self.fail(word)
            else:
                self.pos += 1

    def create_sequence(self, first: int) -> CreateSequence:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        options = self._sequence_options()
        node = CreateSequence(first, self.pos, name, options)
        self.nodes.append(node)
        return node

    def create_synonym(self, first: int, *, public: bool) -> CreateSynonym:
        self.pos += 1
        name = self.qualified_name()
        self.expect("FOR")
        target = self.qualified_name()
        link = self.database_link() if self.at("@") else ""
        node = CreateSynonym(first, self.pos, name, target, link, public)
        self.nodes.append(node)
        return node

    def alter(self) -> Statement:
        first = self.expect("ALTER")
        if self.at("TABLE"):
            return self.alter_table(first)
        kind = self.any_word()
        if f"{kind} {self.words[self.pos]}" in _TWO_WORD_KINDS:
            kind = f"{kind} {self.words[self.pos]}"
            self.pos += 1
        if kind in ("SESSION", "SYSTEM", "DATABASE"):
            return self.other_statement(first, f"ALTER {kind}")
        return self._named_rest(first, f"ALTER {kind}")

    def drop(self) -> Statement:
        first = self.expect("DROP")
        kind = self.any_word()
        if f"{kind} {self.words[self.pos]}" in _TWO_WORD_KINDS:
            kind = f"{kind} {self.words[self.pos]}"
            self.pos += 1
        return self._named_rest(first, f"DROP {kind}")

    def _named_rest(self, first: int, words: str) -> OtherStatement:
        self.accept("IF", "EXISTS")
        name = self.qualified_name() if self.is_name() else ()
        return self.other_statement(first, words, name)

    def other_statement(self, first: int, words: str, name: tuple[str, ...] = ()) -> OtherStatement:
        self._skip_rest()
        node = OtherStatement(first, self.pos, words.lower(), name, read_schema_changes(self, first, self.pos))
        self.nodes.append(node)
        return node

    def grant(self) -> Grant:
        first = self.pos
        revoke = self.words[first] == "REVOKE"
        self.pos += 1
        privileges = read_privileges(self)
        target: tuple[str, ...] = ()
        if self.accept("ON"):
            if self.at("DIRECTORY") and self.words[self.pos + 1] not in ("TO", "FROM", "."):
                self.pos += 1
            target = self.qualified_name()
        if not self.accept_any(("TO", "FROM")):
            self.fail("TO")
        grantees = [self.any_word()]
        while self.accept(","):
            grantees.append(self.any_word())
        if self.accept("IDENTIFIED", "BY"):
            self.pos += 1
        while self.words[self.pos] in (
            "WITH",
            "GRANT",
            "ADMIN",
            "HIERARCHY",
            "OPTION",
            "CASCADE",
            "CONSTRAINTS",
            "FORCE",
        ):
            self.pos += 1
        node = Grant(first, self.pos, privileges, target, grantees, revoke)
        self.nodes.append(node)
        return node

    def comment(self) -> CommentOn:
        first = self.expect("COMMENT", "ON")
        kind = self.any_word()
        if kind == "MATERIALIZED":
            self.expect("VIEW")
            kind = "MATERIALIZED VIEW"
        name = self.qualified_name()
        self.expect("IS")
        if not self.is_string():
            self.fail("a text")
        self.pos += 1
        text = self.tokens.source(self.pos - 1, self.pos)
        node = CommentOn(first, self.pos, kind.lower(), name, text)
        self.nodes.append(node)
        return node
