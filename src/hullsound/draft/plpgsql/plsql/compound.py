"""Compound triggers: one trigger for each moment, whose shared variables lie in settings of the transaction between them."""

from functools import partial
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.shared import dollar_quote
from hullsound.sql.tree import (
    CompoundBody,
    CompoundSection,
    CreateTrigger,
    Name,
    Return,
    TypeDeclaration,
    Variable,
)

from .state import plain_setting
from .statements import hoisted_declarations
from .types import element_text, record_definition

_START: Final = ("before", "statement")


def add_compound_trigger(tree: CreateTrigger, body: CompoundBody, item: Object, rewriter: Rewriter) -> None:
    """Add the point that turns a compound trigger into functions and triggers. Raises CannotDraft."""
    for declared in body.declarations:
        if not isinstance(declared, Variable | TypeDeclaration):
            raise CannotDraft("a routine, cursor or exception that the parts of a compound trigger share")
    if rewriter.subject.all(Return):
        raise CannotDraft("RETURN in a compound trigger")
    last = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    compound = _Compound(tree, body, item, rewriter)
    compound.add()
    rewriter.add(Point(tree.first, last, compound.text, "oracle.compound-trigger"))


class _Compound:
    def __init__(self, tree: CreateTrigger, body: CompoundBody, item: Object, rewriter: Rewriter) -> None:
        self.tree, self.body, self.item, self.rewriter = tree, body, item, rewriter
        self.shared = [each for each in body.declarations if isinstance(each, Variable)]

    def add(self) -> None:
        """Add what ends each part: its variables are put away, and it gives its result."""
        for section in self.body.sections:
            block, end = section.block, partial(self._end, section)
            if block.exception_at >= 0:
                self.rewriter.add(Point(block.exception_at, block.exception_at, end))
            for handler in block.handlers[:-1]:
                self.rewriter.add(Point(handler.last, handler.last, end))

    def text(self, rewriter: Rewriter) -> str:
        """Write types, functions and triggers."""
        pieces = [record_definition(d, rewriter) for d in self.body.declarations
                  if isinstance(d, TypeDeclaration) and d.form == "record"]  # fmt: skip
        moments = {(section.timing, section.level) for section in self.body.sections}
        if self.shared and _START not in moments:
            lines = "".join(f"  {self._declaration(v, is_first=True)}\n" for v in self.shared)
            pieces.append(
                self._trigger(*_START, f"DECLARE\n{lines}BEGIN\n{self._save(self.shared)}  RETURN NULL;\nEND")
            )
        pieces += [self._section(section) for section in self.body.sections]
        return "\n\n".join(pieces)

    def _section(self, section: CompoundSection) -> str:
        rewriter, block = self.rewriter, section.block
        is_first = (section.timing, section.level) == _START
        lines = list(hoisted_declarations(rewriter, block))
        lines += [self._declaration(v, is_first=is_first) for v in (self.shared if is_first else self._used(section))]
        own = rewriter.text(block.declarations[0].first, block.begin_at).rstrip() if block.declarations else ""
        head = "".join(f"  {line}\n" for line in lines) + (f"  {own}\n" if own else "")
        text = rewriter.text(block.begin_at, block.end_at).rstrip()
        declare = f"DECLARE\n{head}" if head else ""
        return self._trigger(section.timing, section.level, f"{declare}{text}\n{self._end(section, rewriter)}END")

    def _used(self, section: CompoundSection) -> list[Variable]:
        """Return the shared variables that a part names."""
        words = {w for w in self.rewriter.words[section.first : section.last] if w}
        names = {n.parts[0] for n in self.rewriter.subject.all(Name) if section.first <= n.first < section.last}
        return [v for v in self.shared if v.name in names or v.name in words]

    def _end(self, section: CompoundSection, rewriter: Rewriter) -> str:
        is_first = (section.timing, section.level) == _START
        saved = self._save(self.shared if is_first else self._used(section))
        if section.level == "row" and section.timing != "after":
            deletes = "IF TG_OP = 'DELETE' THEN RETURN OLD; END IF; " if "delete" in self.tree.events else ""
            return f"{saved}  {deletes}RETURN NEW;\n"
        return f"{saved}  RETURN NULL;\n"

    def _setting(self, variable: Variable) -> str:
        return literal(plain_setting("hull", f"{self.item.schema}_{self.item.name}_{variable.name}"))

    def _declaration(self, variable: Variable, *, is_first: bool) -> str:
        kind = element_text(variable.type, self.rewriter)
        head = f"{self.rewriter.names.write(variable.name)} {kind}"
        if is_first:
            value = self.rewriter.elsewhere(variable.default) if variable.default is not None else ""
            if not value and kind == "jsonb":
                value = "'{}'"
            return f"{head} := {value};" if value else f"{head};"
        kept = f"CASE left(s, 1) WHEN '=' THEN CAST(substr(s, 2) AS {kind}) END"
        return f"{head} := (SELECT {kept} FROM current_setting({self._setting(variable)}, true) AS s);"

    def _save(self, variables: list[Variable]) -> str:
        write = self.rewriter.names.write
        return "".join(
            f"  PERFORM set_config({self._setting(v)}, COALESCE('=' || {write(v.name)}::text, '-'), true);\n"
            for v in variables
        )

    def _trigger(self, timing: str, level: str, body: str) -> str:
        names, tree = self.rewriter.names, self.tree
        name = f"{self.item.name}_{timing.replace(' ', '_')}_{level}".upper()
        name = name if self.item.name == self.item.name.upper() else f"{self.item.name}_{timing}_{level}"
        function = names.qualified(self.item.schema, name)
        table = names.qualified(*(tree.table if len(tree.table) > 1 else (self.item.schema, tree.table[-1])))
        columns = f" OF {', '.join(map(names.write, tree.update_columns))}" if tree.update_columns else ""
        events = " OR ".join(event.upper() + (columns if event == "update" else "") for event in tree.events)
        condition = ""
        if tree.condition is not None and level == "row":
            condition = f"\nWHEN ({self.rewriter.elsewhere(tree.condition)})"
        quote = dollar_quote(self.rewriter.subject.read.text)
        text = (
            f"CREATE OR REPLACE FUNCTION {function}()\nRETURNS trigger\nLANGUAGE plpgsql\nAS {quote}\n{body};\n{quote};\n\n"
            f"CREATE TRIGGER {names.write(name)}\n{timing.upper()} {events} ON {table}\nFOR EACH {level.upper()}{condition}\n"
            f"EXECUTE FUNCTION {function}();"
        )
        return text + (f"\nALTER TABLE {table} DISABLE TRIGGER {names.write(name)};" if tree.disabled else "")
