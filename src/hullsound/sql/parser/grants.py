"""GRANT, REVOKE and DENY in the forms of all engines but Oracle's own."""

from hullsound.sql.lexer import QUOTED, STRING, WORD
from hullsound.sql.parser.privileges import read_privileges
from hullsound.sql.parser.triggers import TriggerHeadParser
from hullsound.sql.tree import Grant, Parts


class GrantParser(TriggerHeadParser):
    """Reads privileges, what they are on, and who has them."""

    def grant(self) -> Grant:
        first = self.pos
        revoke = self.words[first] in ("REVOKE", "DENY")
        self.pos += 1
        self.accept("GRANT", "OPTION", "FOR") or self.accept("ADMIN", "OPTION", "FOR")
        privileges = read_privileges(self)
        target: Parts = self._grant_target() if self.accept("ON") else ()
        if not self.accept_any(("TO", "FROM")):
            self.fail("TO")
        grantees = [self._grantee()]
        while self.accept(","):
            grantees.append(self._grantee())
        if self.words[first] == "DENY":
            self.clause("deny", first)
        if not self.ends_definition():
            self.skip_rest()
        node = Grant(first, self.pos, privileges, target, grantees, revoke)
        self.nodes.append(node)
        return node

    def _grant_target(self) -> Parts:
        """Read what privileges are granted on; () for whole schemas, databases and servers."""
        words = self.words
        is_object = True
        first = self.pos
        while self.kinds[self.pos] == WORD and (
            words[self.pos + 1] in ("::", "IN") or self.kinds[self.pos + 1] in (WORD, QUOTED)
        ) and words[self.pos + 1] not in ("TO", "FROM", "AS"):  # fmt: skip
            is_object = is_object and words[self.pos] in (
                "TABLE",
                "OBJECT",
                "SEQUENCE",
                "FUNCTION",
                "PROCEDURE",
                "TYPE",
                "VIEW",
            )
            self.pos += 1
            self.accept("::")
        name: list[str] = []
        while words[self.pos] not in ("TO", "FROM", ""):
            if words[self.pos] == "(":
                self.skip_parenthesized()
            elif self.accept(",") or words[self.pos] == "*":
                is_object = is_object and words[self.pos - 1] == ","
                self.pos += 1 if words[self.pos] == "*" else 0
            elif self.accept("."):
                continue
            elif self.kinds[self.pos] in (WORD, QUOTED):
                name.append(self.any_word())
            else:
                self.pos += 1
        if self.pos == first:
            self.fail("an object")
        return tuple(name[:3]) if is_object else ()

    def _grantee(self) -> str:
        first = self.pos
        while self.words[self.pos] in ("USER", "ROLE", "GROUP") and self.kinds[self.pos + 1] in (WORD, QUOTED, STRING):
            self.pos += 1
        start = self.pos
        self._account()
        if self.accept("IDENTIFIED"):
            while (
                self.words[self.pos] in ("BY", "WITH", "VIA", "AS", "USING", "PASSWORD")
                or self.kinds[self.pos] == STRING
            ):
                self.pos += 1
        return self.tokens.source(start if start >= first else first, self.pos)

    def _account(self) -> None:
        """Read a user as name@host, CURRENT_USER or CURRENT_USER()."""
        self._step()
        if self.accept("(", ")"):
            return
        if self.words[self.pos][:1] == "@":
            is_bare = self.words[self.pos] == "@"
            self.pos += 1
            if is_bare and (self.kinds[self.pos] in (STRING, WORD, QUOTED)):
                self.pos += 1
            while self.accept("."):
                self.pos += 1
