"""Writes a row trigger for a target: as one trigger, or one for each kind of change."""

from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Block, CreateTrigger, Unread, Variable

from .cursors import Cursors
from .declarations import declare, handle
from .firing import firing_table
from .key_triggers import write_default
from .plsql import PlsqlSpeech
from .psm import MariadbSpeech, PsmSpeech
from .rows import add_rows
from .speech import Speech, Unit, several
from .statement_triggers import write_statement_trigger
from .triggers import RowTrigger, check_body, check_returns, events_of, row_trigger, trigger_name
from .tsql_triggers import TsqlTriggerSpeech, inserts_alone, written_inserts
from .variables import declared_names
from .walk import Walk

_SPEECHES: Final[dict[str, type[Speech]]] = {
    "mysql": PsmSpeech, "mariadb": MariadbSpeech, "sqlserver": TsqlTriggerSpeech, "oracle": PlsqlSpeech,
}  # fmt: skip
_TSQL: Final = ("sqlserver", "ase")
_ASKS: Final = "convert.trigger-function"


def write_trigger(item: Object, tree: CreateTrigger, head: Rewriter) -> str:
    """Return the statements that create a row trigger on the target. Raises CannotDraft for what is not simple.

    `head` is the rewriter of the trigger's own text.
    """
    speech_kind = _SPEECHES.get(head.target.engine)
    if speech_kind is None:
        raise CannotDraft("a trigger of a kind that is not drafted")
    numbered = write_default(item, tree, head)
    if numbered:
        return numbered
    if head.catalog.engine in _TSQL or tree.level == "statement":
        return write_statement_trigger(item, tree, head, speech_kind(head.names))
    trigger = row_trigger(tree, head)
    body = _another(trigger, head) if trigger.is_called else head
    if trigger.is_called and (body.unconverted or body.subject.all(Unread)):
        raise CannotDraft("a trigger whose function needs a person")
    check_body(trigger, body)
    written = []
    for number, events in enumerate(events_of(trigger, speech_kind(head.names), body)):
        if number:  # the points of one kind of change are not those of another
            body = _another(trigger, head)
        check_returns(trigger, events, body)
        written.append(_Writer(trigger, events, item, head, body, speech_kind(head.names)).text())
        head.rendered += [(construct, tree.first) for construct, _ in body.rendered if body is not head]
        head.rendered += [(_ASKS, tree.first)] if trigger.is_called and body.asks else []
    return several(written, head.target.engine)


def _another(trigger: RowTrigger, head: Rewriter) -> Rewriter:
    assert head.another is not None
    return head.another(trigger.body)


class _Writer:
    """Writes one trigger of the target."""

    def __init__(
        self, trigger: RowTrigger, events: list[str], item: Object, head: Rewriter, body: Rewriter, speech: Speech
    ) -> None:
        self.trigger, self.events, self.head, self.body, self.speech = trigger, events, head, body, speech
        self.table = firing_table(trigger.table, head)
        columns = [head.names.write(each) for each in trigger.tree.update_columns] if "update" in events else []
        self.unit = Unit(
            "trigger", trigger_name(item, events, trigger.tree, head), [], "", rows=trigger.rows, table=self.table,
            fires=speech.fires(trigger.tree.timing, events, columns, self.table.name),
        )  # fmt: skip
        if columns and not speech.fires_for_columns:
            self.unit.guard = " OR ".join(speech.updates(each) for each in columns)
            self.unit.notes += [speech.guard_note] if speech.guard_note else []

    def text(self) -> str:
        trigger, body, head, unit, speech = self.trigger, self.body, self.head, self.unit, self.speech
        variables = declared_names(body.subject.all(Variable), speech, body)
        cursors = Cursors(body, speech, unit)
        walk = Walk(body, speech, unit, variables, cursors)
        as_set = isinstance(speech, TsqlTriggerSpeech) and inserts_alone(trigger.statements, body)
        if isinstance(speech, TsqlTriggerSpeech):
            speech.begin(self.table, self.events, as_set=as_set)
        add_rows(trigger.tree, self.events, trigger.rows, speech, body)
        walk.prepare()
        if isinstance(trigger.block, Block):
            declare(trigger.block, unit, walk)
            handle(trigger.block, unit, walk)
        condition = self._condition(walk)
        if as_set and isinstance(speech, TsqlTriggerSpeech):
            lines = written_inserts(trigger.statements, [condition] if condition else [], walk, speech)
        else:
            lines = walk.body(trigger.statements)
            lines = speech.branch([(condition, lines)], []) if condition else lines
        skipped = [*body.skipped, *head.skipped]
        if skipped:
            raise CannotDraft(skipped[0].reason)
        text = speech.unit(unit, lines)
        head.rendered += [(note, trigger.tree.first) for note in unit.notes]
        return text

    def _condition(self, walk: Walk) -> str:
        """Return the condition of the trigger's head; '' where it has none."""
        condition = self.trigger.tree.condition
        if condition is None:
            return ""
        if self.trigger.is_called:
            assert self.head.another is not None
            head = self.head.another(self.head.subject.read)
            add_rows(self.trigger.tree, self.events, self.trigger.rows, self.speech, head)
            head.edits()
            walk = Walk(head, self.speech, self.unit, {}, Cursors(head, self.speech, self.unit))
        return walk.condition(condition)
