"""Drafts written from the catalogue: tables, constraints, indexes, sequences, synonyms, types and grants."""

import re
from collections.abc import Callable
from functools import cached_property, partial
from typing import Final

from hullsound.analyze.types import Family, family_of_logical
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, DataType, Object, ObjectType
from hullsound.draft.code import draft_expression, draft_query
from hullsound.draft.conversions.collations import loose_collation
from hullsound.draft.conversions.moment_constants import written_default
from hullsound.draft.conversions.values import expression_type
from hullsound.draft.edits.names import literal, role_name
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.statements.versions import version_default
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.model import Way
from hullsound.knowledge.types import choose_type, logical_type, parse_type
from hullsound.project import Project
from hullsound.sql.literals import string_content

from .bindings import bound_statements
from .companions import companion_triggers, history_table
from .compared import Compared, read_compared
from .indexes import storage_statement
from .keys import KeyWriter, comment_text
from .partitions import check_division, part_statements, read_division
from .table_text import IDENTITY_OPTION

_OTHER_BOUNDS: Final = ("oracle", "sqlserver")
"""Targets whose sequences end, or begin anew, elsewhere than those of others if no bound is written."""
_DIVIDING: Final = frozenset(("mysql.partitions", "mariadb.partitions"))
_MAX_BIGINT: Final = 2**63 - 1
_PRIVILEGES: Final = {
    "SELECT": "SELECT", "READ": "SELECT", "INSERT": "INSERT", "UPDATE": "UPDATE", "DELETE": "DELETE",
    "REFERENCES": "REFERENCES", "ALL": "ALL", "ALL PRIVILEGES": "ALL", "EXECUTE": "EXECUTE",
}  # fmt: skip
_ROUTINES: Final = {ObjectType.PROCEDURE: "PROCEDURE", ObjectType.FUNCTION: "FUNCTION"}
_NUMBER: Final = re.compile(r"(?i)(tiny|small|medium|big)?int\b|integer\b|numeric\b|decimal\b|number\b")
_OF_NO_TABLE: Final = re.compile(
    r"-?\d+(?:\.\d+)?|'[^'\\]*'|SYSDATE|SYSTIMESTAMP|CURRENT_(?:DATE|TIMESTAMP)|(?:NOW|GETDATE)\(\)", re.IGNORECASE
)
"""Defaults that read alike in every table."""
_LIKE: Final = re.compile(r"(?i)\bLIKE\s+((?:[`\"\[]?[\w$]+[`\"\]]?)(?:\.[`\"\[]?[\w$]+[`\"\]]?)?)")
_CLOCK: Final = re.compile(
    r"(?i)\b(?:LOCALTIMESTAMP|LOCALTIME|CURRENT_(?:TIMESTAMP|DATE|TIME|USER)|clock_timestamp|random|NOW(?=\()|SYS\w*DATE\w*)\b"
)
_SEED: Final = re.compile(r"(-?\d+) ?, ?(-?\d+)")
_GIVEN_BY_SETTING: Final = frozenset(("sqlserver", "ase"))


_BOOLEAN_TEXT: Final = re.compile(r"(?i)\(?'\s*(t|true|y|yes|on|1|f|false|n|no|off|0)\s*'(?:::bool(?:ean)?)?\)?")
_TRUE_TEXTS: Final = frozenset(("t", "true", "y", "yes", "on", "1"))
"""Texts that are true for PostgreSQL, "Boolean Type"."""
_PLAIN_DEFAULTS: Final = (
    (
        re.compile(r"-?\d+(?:\.\d+)?|'-?\d+(?:\.\d+)?'"),
        re.compile(r"(?i)(?:small|big|tiny)?int|integer|numeric|decimal|number|double|float|real"),
    ),
    (re.compile(r"'(?:[^']|'')*'"), re.compile(r"(?i)(?:long|medium)?(?:n?var)?(?:char|text)|timestamp|date|time")),
    (re.compile(r"(?i)true|false"), re.compile(r"(?i)bool")),
    (
        re.compile(r"(?i)(?:current_timestamp|localtimestamp|now\(\)|clock_timestamp\(\)).*"),
        re.compile(r"(?i)timestamp|date"),
    ),
)
"""Drafts of defaults that fit at first sight, and the types that they fit."""


