"""Writes the paired queries of all tables of a catalogue for a target."""

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Final, NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Measure, Object, ObjectType
from hullsound.draft.edits.names import names_of, stored_name
from hullsound.errors import UsageError
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.types import LogicalType, choose_column_type, logical_type, parse_type
from hullsound.plan.checks.dialects import CheckDialect
from hullsound.plan.checks.engines import check_dialect
from hullsound.plan.sizes import TableSize
from hullsound.plan.window import CHECK_READS
from hullsound.project import Project

from .forms import Form, form_of
from .model import SCHEMA_NAME, Check, CheckSet, Expected, Field, Level, Rule, Sample

_COLUMNS_AT_ONCE: Final = 60
"""Columns of one query: engines take some thousand expressions."""
_MOST_KINDS: Final = 4
"""Samples of rows that a profile found something in, by table."""
_LEAST_BUCKETS: Final = 1
_MB: Final = 1_000_000
_SUMMED: Final = frozenset(("integer", "decimal", "boolean"))
_AGGREGATES: Final = (("sum", "SUM"), ("least", "MIN"), ("greatest", "MAX"))
_FOLDS_UP: Final = frozenset(("oracle", "db2"))
_SEQUENCE_NAME: Final = 63
"""Bytes of the longest name of PostgreSQL: NAMEDATALEN - 1."""
_ASKED: Final = {
    "empty-text": "{c} = ''", "trailing-blank": "{c} LIKE '% '", "utf8-kept-as-latin1": "{c} LIKE '%\u00c3%'",
    "longest-text": "{length} = {value}", "high-water": "{c} = {value}",
}  # fmt: skip
"""Rows that a question of the profile found, as a condition that both engines read, by the name of the question."""


class _Side(NamedTuple):
    """One side: its dialect, and how it spells tables and columns."""

    dialect: CheckDialect
    table: Callable[[Object], str]
    column: Callable[[Object, str], str]


class _Pair(NamedTuple):
    """A column on both sides: written, with the logical type there, and the form in which values are compared."""

    name: str
    form: Form
    source: str
    source_kind: str
    target: str
    target_kind: str
    can_hash: bool


def make_checks(
    catalog: Catalog,
    target: Target,
    project: Project,
    sizes: Sequence[TableSize] = (),
    spelled: Mapping[str, tuple[str, Mapping[str, str]]] | None = None,
) -> CheckSet:
    """Write all checks. `spelled` tells, by id of the table, how the source itself spells the table and its columns, quoted.

    Raises UsageError where checks are not written for one of the engines.
    """
    maker = _Maker(catalog, target, project, spelled or {})
    tables = [
        item for item in catalog.objects.values() if item.type is ObjectType.TABLE and item.columns and _has_rows(item)
    ]
    checks: list[Check] = []
    samples: list[Sample] = []
    rows = {size.id: size.rows for size in sizes}
    for table in tables:
        checks += maker.of_table(table)
        samples += maker.samples(table, rows.get(table.id, 0.0))
    order = list(Level)
    checks.sort(key=lambda check: order.index(check.level))
    mb = sum(size.bytes for size in sizes) / _MB
    rate = project.settings.window.check_mb_s[1]
    return CheckSet(
        schema=SCHEMA_NAME,
        source=catalog.name,
        source_engine=catalog.engine,
        target=str(target),
        checks=checks,
        samples=samples,
        expected=maker.expected,
        left_out=maker.left_out,
        source_setup=maker.source.dialect.utc,
        target_setup=maker.target.dialect.utc,
        minutes={level.value: round(mb * CHECK_READS[level.value] / rate / 60, 2) for level in Level} if mb else {},
    )


def _has_rows(table: Object) -> bool:
    return not table.details.get("temporary") and "external-table" not in table.details.get("clauses", "")


