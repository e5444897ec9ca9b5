"""Control of flow of the T-SQL family: variables, branches, loops, errors, cursors, calls, and whole batches."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.lexer import END, NUMBER, QUOTED, STRING, WORD
from hullsound.sql.parser.core import Unreadable
from hullsound.sql.parser.tsql_variables import TsqlVariableParser
from hullsound.sql.tree import (
    Block,
    If,
    Jump,
    Label,
    Loop,
    Node,
    Raise,
    Return,
    Statement,
    TryCatch,
)

_BLOCK_STOPS: Final = frozenset(("END",))
_TRANSACTION: Final = frozenset(("TRAN", "TRANSACTION", "WORK"))


class TsqlFlowParser(TsqlVariableParser):
    """Reads every statement of the T-SQL family."""

    blocks = 0
    """How many blocks are open, of which END closes the innermost wherever it stands."""
    branches = 0
    """How many IFs are open that ELSE may go on."""

    def ends_definition(self) -> bool:
        word = self.words[self.pos]
        if (
            word == "END"
            and self.blocks
            and self.words[self.pos + 1] != "CONVERSATION"
            and self.kinds[self.pos] == WORD
        ):
            return True
        return (word == "ELSE" and self.branches > 0 and self.kinds[self.pos] == WORD) or super().ends_definition()

    def _block_body(self) -> list[Node]:
        self.blocks += 1
        try:
            return self.statements(_BLOCK_STOPS)
        finally:
            self.blocks -= 1

    def statements(self, stops: frozenset[str]) -> list[Node]:
        """Read statements up to one of `stops` or the end; what cannot be read stays an Unread among them."""
        items: list[Node] = []
        words = self.words
        while True:
            while words[self.pos] == ";":
                self.pos += 1
            first = self.pos
            ends_talk = words[first] == "END" and words[first + 1] == "CONVERSATION"
            if (words[first] in stops and not ends_talk) or self.kinds[first] == END:
                return items
            items.append(self.one_statement())

    def one_statement(self) -> Node:
        """Read one statement; one that cannot be read becomes an Unread up to the next that begins a line."""
        first, depth = self.pos, self.depth
        try:
            node = self._flow_statement()
            if self.pos == first:
                self.fail("a statement")
            return node
        except Unreadable as error:
            self.depth = depth
            return self._recover(first, error)

    def _recover(self, first: int, error: Unreadable) -> Node:
        """Step to the next word that opens a statement at the start of a line, over whole nested blocks."""
        words = self.words
        self.pos = max(first + 1, min(error.at, first + 1))
        depth = 1 if words[first] == "BEGIN" and words[first + 1] not in (*_TRANSACTION, "DIALOG") else 0
        while self.kinds[self.pos] != END:
            word = words[self.pos]
            if depth <= 0 and (self.ends_definition() or word == "END"):
                break
            if word in ("BEGIN", "CASE") and words[self.pos + 1] not in (*_TRANSACTION, "DIALOG", "CONVERSATION"):
                depth += 1
            elif word == "END" and words[self.pos + 1] != "CONVERSATION":
                depth -= 1
            self.pos += 1
        self.depth = 0 if depth < 0 else self.depth
        return self.unread(first, self.pos, error.reason)

    def _flow_statement(self) -> Node:
        word = self.words[self.pos]
        following = self.words[self.pos + 1]
        reader = _FLOW.get(word)
        if reader is not None:
            return reader(self)
        if self.kinds[self.pos] == WORD and following == ":" and word not in self.reserved:
            node = Label(self.pos, self.pos + 2, word)
            self.pos += 2
            self.nodes.append(node)
            return node
        statement = self.statement()
        if statement is not None:
            return statement
        for words in _NAMED:
            if self.at(*words):
                return self.named_statement(*words)
        if self.kinds[self.pos] in (WORD, QUOTED) and word not in self.reserved:
            return self._call_without_exec()
        self.fail("a statement")

    def _call_without_exec(self) -> Node:
        """Read a procedure call without EXEC, which only the first statement of a batch may be."""
        if self.pos > 0 and self.kinds[self.pos - 1] != END and self.words[self.pos - 1] != ";":
            self.fail("a statement")
        return self._call_body(self.pos)

    def _begin(self) -> Node:
        first = self.pos
        following = self.words[first + 1]
        if following in ("TRAN", "TRANSACTION", "DISTRIBUTED"):
            return self._transaction()
        if following == "TRY":
            return self._try()
        if following in ("DIALOG", "CONVERSATION"):
            return self.named_statement("BEGIN", following)
        self.deepen()
        self.pos += 1
        body = self._block_body()
        end_at = self.expect("END")
        node = Block(first, self.pos, [], body, [], first, -1, end_at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _try(self) -> Node:
        first = self.pos
        self.deepen()
        self.pos += 2
        body = self._block_body()
        self.expect("END", "TRY")
        self.accept(";")
        self.expect("BEGIN", "CATCH")
        handler = self._block_body()
        self.expect("END", "CATCH")
        node = TryCatch(first, self.pos, body, handler)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _if(self) -> Node:
        first = self.expect("IF")
        self.deepen()
        condition = self.expression()
        self.branches += 1
        try:
            branch = [self.one_statement()]
        finally:
            self.branches -= 1
        otherwise: list[Node] = []
        start = self.pos
        while self.accept(";"):
            pass
        if self.accept("ELSE"):
            otherwise = [self.one_statement()]
        else:
            self.pos = start
        node = If(first, self.pos, [(condition, branch)], otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _while(self) -> Node:
        first = self.expect("WHILE")
        self.deepen()
        condition = self.expression()
        node = Loop(first, first, "while", "", False, [condition], [self.one_statement()], self.pos)
        node.last = self.pos
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _print(self) -> Node:
        first = self.pos
        self.pos += 1
        value = self.expression()
        while self.accept(","):
            self.expression()
        return self._plain(first, "print", value)

    def _raiserror(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.accept("("):
            self.expressions()
            self.expect(")")
            if self.accept("WITH"):
                while self.accept_any(("LOG", "NOWAIT", "SETERROR", ",")):
                    pass
        else:  # the old form: number, text, arguments
            self.clause("raiserror-old", first)
            self.expression()
            if self.words[self.pos] == "," or self.is_string() or self.words[self.pos][:1] == "@":
                self.accept(",")
                self.expressions()
            if self.accept("WITH"):
                self.skip_rest()
        node = Raise(first, self.pos, ())
        self.nodes.append(node)
        return node

    def _throw(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.kinds[self.pos] in (NUMBER, STRING) or self.words[self.pos][:1] in ("@", "("):
            self.expressions()
        node = Raise(first, self.pos, ())
        self.nodes.append(node)
        return node

    def _return(self) -> Node:
        first = self.pos
        self.pos += 1
        value = None
        if not self._ends_here() or self.at("("):
            value = self.expression()
        node = Return(first, self.pos, value)
        self.nodes.append(node)
        return node

    def _ends_here(self) -> bool:
        word = self.words[self.pos]
        return self.ends_definition() or (word in self.reserved and word not in ("CASE", "NOT", "NULL", "EXISTS", "LEFT",
                                                                                 "RIGHT", "COALESCE"))  # fmt: skip

    def _jump(self) -> Node:
        first = self.pos
        form = self.words[first].lower()
        self.pos += 1
        label = self.identifier() if form == "goto" else ""
        node = Jump(first, self.pos, form, label, None)
        self.nodes.append(node)
        return node

    def _waitfor(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
            if self.accept(","):
                self.expect("TIMEOUT")
                self.expression()
        elif self.accept_any(("DELAY", "TIME")):
            self.expression()
        else:
            self.any_word()
        self.clause("waitfor", first)
        return self._plain(first, "waitfor")

    def _transaction(self) -> Node:
        first = self.pos
        words = self.words[first].lower()
        self.pos += 1
        self.accept("DISTRIBUTED")
        self.accept_any(_TRANSACTION) or (words == "rollback" and self.accept("TRIGGER"))
        if words == "save" and self.words[self.pos - 1] not in _TRANSACTION:
            self.fail("TRANSACTION")
        if (
            self.kinds[self.pos] in (WORD, QUOTED)
            and not self._ends_here()
            and self.words[self.pos + 1] not in (":", ".")
        ):
            self.pos += 1
        if self.accept("WITH"):
            if self.at("RAISERROR"):
                self._raiserror()
            elif self.accept("MARK"):
                self.pos += 1 if self.is_string() else 0
            else:
                self.skip_parenthesized()
        return self._plain(first, words if words != "begin" else "begin transaction")

    def _truncate(self) -> Node:
        first = self.pos
        self.expect("TRUNCATE", "TABLE")
        name = self.qualified_name()
        if self.accept("WITH"):
            self.skip_parenthesized()
        elif self.accept("PARTITION"):
            self.any_word()
        return self.other_statement(first, "truncate table", name)

    def _use(self) -> Node:
        first = self.pos
        self.pos += 1
        return self.other_statement(first, "use", (self.any_word(),))

    def _named(self) -> Statement:
        """Read a statement known by its first word or words."""
        for words in _NAMED:
            if self.at(*words):
                return self.named_statement(*words)
        return self.named_statement(self.words[self.pos])


_NAMED: Final = (
    ("BULK", "INSERT"), ("ADD", "SIGNATURE"), ("END", "CONVERSATION"), ("GET", "CONVERSATION"), ("MOVE", "CONVERSATION"),
    ("SEND", "ON"), ("ENABLE", "TRIGGER"), ("DISABLE", "TRIGGER"), ("DUMP", "TRANSACTION"), ("DUMP", "DATABASE"),
    ("LOAD", "DATABASE"), ("LOAD", "TRANSACTION"), ("DUMP", "TRAN"), ("PREPARE", "TRANSACTION"), ("BEGIN", "CONVERSATION"),
)  # fmt: skip
_FLOW: Final[dict[str, Callable[[TsqlFlowParser], Node]]] = {
    "BEGIN": TsqlFlowParser._begin,
    "IF": TsqlFlowParser._if,
    "WHILE": TsqlFlowParser._while,
    "DECLARE": TsqlFlowParser._declare,
    "SET": TsqlFlowParser._set,
    "PRINT": TsqlFlowParser._print,
    "RAISERROR": TsqlFlowParser._raiserror,
    "THROW": TsqlFlowParser._throw,
    "RETURN": TsqlFlowParser._return,
    "GOTO": TsqlFlowParser._jump,
    "BREAK": TsqlFlowParser._jump,
    "CONTINUE": TsqlFlowParser._jump,
    "WAITFOR": TsqlFlowParser._waitfor,
    "EXEC": TsqlFlowParser.execute,
    "EXECUTE": TsqlFlowParser.execute,
    "OPEN": TsqlFlowParser._open,
    "FETCH": TsqlFlowParser._fetch_cursor,
    "CLOSE": TsqlFlowParser._close,
    "DEALLOCATE": TsqlFlowParser._close,
    "COMMIT": TsqlFlowParser._transaction,
    "ROLLBACK": TsqlFlowParser._transaction,
    "SAVE": TsqlFlowParser._transaction,
    "TRUNCATE": TsqlFlowParser._truncate,
    "USE": TsqlFlowParser._use,
    "UPDATE": TsqlFlowParser._update_statistics,
    "RECEIVE": TsqlFlowParser._receive,
    **dict.fromkeys(
        ("DBCC", "BACKUP", "RESTORE", "BULK", "KILL", "RECONFIGURE", "CHECKPOINT", "REVERT", "READTEXT", "WRITETEXT", "UPDATETEXT",
         "SETUSER", "SHUTDOWN"),
        TsqlFlowParser._named,
    ),
}  # fmt: skip