def _is_plainly_of(kind: str, value: str) -> bool:
    """Whether a default surely fits a type, as it must in a stand-in, of which nobody asks more."""
    return any(values.fullmatch(value) and kinds.match(kind) for values, kinds in _PLAIN_DEFAULTS)


_EMPTY_TEXT: Final = re.compile(r"\(*\s*N?''(::[\w ]+(\(\d+\))?)?\s*\)*", re.IGNORECASE)
"""An empty text as a default, as the dictionaries of several engines write it too."""


class ObjectWriter(KeyWriter):
    """Writes objects of one catalogue for PostgreSQL; every method raises CannotDraft where it has no text.

    What other targets write otherwise stands in `writers`.
    """

    counting_type = "bigint"
    """Type of a column that counts by itself."""
    greatest = _MAX_BIGINT
    """Greatest number of a sequence."""
    fallback_type = "text"
    """Type of a column of a stand-in whose own type has no like."""
    sequence_type = ""
    """Type that a sequence must name."""
    has_enumerations = False
    """Whether the target has a type for a list of values."""
    holds_empty_texts = True
    """Whether an empty text is another value than NULL."""

    def __init__(self, catalog: Catalog, target: Target, project: Project) -> None:
        super().__init__(catalog, target)
        self.project = project
        self._constants: dict[str, str] = {}
        """Drafts of defaults that read alike in every table."""
        self._keys_by_column: dict[str, dict[str, list[Object]]] = {}
        self._followed: set[str] = set()
        """Foreign keys on the way from a column to the type of the column that it refers to."""

    # --- tables ---

    def table(self, item: Object) -> str:
        if "not created" in item.details:
            raise CannotDraft("the source never creates it")
        if "table-like" in item.details.get("clauses", "").split():
            return self._like(item)
        if item.details.get("temporary") == "preserve rows":
            raise CannotDraft("a table whose rows each session has to itself, for longer than a transaction")
        if "query" in item.details:
            query = draft_query(item.details["query"], item, self.catalog, self.target)
            columns = f" ({', '.join(self.names.write(c.name) for c in item.columns)})" if item.columns else ""
            return self.table_from_query(item, columns, query) + self._comments(item, "TABLE")
        lines = [f"  {self._column(item, column)}" for column in item.columns]
        lines += [f"  {line}" for line in self.table_lines(item)]
        if not lines and self.catalog.engine != "postgresql":
            raise CannotDraft("a table whose columns are those of another")
        divided, parts = self.division(item)
        kind = "UNLOGGED TABLE" if item.details.get("temporary") and self.target.engine == "postgresql" else "TABLE"
        if kind == "TABLE" and item.details.get("temporary"):
            raise CannotDraft("a table whose rows each session has to itself")
        text = (
            f"CREATE {kind} {self.name(item)} (\n" + ",\n".join(lines) + f"\n){divided}{self.table_tail(item)};{parts}"
        )
        return text + self.companions(item) + self._comments(item, "TABLE")

    def table_from_query(self, item: Object, columns: str, query: str) -> str:
        """Write a table that a query makes, without its rows."""
        return f"CREATE TABLE {self.name(item)}{columns} AS\n{query}\nWITH NO DATA;"

    def division(self, item: Object) -> tuple[str, str]:
        """Return what divides a table into parts, and the statements that make these."""
        if self.target.engine != "postgresql":
            return "", ""
        division = read_division(item, self.catalog, self.target)
        if division is None:
            if item.id in self._divided:
                raise CannotDraft("a later statement divides it into parts")
            return "", ""
        reason = check_division(division, item, self.catalog, self.target)
        if reason:
            return "", f"\n-- Not divided into parts, as in the source: {comment_text(reason)}."
        columns = ", ".join(map(self.names.write, division.columns))
        return f" PARTITION BY {division.method} ({columns})", part_statements(division, item, self.catalog, self.names)

    @cached_property
    def _divided(self) -> frozenset[str]:
        """Ids of the tables that any statement divides."""
        return frozenset(each.object for each in self.catalog.sightings if each.construct in _DIVIDING)

    def table_lines(self, item: Object) -> list[str]:
        """Return what must stand among the columns."""
        return []

    def table_tail(self, item: Object) -> str:
        """Return what stands behind the columns."""
        return ""

    def _like(self, item: Object) -> str:
        """Write a table that copies another, and the columns it got later."""
        base = _LIKE.search(item.text)
        other = (
            self.catalog.table(tuple(p.strip('`"[]').upper() for p in base[1].split(".")), item.default_schema)
            if base
            else None
        )
        if other is None:
            raise CannotDraft("the table it copies is not in the source")
        text = f"CREATE TABLE {self.name(item)} (LIKE {self.name(other)} INCLUDING ALL);"
        for column in item.columns:
            text += f"\nALTER TABLE {self.name(item)} ADD COLUMN {self._column(item, column)};"
        return text

    def companions(self, item: Object) -> str:
        """Return the triggers that do what the source's table does by itself."""
        return companion_triggers(item, self.catalog.engine, self.names, partial(self._default, item))

    def _column(self, table: Object, column: Column) -> str:
        is_typed = bool(column.type.name) or not column.generated
        text = f"{self.names.write(column.name)} {self.column_type(table, column)}" if is_typed else ""
        if is_typed and self.project.drafts.case in ("compared", "ignore") and self.target.engine == "postgresql":
            text += self._collation(table, column)
        if column.generated:
            value = draft_expression(column.generated, table, self.catalog, self.target, immutable=True)
            if _CLOCK.search(value):
                raise CannotDraft("a computed column that reads the clock")
            if not column.type.name:
                kind = expression_type(column.generated, table, self.catalog, self.target)
                if not kind:
                    raise CannotDraft(f"the type of {column.generated[:60]} is not known")
                text = f"{self.names.write(column.name)} {kind}"
            return self.computed(text, column, value)
        if column.identity:
            return text + self._identity(column.identity or "", table)
        text += version_default(table, column.name) if self._keeps_versions() else ""
        if column.default and not self._means_null(column.default):
            text += f" DEFAULT {self._default(table, column)}"
        if column.type.name == "ENUM" and column.type.arguments and not self.has_enumerations:
            members = ", ".join(literal(string_content(a, self.catalog.engine)) for a in column.type.arguments)
            text += f" CHECK ({self.names.write(column.name)} IN ({members}))"
        if column.type.name == "SET" and column.type.arguments and self.target.engine == "postgresql":
            members = ", ".join(literal(string_content(a, self.catalog.engine)) for a in column.type.arguments)
            text += f" CHECK (string_to_array({self.names.write(column.name)}, ',') <@ ARRAY[{members}])"
        is_open = column.nullable or (not self.holds_empty_texts and self._is_emptied(table, column))
        return (text if is_open else f"{text} NOT NULL") + self.column_tail(column)

    def _collation(self, table: Object, column: Column) -> str:
        """Return the collation of a column where the project says that case does not count."""
        is_searched = True
        if self.project.drafts.case == "compared":
            if (table.id, column.name) not in self._compared.columns:
                return ""
            is_searched = (table.id, column.name) in self._compared.searched
        kind = self.column_type(table, column)
        return loose_collation(table, column, kind, self.catalog.engine, self.target, is_searched=is_searched)

    @cached_property
    def _compared(self) -> Compared:
        return read_compared(self.catalog)

    def _means_null(self, default: str) -> bool:
        is_empty = default == "''" if self.catalog.engine == "oracle" else not self.holds_empty_texts
        return default.upper() == "NULL" or (is_empty and _EMPTY_TEXT.fullmatch(default.strip()) is not None)

    def _is_emptied(self, table: Object, column: Column) -> bool:
        """Whether a column begins empty, which is NULL on the target, and no key forbids that."""
        keys = [each.constraint.columns for each in self.catalog.belonging(table.id) if each.constraint is not None
                and each.constraint.form == "primary key"]  # fmt: skip
        is_empty = _EMPTY_TEXT.fullmatch(column.default.strip()) is not None
        return is_empty and not any(column.name in columns for columns in keys)

    def _keeps_versions(self) -> bool:
        return self.catalog.engine == "sqlserver" and self.target.engine == "postgresql"

    def computed(self, text: str, column: Column, value: str) -> str:
        """Write a computed column; `text` is its name and type."""
        return f"{text} GENERATED ALWAYS AS ({value}) STORED"

    def column_tail(self, column: Column) -> str:
        """Return what stands behind a column's type and default."""
        return ""

    def _default(self, table: Object, column: Column) -> str:
        bare = column.default.strip("() b'")
        if bare in ("0", "1") and self.column_type(table, column) == "boolean":
            return "TRUE" if bare == "1" else "FALSE"
        if self.catalog.engine == "postgresql" and column.type.name in ("BOOLEAN", "BOOL"):
            said = _BOOLEAN_TEXT.fullmatch(column.default.strip())
            if said is not None:
                return "TRUE" if said[1].lower() in _TRUE_TEXTS else "FALSE"
        kind = self.column_type(table, column)
        if (
            kind.startswith("bit(") and bare and set(bare) <= {"0", "1"}
        ):  # b'0' fits a bit string of any length in the source
            return f"B'{bare.zfill(int(kind[4:-1]))}'"
        logical = logical_type(self.catalog.engine, column.type)
        family = family_of_logical(logical.kind) if logical is not None else Family.UNKNOWN
        constant = written_default(column.default.strip("() "), family, self.catalog.engine, self.target.engine)
        if constant:
            return constant
        if not _OF_NO_TABLE.fullmatch(column.default):
            return draft_expression(column.default, table, self.catalog, self.target)
        if column.default not in self._constants:
            self._constants[column.default] = draft_expression(column.default, table, self.catalog, self.target)
        return self._constants[column.default]

    def first_number(self, identity: str, table: Object) -> tuple[str, str]:
        """Return start and step of a column that counts by itself."""
        pair = _SEED.search(identity)
        options = {m[1]: f"{'-' if m[2] else ''}{m[3]}" for m in IDENTITY_OPTION.finditer(identity)}
        start, step = (pair[1], pair[2]) if pair else (options.get("START WITH", "1"), options.get("INCREMENT BY", "1"))
        return table.details.get("next identity", start), step

    def _identity(self, identity: str, table: Object) -> str:
        """Write an identity; numbers that the source lets in by a setting of the session are always let in here."""
        own = self.catalog.engine in _GIVEN_BY_SETTING
        when = "ALWAYS" if identity.startswith("always") and not own else "BY DEFAULT"
        start, step = self.first_number(identity, table)
        if (own and _SEED.search(identity)) or "next identity" in table.details:
            more = f" INCREMENT BY {step}" if step != "1" or own else ""
            is_plain = (start, step) == ("1", "1")
            return f" GENERATED {when} AS IDENTITY" + ("" if is_plain else f" (START WITH {start}{more})")
        options = " ".join(f"{m[1]} {'-' if m[2] else ''}{m[3]}" for m in IDENTITY_OPTION.finditer(identity)
                           if int(m[3]) <= _MAX_BIGINT)  # fmt: skip
        return f" GENERATED {when} AS IDENTITY" + (f" ({options})" if options else "")

    def column_type(self, table: Object, column: Column) -> str:
        """Write a column's type: the project's own choice first; what counts by itself is a whole number."""
        own = self.project.type_for(str(column.type), table.schema, table.name, column.name)
        if own:
            return own
        logical = logical_type(self.catalog.engine, column.type)
        if column.identity and (logical is None or logical.kind not in ("integer", "unsigned", "serial")):
            return self.counting_type
        text = self.type(column.type)
        if column.identity and text.startswith("numeric"):
            return self.counting_type
        return self._referenced_type(table, column, text) if _NUMBER.match(text) else text

    def _referenced_type(self, table: Object, column: Column, text: str) -> str:
        """Return the type of the number that a foreign key refers to, where the target cannot compare it with its own."""
        for item in self._foreign_keys(table).get(column.name, ()):
            key = item.constraint
            if key is None or item.id in self._followed:
                continue
            parent = self.catalog.table(key.references, item.default_schema)
            keys = key.reference_columns or next(iter(self.catalog.keys_of(parent)), []) if parent is not None else []
            meant = dict(zip(key.columns, keys, strict=False)).get(column.name, "")
            found = next((c for c in parent.columns if c.name == meant), None) if parent is not None else None
            if parent is None or found is None or (parent is table and found is column):
                continue
            self._followed.add(item.id)
            try:
                other = self.column_type(parent, found)
            finally:
                self._followed.remove(item.id)
            if _NUMBER.match(other) and self.must_agree(text, other):
                return other
        return text

    def _foreign_keys(self, table: Object) -> dict[str, list[Object]]:
        """Return the foreign keys of a table by the columns that they hold."""
        known = self._keys_by_column.get(table.id)
        if known is None:
            known = self._keys_by_column[table.id] = {}
            for item in self.catalog.belonging(table.id):
                if item.constraint is not None and item.constraint.form == "foreign key":
                    for name in item.constraint.columns:
                        known.setdefault(name, []).append(item)
        return known

    def must_agree(self, own: str, referenced: str) -> bool:
        """Whether a foreign key needs a number's type to be that of the key: here a numeric beside a whole number does."""
        return own.startswith("numeric") and not referenced.startswith("numeric")

    def type(self, source: DataType) -> str:
        """Write the type that the target has for a source type."""
        choice = choose_type(self.catalog.engine, source, self.target)
        if choice is not None:
            if not choice.text or choice.way in (Way.REWRITE, Way.NONE):
                raise CannotDraft(f"no type for {source}")
            return choice.text
        for item in self.catalog.with_name(source.name.rsplit(".", 1)[-1]):
            if item.type is ObjectType.TYPE and item.details.get("form") in ("object", "alias"):
                return self.named_type(item)
        raise CannotDraft(f"no type for {source}")

    def named_type(self, item: Object) -> str:
        """Write a type that the source defines, as a column has it."""
        return self.name(item)

    def _comments(self, item: Object, kind: str) -> str:
        text = f"\nCOMMENT ON {kind} {self.name(item)} IS {self.names.text(item.comment)};" if item.comment else ""
        for column in item.columns:
            if column.comment:
                name = f"{self.name(item)}.{self.names.write(column.name)}"
                text += f"\nCOMMENT ON COLUMN {name} IS {self.names.text(column.comment)};"
        for key, comment in item.details.items():
            if key.startswith("comment "):
                name = f"{self.name(item)}.{self.names.write(key.removeprefix('comment '))}"
                text += f"\nCOMMENT ON COLUMN {name} IS {self.names.text(comment)};"
        return text

    def comments(self, item: Object) -> str:
        """Return the comments on a table or view."""
        return self._comments(item, item.type.value.upper())

    def stand_in_table(self, item: Object) -> str:
        """Write a table that lacks what could not be drafted, so that others can be created upon it."""
        lines = []
        for column in item.columns:
            name = self.names.write(column.name)
            try:
                lines.append(f"  {name} {self.column_type(item, column)}" + self._stand_in_rest(item, column))
            except CannotDraft:
                lines.append(f"  {name} {self.fallback_type}")
        text = f"CREATE TABLE {self.name(item)} (\n" + ",\n".join(lines) + "\n);"
        return text + (history_table(item, self.names) if self._keeps_versions() else "")

    def _stand_in_rest(self, item: Object, column: Column) -> str:
        """Return default or identity of a column where they can be drafted, so that rows still fit."""
        try:
            if column.identity:
                return self._identity(column.identity, item)
            value = self._default(item, column) if column.default and "-00" not in column.default else ""
            text = f" DEFAULT {value}" if _is_plainly_of(self.column_type(item, column), value) else ""
        except CannotDraft:
            return ""
        # Without a default, the rows of the source may rest on what could not be drafted.
        return text + (" NOT NULL" if text and not column.nullable else "")

    # --- the rest ---

    def sequence(self, item: Object) -> str:
        options = item.details
        lead = f"CREATE SEQUENCE {self.name(item)}{self.sequence_type}"
        words = {
            "increment": "INCREMENT BY",
            "minvalue": "MINVALUE",
            "maxvalue": "MAXVALUE",
            "start": "START WITH",
            "cache": "CACHE",
        }
        text = lead
        for key, word in words.items():
            value = options.get("restart", "") if key == "start" and options.get("restart") else options.get(key, "")
            if value.lstrip("-").isdigit():
                number = max(-self.greatest, min(self.greatest, int(value)))
                text += f" {word} {number}"
        bounds = {options.get(key, "").lstrip("-").isdigit() for key in ("minvalue", "maxvalue")}
        if "cycle" in options and False in bounds and self.target.engine in _OTHER_BOUNDS:
            raise CannotDraft("a sequence that begins anew at a bound that is not written")
        return text + (" CYCLE" if "cycle" in options else "") + ";"

    def synonym(self, item: Object) -> str:
        target = self.catalog.table(tuple(item.details["target"].split("\t")), item.default_schema)
        if target is None or target.type is ObjectType.SEQUENCE or item.details["link"]:
            raise CannotDraft("its object is no table or view of the source")
        return f"CREATE OR REPLACE VIEW {self.name(item)} AS\nSELECT * FROM {self.name(target)};"

    def object_type(self, item: Object) -> str:
        if item.details.get("form") == "alias":
            return f"CREATE DOMAIN {self.name(item)} AS {self.type(parse_type(item.details['element']))};"
        if item.details.get("form") in ("table", "varray") and item.details.get("element"):
            return f"CREATE DOMAIN {self.name(item)} AS {self.type(parse_type(item.details['element']))}[];"
        is_table = item.details.get("form") == "table" and item.columns
        if item.details.get("form") != "object" and not is_table:
            raise CannotDraft("a type that is no list of attributes")
        lines = [f"  {self.names.write(column.name)} {self.type(column.type)}" for column in item.columns]
        return f"CREATE TYPE {self.name(item)} AS (\n" + ",\n".join(lines) + "\n);"

    def schema(self, item: Object) -> str:
        return f"CREATE SCHEMA IF NOT EXISTS {self.names.write(item.name)};"

    def other(self, item: Object) -> str:
        """Write what no type of object stands for."""
        if self.target.engine != "postgresql":
            raise CannotDraft("a statement of a kind that is not drafted")
        if item.details.get("statement") == "create default":
            return bound_statements(item, self.catalog, self.target, self.names, is_rule=False)
        return storage_statement(item, self.names)

    def rule(self, item: Object) -> str:
        """Write a rule as checks of the columns that it is bound to."""
        if self.target.engine != "postgresql":
            raise CannotDraft("a rule that columns are bound to")
        return bound_statements(item, self.catalog, self.target, self.names, is_rule=True)

    def grant(self, item: Object) -> str:
        target = self.catalog.resolve(tuple(item.details["target"].split("\t")), item.default_schema)
        if target is None:
            raise CannotDraft("the object is not in the source")
        lines = []
        for entry in item.details["entries"].split("\n"):
            verb, privileges, grantees = entry.split("\t")
            known = [_PRIVILEGES[p.split(" (")[0]] for p in privileges.split(",") if p.split(" (")[0] in _PRIVILEGES]
            if not known:
                raise CannotDraft(f"the privilege {privileges.lower()}")
            lines += self._grant_lines(verb.upper(), known, target, grantees.split(","))
        return "\n".join(lines)

    def _grant_lines(self, verb: str, privileges: list[str], target: Object, grantees: list[str]) -> list[str]:
        who = ", ".join(
            "PUBLIC" if g == "PUBLIC" else self.names.write(role_name(g, self.catalog.engine)) for g in grantees
        )
        link = "TO" if verb == "GRANT" else "FROM"
        if target.type is ObjectType.PACKAGE:
            schema = self.names.write(target.name)
            return [f"{verb} USAGE ON SCHEMA {schema} {link} {who};",
                    f"{verb} EXECUTE ON ALL ROUTINES IN SCHEMA {schema} {link} {who};"]  # fmt: skip
        if target.type in _ROUTINES:
            return [f"{verb} EXECUTE ON {_ROUTINES[target.type]} {self.name(target)} {link} {who};"]
        if target.type is ObjectType.SEQUENCE:
            return [f"{verb} USAGE, SELECT ON SEQUENCE {self.name(target)} {link} {who};"]
        if target.type in (ObjectType.DIRECTORY, ObjectType.TYPE, ObjectType.DATABASE_LINK):
            raise CannotDraft(f"a right on a {target.type.value}")
        return [f"{verb} {', '.join(privileges)} ON {self.name(target)} {link} {who};"]


def writers(writer: ObjectWriter) -> dict[ObjectType, Callable[[Object], str]]:
    """Return the writer of each type that is drafted from the catalogue."""
    return {
        ObjectType.TABLE: writer.table,
        ObjectType.CONSTRAINT: writer.constraint,
        ObjectType.INDEX: writer.index,
        ObjectType.SEQUENCE: writer.sequence,
        ObjectType.SYNONYM: writer.synonym,
        ObjectType.TYPE: writer.object_type,
        ObjectType.GRANT: writer.grant,
        ObjectType.SCHEMA: writer.schema,
        ObjectType.OTHER: writer.other,
        ObjectType.RULE: writer.rule,
    }