class _Maker:
    def __init__(
        self, catalog: Catalog, target: Target, project: Project, spelled: Mapping[str, tuple[str, Mapping[str, str]]]
    ) -> None:
        self.catalog, self.chosen, self.project = catalog, target, project
        self.expected: list[Expected] = []
        self.left_out: list[Expected] = []
        one, other = check_dialect(catalog.engine), check_dialect(target.engine)
        if one is None or other is None:
            missing = catalog.engine if one is None else target.engine
            raise UsageError(
                f"checks are not written for {missing}", where="checks", hint="Compare by your own queries."
            )
        self.source = _Side(
            one,
            lambda table: _source_name(one, catalog.engine, table),
            lambda _, name: one.quote(_spelled(catalog.engine, name)),
        )
        if spelled:
            self.source = _Side(one, lambda t: spelled[t.id][0], lambda t, name: spelled[t.id][1][name])
        self.spelled = spelled
        self.empties_texts = "oracle" in (catalog.engine, target.engine) and catalog.engine != target.engine
        if self.empties_texts:
            self.expected.append(Expected("", "", "Oracle keeps an empty string as NULL: both count as the same"))
        names = names_of(target.engine)
        # PostgreSQL looks names without a schema up along the search path, which a session that only reads does not set.
        bare = "public" if target.engine == "postgresql" else ""
        self.target = _Side(
            other,
            lambda table: names.qualified(table.schema or bare, table.name),
            lambda _, name: names.write(name),
        )

    def of_table(self, table: Object) -> Iterator[Check]:
        if self.spelled and table.id not in self.spelled:
            self.left_out.append(Expected(table.id, "", "the source has no table of this name that can be read"))
            return
        pairs = self._pairs(table)
        yield self._quick(table, pairs)
        yield from self._sequences(table)
        for start in range(0, len(pairs), _COLUMNS_AT_ONCE):
            yield self._standard(table, pairs[start : start + _COLUMNS_AT_ONCE], start)
        full = self._full(table, pairs)
        if full is not None:
            yield full

    # --- columns ---

    def _pairs(self, table: Object) -> list[_Pair]:
        pairs = []
        for column in table.columns:
            pair = self._pair(table, column)
            if pair is None:
                continue
            pairs.append(pair)
            if pair.form.remark:
                goal = self.left_out if pair.form.name == "none" else self.expected
                goal.append(Expected(table.id, column.name.lower(), pair.form.remark))
        return pairs

    def _pair(self, table: Object, column: Column) -> _Pair | None:
        if self.spelled and column.name not in self.spelled[table.id][1]:
            self.left_out.append(Expected(table.id, column.name.lower(), "the source has no such column"))
            return None
        source = logical_type(self.catalog.engine, column.type)
        target = self._target_type(table, column)
        form = form_of(source, target, self.project.settings.checks.decimals)
        hashes = self.source.dialect.hashes_large_text and self.target.dialect.hashes_large_text
        is_large = any(each is not None and each.kind.startswith("large-") for each in (source, target))
        if is_large and not hashes and form.name in ("text", "binary", "fixed"):
            form = Form(
                "length" if form.name != "binary" else "none", remark="large objects: only their lengths are compared"
            )
        fraction = min(self.source.dialect.fraction, self.target.dialect.fraction)
        if form.name == "timestamp" and form.digits > fraction:
            form = Form("timestamp", fraction, f"fractions of seconds are compared to {fraction} digits")
        return _Pair(
            column.name,
            form,
            self.source.column(table, column.name),
            source.kind if source is not None else "",
            self.target.column(table, column.name),
            target.kind if target is not None else "",
            form.is_whole,
        )

    def _target_type(self, table: Object, column: Column) -> LogicalType | None:
        """Return the logical type that the drafted column has: what its text means on the target."""
        choice = choose_column_type(
            self.catalog.engine, self.chosen, self.project, table.schema, table.name, column.name, column.type
        )
        if choice is None or not choice.text:
            return None
        head = re.split(r"\s+(?:COLLATE|CHARACTER SET|UNSIGNED)\b", choice.text, maxsplit=1, flags=re.IGNORECASE)[0]
        found = logical_type(self.chosen.engine, parse_type(head.upper()))
        return found or choice.logical

    # --- levels ---

    def _quick(self, table: Object, pairs: Sequence[_Pair]) -> Check:
        one, other = self.source.dialect, self.target.dialect
        fields = [Field("rows")]
        source, target = [one.as_text("COUNT(*)")], [other.as_text("COUNT(*)")]
        key = self._single_key(table, pairs)
        if key is not None:
            fields.append(Field("highest key", key.name.lower()))
            source.append(one.as_text(f"MAX({key.source})"))
            target.append(other.as_text(f"MAX({key.target})"))
        return self._check(Level.QUICK, table, "rows", fields, source, target)

    def _single_key(self, table: Object, pairs: Sequence[_Pair]) -> _Pair | None:
        keys = self.catalog.keys_of(table)
        alone = next((key[0] for key in keys if len(key) == 1), None)
        return next((pair for pair in pairs if pair.name == alone and pair.form.name == "integer"), None)

    def _sequences(self, table: Object) -> Iterator[Check]:
        """Yield for each counting column a question to the target: is the next number beyond the highest?"""
        if self.chosen.engine not in ("postgresql", "mysql", "mariadb"):
            return
        names = names_of(self.chosen.engine)
        name = self.target.table(table)
        for column in table.columns:
            if not (column.identity or "SERIAL" in column.type.name.upper()):
                continue
            written = names.write(column.name)
            if self.chosen.engine == "postgresql":
                sequence = f"{names.folded(table.name)}_{names.folded(column.name)}_seq"
                if len(sequence.encode()) > _SEQUENCE_NAME:
                    self.left_out.append(
                        Expected(table.id, column.name.lower(), "the name of its sequence is not known")
                    )
                    continue
                place = (
                    f"{names.quote(names.folded(table.schema) if table.schema else 'public')}.{names.quote(sequence)}"
                )
                following = f"(SELECT (CASE WHEN is_called THEN last_value + 1 ELSE last_value END)::text FROM {place})"
            else:
                following = (
                    "(SELECT CAST(AUTO_INCREMENT AS CHAR) FROM information_schema.TABLES "
                    f"WHERE TABLE_SCHEMA = {names.text(names.folded(table.schema)) if table.schema else 'DATABASE()'} "
                    f"AND TABLE_NAME = {names.text(names.folded(table.name))})"
                )
            highest = self.target.dialect.as_text(f"COALESCE(MAX({written}), 0)")
            yield Check(
                f"quick.sequence.{table.id}.{column.name.lower()}",
                Level.QUICK,
                table.id,
                "",
                f"SELECT {following}, {highest} FROM {name}",
                [Field("next number", column.name.lower()), Field("highest key", column.name.lower())],
                Rule.BEYOND,
            )

    def _standard(self, table: Object, pairs: Sequence[_Pair], start: int) -> Check:
        fields: list[Field] = []
        source: list[str] = []
        target: list[str] = []
        for pair in pairs:
            for measure, one, other in self._measures(pair):
                fields.append(Field(measure, pair.name.lower()))
                source.append(one)
                target.append(other)
        part = f"columns-{start // _COLUMNS_AT_ONCE + 1}"
        return self._check(Level.STANDARD, table, part, fields, source, target)

    def _measures(self, pair: _Pair) -> Iterator[tuple[str, str, str]]:
        """Yield (measure, expression on the source, expression on the target)."""
        one, other, form = self.source.dialect, self.target.dialect, pair.form
        source, target = self._texts(pair)
        if form.name in ("none", "length"):
            source, target = pair.source, pair.target
        yield "not null", one.as_text(f"COUNT({source})"), other.as_text(f"COUNT({target})")
        if form.name == "none":
            return
        if form.name in _SUMMED:
            mine = one.number(form, pair.source, pair.source_kind)
            theirs = other.number(form, pair.target, pair.target_kind)
            for measure, function in _AGGREGATES:
                yield (
                    measure,
                    one.fixed(f"{function}({mine})", form.digits),
                    other.fixed(f"{function}({theirs})", form.digits),
                )
        elif form.name in ("date", "timestamp", "time", "uuid"):
            yield "least", f"MIN({source})", f"MIN({target})"
            yield "greatest", f"MAX({source})", f"MAX({target})"
            if form.name in ("date", "timestamp"):
                yield "sum", *self._distance(pair)
        else:
            lengths = one.length(source), other.length(target)
            yield "length", one.as_text(f"SUM({lengths[0]})"), other.as_text(f"SUM({lengths[1]})")
            yield "greatest length", one.as_text(f"MAX({lengths[0]})"), other.as_text(f"MAX({lengths[1]})")

    def _distance(self, pair: _Pair) -> tuple[str, str]:
        """Return the sums of the distances from 2000, in the finest unit that both engines reckon exactly."""
        one, other = self.source.dialect, self.target.dialect
        is_fine = pair.form.name == "timestamp" and pair.form.digits == 6 and one.has_seconds and other.has_seconds
        if is_fine:
            return (
                one.total(one.microseconds(pair.source), 0),
                other.total(other.microseconds(pair.target), 0),
            )
        return one.total(one.days(pair.source), 0), other.total(other.days(pair.target), 0)

    def _full(self, table: Object, pairs: Sequence[_Pair]) -> Check | None:
        rows = self._row_digests(pairs)
        if rows is None:
            self.left_out.append(Expected(table.id, "", "no column has a common text, so that rows have no digest"))
            return None
        one, other = self.source.dialect, self.target.dialect
        mine, theirs = (
            f"SELECT {dialect.as_text('COUNT(*)')}, {dialect.total('d', 0)} FROM (SELECT {digest} AS d FROM {name}) x"
            for dialect, digest, name in (
                (one, rows[0], self.source.table(table)),
                (other, rows[1], self.target.table(table)),
            )
        )
        return Check(f"full.{table.id}", Level.FULL, table.id, mine, theirs, [Field("rows"), Field("digest")])

    def _row_digests(self, pairs: Sequence[_Pair]) -> tuple[str, str] | None:
        whole = [pair for pair in pairs if pair.can_hash]
        if not whole:
            return None
        mine, theirs = self._joined(whole)
        return self.source.dialect.digest(mine), self.target.dialect.digest(theirs)

    def _texts(self, pair: _Pair) -> tuple[str, str]:
        """Return the common text of a column on both sides. Where one side is Oracle, an empty string is NULL on both."""
        source = self.source.dialect.text(pair.form, pair.source, pair.source_kind)
        target = self.target.dialect.text(pair.form, pair.target, pair.target_kind)
        if self.empties_texts and pair.form.name in ("text", "fixed"):
            return f"NULLIF({source}, '')", f"NULLIF({target}, '')"
        return source, target

    def _joined(self, pairs: Sequence[_Pair]) -> tuple[str, str]:
        """Return the texts of columns put together, on both sides; their digests where an engine has no room for the texts."""
        one, other = self.source.dialect, self.target.dialect
        texts = [self._texts(pair) for pair in pairs]
        mine, theirs = [one.marked(text) for text, _ in texts], [other.marked(text) for _, text in texts]
        if not (one.has_long_texts and other.has_long_texts) and len(pairs) > 1:
            mine = [one.marked(one.as_text(one.digest(text))) for text in mine]
            theirs = [other.marked(other.as_text(other.digest(text))) for text in theirs]
        return _together(one, mine), _together(other, theirs)

    def _check(
        self, level: Level, table: Object, part: str, fields: list[Field], source: list[str], target: list[str]
    ) -> Check:
        return Check(
            f"{level.value}.{table.id}.{part}",
            level,
            table.id,
            f"SELECT {', '.join(source)} FROM {self.source.table(table)}",
            f"SELECT {', '.join(target)} FROM {self.target.table(table)}",
            fields,
        )

    # --- samples ---

    def samples(self, table: Object, rows: float) -> Iterator[Sample]:
        """Yield a share of all rows, chosen by the digest of the key, and rows of each kind that a profile found."""
        if self.spelled and table.id not in self.spelled:
            return
        before = len(self.expected), len(self.left_out)
        pairs = self._pairs(table)
        del self.expected[before[0] :], self.left_out[before[1] :]  # they were told with the checks
        digests = self._row_digests(pairs)
        if digests is None:
            return
        key = self._key(table, pairs)
        buckets = max(int(rows // self.project.settings.checks.sample_rows), _LEAST_BUCKETS)
        one, other = self.source.dialect, self.target.dialect
        keys = self._keys(key) if key else digests
        chosen = f"a share of about 1 in {buckets}" if buckets > 1 else "all rows"
        conditions = [(chosen, "1 = 1", "1 = 1")]
        if buckets > 1:
            digested = (self._key_digest(one, keys[0], bool(key)), self._key_digest(other, keys[1], bool(key)))
            mine, theirs = one.modulo(digested[0], buckets), other.modulo(digested[1], buckets)
            conditions = [(chosen, f"{mine} = 0", f"{theirs} = 0")]
        conditions += self._kinds(table, pairs)
        for number, (reason, mine, theirs) in enumerate(conditions):
            yield Sample(
                f"sample.{table.id}.{number + 1}",
                table.id,
                self._sample_query(one, keys[0], digests[0], self.source.table(table), mine, has_key=bool(key)),
                self._sample_query(other, keys[1], digests[1], self.target.table(table), theirs, has_key=bool(key)),
                [pair.name.lower() for pair in key],
                reason,
            )

    def _key(self, table: Object, pairs: Sequence[_Pair]) -> list[_Pair]:
        by_name = {pair.name: pair for pair in pairs if pair.can_hash}
        keys = [key for key in self.catalog.keys_of(table) if all(name in by_name for name in key)]
        return [by_name[name] for name in keys[0]] if keys else []

    def _keys(self, key: Sequence[_Pair]) -> tuple[str, str]:
        """Return the texts of a key put together; keys are short, and stay readable."""
        one, other = self.source.dialect, self.target.dialect
        texts = [self._texts(pair) for pair in key]
        mine, theirs = [one.marked(text) for text, _ in texts], [other.marked(text) for _, text in texts]
        return _together(one, mine), _together(other, theirs)

    @staticmethod
    def _key_digest(dialect: CheckDialect, key: str, is_text: bool) -> str:
        return dialect.digest(key) if is_text else key

    @staticmethod
    def _sample_query(
        dialect: CheckDialect, key: str, digest: str, table: str, condition: str, *, has_key: bool
    ) -> str:
        first = key if has_key else dialect.as_text(digest)
        return f"SELECT {first}, {dialect.as_text(digest)} FROM {table} WHERE {condition}"

    def _kinds(self, table: Object, pairs: Sequence[_Pair]) -> list[tuple[str, str, str]]:
        """Return conditions for the rows that a profile found something in, as far as both engines read them alike."""
        by_name = {pair.name: pair for pair in pairs}
        found: list[tuple[str, str, str]] = []
        for measure in self.catalog.measures:
            condition = _ASKED.get(measure.question)
            pair = by_name.get(measure.column)
            if measure.object != table.id or condition is None or pair is None or not (measure.count or measure.value):
                continue
            mine = condition.format(c=pair.source, value=measure.value, length=self.source.dialect.length(pair.source))
            theirs = condition.format(
                c=pair.target, value=measure.value, length=self.target.dialect.length(pair.target)
            )
            found.append((_kind_reason(measure), mine, theirs))
        return found[:_MOST_KINDS]


def _kind_reason(measure: Measure) -> str:
    found = f"{measure.count} rows" if measure.count else f"up to {measure.value}"
    return f"{measure.question} in {measure.column.lower()}: {found}"


def _together(dialect: CheckDialect, parts: list[str]) -> str:
    return dialect.concat(parts) if len(parts) > 1 else parts[0]


def _source_name(dialect: CheckDialect, engine: str, table: Object) -> str:
    return ".".join(dialect.quote(_spelled(engine, part)) for part in (table.schema, table.name) if part)


def _spelled(engine: str, name: str) -> str:
    """Return a stored name as the source spells it: what an engine folded is in capitals in the catalogue."""
    return name if engine in _FOLDS_UP else stored_name(name)
