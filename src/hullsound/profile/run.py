"""Asks a running source about its values, within a budget of time: small tables whole, large ones by a sample first."""

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import partial
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Measure, Object, shown
from hullsound.survey.catalogues.model import Rows
from hullsound.survey.live.session import ConnectionLostError, QueryRefusedError, Session

from .plan import Asked, Followed, TablePlan, plan_tables
from .speech import RealTable, bounded_count, real_names, sample

WHOLE_ROWS: Final = 500_000
"""Tables up to this size are read whole at once; larger ones when time is left."""
SAMPLE_ROWS: Final = 100_000
_AT_ONCE: Final = 120
"""Aggregates in one query."""
_SHARE: Final = 0.5
"""Of the time that is left, what one query may take."""
_LEAST_SECONDS: Final = 0.2

Progress = Callable[[str, int, int], None]


@dataclass
class Profile:
    """What was found, and what could not be looked at: (object, reason)."""

    measures: list[Measure] = field(default_factory=list)
    unfinished: list[tuple[str, str]] = field(default_factory=list)


class Profiler:
    """Puts the questions of each table to a session, never longer than the budget."""

    def __init__(self, session: Session, catalog: Catalog, seconds: float) -> None:
        self.session = session
        self.catalog = catalog
        self.end = time.monotonic() + seconds
        self.names = real_names(session)
        self.profile = Profile()

    def run(self, progress: Progress) -> None:
        """Ask all questions. Raises ConnectionLostError where the server goes away."""
        plans = sorted(filter(self._is_of_session, plan_tables(self.catalog)), key=self._estimate)
        if not any(plan.asked for plan in plans):
            self.profile.unfinished.append(("database", f"no question is known for {self.session.engine}"))
        sampled: list[tuple[TablePlan, RealTable, int]] = []
        for done, plan in enumerate(plans):
            progress(f"values of {plan.table.name.lower()}", done, len(plans))
            table = self._real(plan.table)
            if table is None:
                if plan.asked:
                    self._leave(plan.table, "its name is not clear")
                continue
            rows = self._guarded(plan.table, partial(self._size, plan, table))
            if rows is None:
                continue
            if rows <= WHOLE_ROWS:
                self._guarded(plan.table, partial(self._ask, plan, table, table.text, None))
                self._follow(plan, table)
            elif self._guarded(plan.table, partial(self._sample, plan, table, rows)):
                sampled.append((plan, table, rows))
        for done, (plan, table, _) in enumerate(sampled):
            progress(f"all values of {plan.table.name.lower()}", done, len(sampled))
            before = list(self.profile.unfinished)
            share = 1.0 if done + 1 == len(sampled) else _SHARE
            found = self._guarded(plan.table, partial(self._ask, plan, table, table.text, None), share)
            if found is None:
                self.profile.unfinished = before  # the sample stands
            else:
                self._replace(plan.table.id)
            self._follow(plan, table)

    def _is_of_session(self, plan: TablePlan) -> bool:
        """Whether a table is in the database of the session; the source may be several databases of one server."""
        is_one = self.session.engine in ("mysql", "mariadb")
        return not is_one or plan.table.schema.lower() in ("", self.session.name.lower())

    def _estimate(self, plan: TablePlan) -> int:
        return int(plan.table.details.get("rows", 0))

    def _real(self, table: Object) -> RealTable | None:
        schema = "" if self.session.engine == "sqlite" else table.schema.lower()
        return self.names.get((schema, table.name.lower()))

    def _left(self) -> float:
        return self.end - time.monotonic()

    def _guarded(self, table: Object, step: Callable[[], int], share: float = _SHARE) -> int | None:
        """Take a step within a share of the time that is left; note what stands in the way."""
        if self._left() < _LEAST_SECONDS:
            self._leave(table, "the time was over")
            return None
        self.session.limit(max(self._left() * share, _LEAST_SECONDS))
        try:
            return step()
        except QueryRefusedError as error:
            self._leave(table, "the time was over" if error.is_late else error.said)
            return None

    def _leave(self, table: Object, reason: str) -> None:
        if (table.id, reason) not in self.profile.unfinished:
            self.profile.unfinished.append((table.id, reason))

    def _size(self, plan: TablePlan, table: RealTable) -> int:
        told = self._estimate(plan)
        if told > WHOLE_ROWS:
            return told
        counted = bounded_count(self.session, table, WHOLE_ROWS + 1)
        if counted is None or counted <= WHOLE_ROWS:
            return told if counted is None else counted
        # Only a table that nobody has counted gets here: its statistics are missing or old.
        return int(self.session.ask(f"SELECT COUNT(*) FROM {table.text}")[0][0])

    def _sample(self, plan: TablePlan, table: RealTable, rows: int) -> int:
        source = sample(self.session, table, table.column(plan.key) if plan.key else "", rows, SAMPLE_ROWS)
        self._ask(plan, table, source, rows)
        return rows

    def _ask(self, plan: TablePlan, table: RealTable, source: str, total: int | None) -> int:
        """Ask what is asked of a table in as few queries as it takes; `total` is None where all rows are read."""
        known = [(asked, table.column(asked.column)) for asked in plan.asked]
        known = [(asked, name) for asked, name in known if name]
        found: list[Measure] = []
        for start in range(0, len(known), _AT_ONCE):
            group = known[start : start + _AT_ONCE]
            try:
                found += self._answers(plan.table, group, source, total)
            except QueryRefusedError as error:
                if error.is_late or len(group) == 1:
                    raise
                found += self._one_by_one(plan.table, group, source, total)
        self.profile.measures += found
        return len(found)

    def _answers(self, table: Object, group: list[tuple[Asked, str]], source: str, total: int | None) -> list[Measure]:
        values = ", ".join(asked.row.sql(self.session.engine).replace("{c}", name) for asked, name in group)
        rows = self.session.ask(f"SELECT COUNT(*), {values} FROM {source}")
        return list(self._measures(table, [asked for asked, _ in group], rows, total))

    def _one_by_one(
        self, table: Object, group: list[tuple[Asked, str]], source: str, total: int | None
    ) -> list[Measure]:
        """Ask each question by itself, so that one that the server does not take leaves the others."""
        found: list[Measure] = []
        for each in group:
            try:
                found += self._answers(table, [each], source, total)
            except QueryRefusedError as error:
                if error.is_late:
                    raise
                self._leave(table, f"{each[0].question} of {shown(each[0].column)}: {error.said}")
        return found

    def _measures(self, table: Object, asked: list[Asked], rows: Rows, total: int | None) -> Iterator[Measure]:
        seen, *answers = rows[0]
        for each, answer in zip(asked, answers, strict=True):
            number = min(int(answer or 0), 2**63 - 1)
            count, value = (number, 0) if each.row.is_count else (0, number)
            yield Measure(
                table.id, each.column, each.question, count, value, seen, seen if total is None else max(total, seen)
            )

    def _replace(self, table: str) -> None:
        """Keep only the newer of two answers to one question."""
        newest = {(m.object, m.column, m.question): m for m in self.profile.measures}
        self.profile.measures = [m for m in self.profile.measures if newest[m.object, m.column, m.question] is m]

    def _follow(self, plan: TablePlan, table: RealTable) -> None:
        for followed in plan.followed:
            self._guarded(plan.table, partial(self._orphans, plan, table, followed))

    def _orphans(self, plan: TablePlan, table: RealTable, followed: Followed) -> int:
        target = self._real(followed.target)
        mine = [table.column(name) for name in followed.columns]
        theirs = [target.column(name) for name in followed.target_columns] if target is not None else []
        if target is None or not all([*mine, *theirs]):
            return 0
        is_set = " AND ".join(f"c.{name} IS NOT NULL" for name in mine)
        is_met = " AND ".join(f"p.{other} = c.{name}" for name, other in zip(mine, theirs, strict=True))
        rows = self.session.ask(
            f"SELECT COUNT(*), SUM(CASE WHEN {is_set} AND NOT EXISTS (SELECT 1 FROM {target.text} p WHERE {is_met}) "
            f"THEN 1 ELSE 0 END) FROM {table.text} c"
            if self.session.engine != "sqlserver"  # which takes no query inside an aggregate
            else f"SELECT (SELECT COUNT(*) FROM {table.text}), (SELECT COUNT(*) FROM {table.text} c WHERE {is_set} "
            f"AND NOT EXISTS (SELECT 1 FROM {target.text} p WHERE {is_met}))"
        )
        seen, count = rows[0]
        name = f"{', '.join(map(shown, followed.columns))} to {shown(followed.target.name)}"
        self.profile.measures.append(Measure(plan.table.id, name, "orphans", int(count or 0), 0, seen, seen))
        return 1


def take_profile(session: Session, catalog: Catalog, seconds: float, progress: Progress) -> Profile:
    """Profile the tables of a catalogue by the session that it was read with; what cannot be had is told as unfinished."""
    try:
        profiler = Profiler(session, catalog, seconds)
    except (QueryRefusedError, ConnectionLostError) as error:
        return Profile(unfinished=[("database", str(error).split("\n")[0])])
    try:
        profiler.run(progress)
    except ConnectionLostError as error:  # what the catalogue said, and what was answered before, is worth keeping
        profiler.profile.unfinished.append(("database", error.what))
    return profiler.profile
