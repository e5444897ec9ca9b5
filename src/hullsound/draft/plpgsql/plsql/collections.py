"""Collections of PL/SQL as arrays, and as jsonb where keys are texts or leave gaps; BULK COLLECT and FORALL."""

from functools import partial
from typing import Final

from hullsound.analyze.records import field_type
from hullsound.analyze.types import Family
from hullsound.draft.conversions.plain_numbers import plain_number
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.sql.tree import (
    Assign,
    Call,
    CallStatement,
    Clause,
    CreatePackage,
    CursorAttribute,
    Delete,
    Fetch,
    Forall,
    Insert,
    Member,
    Name,
    Node,
    Operation,
    Parameter,
    QueryStatement,
    Select,
    TypeDeclaration,
    TypeName,
    Update,
    Variable,
)

from .package_names import getter, setter
from .row_counts import counts_rows
from .types import Collection, collection_of

_ATTRIBUTES: Final = frozenset(("COUNT", "FIRST", "LAST", "DELETE", "EXTEND", "TRIM", "LIMIT"))
_ITEM: Final = "hs_item"
"""Start of the names of variables for one row that FETCH BULK COLLECT reads."""


class Collections:
    """The variables of a unit that are collections."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.rewriter = rewriter
        self.variables: dict[str, Collection] = {}
        self.types: dict[str, Collection] = {}
        self.declared: dict[str, TypeName] = {}
        declared: list[Variable | Parameter] = [*rewriter.subject.all(Variable), *rewriter.subject.all(Parameter)]
        for node in declared:
            found = self._collection(node)
            if found is not None:
                self.variables[node.name] = found
                self.declared[node.name] = node.type
                self.types[node.type.reference[-1] if node.type.reference else node.type.name] = found
        tree = rewriter.subject.tree
        self.package = tree.name[-1] if isinstance(tree, CreatePackage) else ""
        outer = tree.declarations if isinstance(tree, CreatePackage) else []
        inner = {node.name for node in declared if node not in outer}
        self.kept = {node.name for node in outer if isinstance(node, Variable) and node.name in self.variables} - inner
        """The variables of the package itself, which settings of the session keep."""

    @classmethod
    def of(cls, rewriter: Rewriter) -> "Collections":
        """Return the collections of a unit, found out once."""
        known = rewriter.subject.memory.get("collections")
        if not isinstance(known, cls):
            known = rewriter.subject.memory["collections"] = cls(rewriter)
        return known

    def _collection(self, node: Variable | Parameter) -> Collection | None:
        try:
            return collection_of(node.type, self.rewriter)
        except CannotDraft:
            return None  # the declaration itself says why

    def add(self) -> None:
        """Add the points of all that code does with its collections."""
        rewriter = self.rewriter
        for declared in rewriter.subject.all(TypeDeclaration):
            if declared.form in ("table", "varray", "associative", "subtype"):
                rewriter.replace(declared.first, declared.last + 1, "")
        self._add_constructors()
        if not self.variables:
            return
        for variable in rewriter.subject.all(Variable):
            found = self.variables.get(variable.name)
            if found is not None and found.is_associative and variable.default is None:
                rewriter.insert_behind(variable, " := '{}'")
        for statement in rewriter.subject.all(CallStatement):
            if self._named(statement.call, ("DELETE", "EXTEND", "TRIM")) is not None:
                rewriter.add(Point(statement.first, statement.last, partial(self._change, statement), rank=2))
        for assign in rewriter.subject.all(Assign):
            if self._is_put(assign.target):
                rewriter.add(Point(assign.first, assign.last, partial(self._put, assign), rank=2))
        for member in rewriter.subject.all(Member):
            if isinstance(member.owner, Call) and member.owner.parts[0] in self.variables:
                rewriter.put_point(Point(member.first, member.last, partial(self._field, member)))
        for call in rewriter.subject.all(Call):
            if len(call.parts) == 1 and call.parts[0] in self.variables and len(call.arguments) == 1:
                rewriter.put_point(Point(call.first, call.last, partial(self._element, call)))
            elif (
                len(call.parts) == 2
                and call.parts[0] in self.variables
                and call.parts[1] in ("EXISTS", "NEXT", "PRIOR")
            ):
                rewriter.add(Point(call.first, call.last, partial(self._asked, call), rank=2))
            elif call.parts[-1] in self.types and call.parts[-1] not in self.variables:
                rewriter.add(Point(call.first, call.last, partial(self._made, call), rank=2))
        for name in rewriter.subject.all(Name):
            if len(name.parts) == 2 and name.parts[0] in self.variables and name.parts[1] in _ATTRIBUTES:
                rewriter.put_point(Point(name.first, name.last, partial(self._attribute, name)))
        self._add_plain_numbers()
        self._add_bulk()

    def _add_constructors(self) -> None:
        """Write constructors of lists that the schema defines, whether or not a variable is of their type."""
        for call in self.rewriter.subject.all(Call):
            name = call.parts[-1]
            if name in self.types or name in self.variables or not self.rewriter.catalog.with_name(name):
                continue
            kind = TypeName(call.first, call.first, name, (), "", call.parts)
            try:
                found = collection_of(kind, self.rewriter)
            except CannotDraft:
                continue  # where its type is written, the reason is told
            if found is not None:
                self.rewriter.add(Point(call.first, call.last, partial(self._list, call, found), rank=2))

    def _list(self, call: Call, found: Collection, rewriter: Rewriter) -> str:
        return f"ARRAY[{rewriter.nodes(call.arguments)}]::{found.element}[]"

    def _add_plain_numbers(self) -> None:
        """Oracle writes a number as text without zeros behind its last digit."""
        for operation in self.rewriter.subject.all(Operation):
            for operand in operation.operands if "||" in operation.operators else ():
                call = operand.owner if isinstance(operand, Member) else operand
                if not isinstance(call, Call) or len(call.parts) != 1 or call.parts[0] not in self.variables:
                    continue
                field = operand.parts[0] if isinstance(operand, Member) and operand.parts else ""
                kind = field_type(self.declared[call.parts[0]], field, self.rewriter.columns)
                if self.rewriter.types.family_of(kind) is Family.NUMBER:
                    self.rewriter.wrap(operand, partial(plain_number, operand), rank=3)

    def _write(self, name: str) -> str:
        return self.rewriter.names.write(name)

    def _read(self, name: str) -> str:
        return getter(self.package, name, self.rewriter) if name in self.kept else self._write(name)

    def _assigned(self, name: str, value: str) -> str:
        if name in self.kept:
            return f"PERFORM {setter(self.package, name, self.rewriter)}({value})"
        return f"{self._write(name)} := {value}"

    def _named(self, node: Node, words: tuple[str, ...]) -> str | None:
        """Return the variable of NAME.WORD or NAME.WORD(...), None for anything else."""
        parts = node.parts if isinstance(node, Name | Call) else ()
        return parts[0] if len(parts) == 2 and parts[0] in self.variables and parts[1] in words else None

    # --- elements ---

    def _key(self, call: Call, found: Collection) -> str:
        text = self.rewriter.node(call.arguments[0])
        if not found.is_map:
            return text
        return text if found.has_text_keys else f"CAST({text} AS text)"

    def _element(self, call: Call, rewriter: Rewriter) -> str:
        found = self.variables[call.parts[0]]
        name, key = self._read(call.parts[0]), self._key(call, found)
        if not found.is_map:
            return f"({name})[{key}]" if call.parts[0] in self.kept else f"{name}[{key}]"
        if found.has_fields:
            return f"jsonb_populate_record(NULL::{found.element}, {name} -> {key})"
        return f"CAST({name} ->> {key} AS {found.element})"

    def _field(self, member: Member, rewriter: Rewriter) -> str:
        assert isinstance(member.owner, Call)
        if len(member.parts) != 1 or member.arguments:
            raise CannotDraft("a member of an element of a collection")
        found = self.variables[member.owner.parts[0]]
        is_target = any(assign.target is member for assign in rewriter.subject.all(Assign))
        element, column = self._element(member.owner, rewriter), self._write(member.parts[0])
        return f"{element}.{column}" if is_target and not found.is_map else f"({element}).{column}"

    def _is_put(self, target: Node) -> bool:
        """Whether an element is set that cannot be assigned to: of a map, or of a list that a setting keeps."""
        call = target.owner if isinstance(target, Member) else target
        if not isinstance(call, Call) or len(call.parts) != 1:
            return False
        return call.parts[0] in self.kept or self.variables.get(call.parts[0], _NO_MAP).is_map

    def _put(self, assign: Assign, rewriter: Rewriter) -> str:
        """Set an element of a map."""
        target, value = assign.target, rewriter.node(assign.value)
        call = target.owner if isinstance(target, Member) else target
        assert isinstance(call, Call)
        found, name = self.variables[call.parts[0]], self._read(call.parts[0])
        key = self._key(call, found)
        if not found.is_map and not isinstance(target, Member):
            around = f"({name})[:{key} - 1] || CAST({value} AS {found.element}) || ({name})[{key} + 1:]"
            return self._assigned(call.parts[0], around)
        if isinstance(target, Member) and not found.is_map:
            raise CannotDraft("a field of an element of a list that the package keeps")
        if isinstance(target, Member):
            column = self._write(target.parts[0])
            inner = f"COALESCE({name} -> {key}, '{{}}') || jsonb_build_object('{column}', {value})"
            return self._assigned(call.parts[0], f"{name} || jsonb_build_object({key}, {inner})")
        typed = f"to_jsonb({value})" if found.has_fields else f"CAST({value} AS {found.element})"
        return self._assigned(call.parts[0], f"{name} || jsonb_build_object({key}, {typed})")

    # --- attributes and methods ---

    def _attribute(self, name: Name, rewriter: Rewriter) -> str:
        found, text = self.variables[name.parts[0]], self._read(name.parts[0])
        keys = f"jsonb_object_keys({text}) AS hs_key"
        number = "hs_key" if found.has_text_keys else "CAST(hs_key AS integer)"
        match name.parts[1]:
            case "COUNT":
                return f"(SELECT count(*) FROM {keys})" if found.is_map else f"COALESCE(cardinality({text}), 0)"
            case "FIRST":
                return f"(SELECT min({number}) FROM {keys})" if found.is_map else f"array_lower({text}, 1)"
            case "LAST":
                return f"(SELECT max({number}) FROM {keys})" if found.is_map else f"array_upper({text}, 1)"
        raise CannotDraft(f"{name.parts[1]} of a collection")

    def _asked(self, call: Call, rewriter: Rewriter) -> str:
        found, text = self.variables[call.parts[0]], self._read(call.parts[0])
        key = rewriter.node(call.arguments[0])
        if call.parts[1] == "EXISTS":
            return (
                f"jsonb_exists({text}, {self._key(call, found)})"
                if found.is_map
                else f"(({text})[{key}] IS DISTINCT FROM NULL)"
            )
        ahead = call.parts[1] == "NEXT"
        if found.is_map:
            number = "hs_key" if found.has_text_keys else "CAST(hs_key AS integer)"
            sign, pick = (">", "min") if ahead else ("<", "max")
            return f"(SELECT {pick}({number}) FROM jsonb_object_keys({text}) AS hs_key WHERE {number} {sign} {key})"
        if ahead:
            return f"(CASE WHEN {key} < array_upper({text}, 1) THEN {key} + 1 END)"
        return f"(CASE WHEN {key} > array_lower({text}, 1) THEN {key} - 1 END)"

    def _made(self, call: Call, rewriter: Rewriter) -> str:
        """Write a constructor."""
        found = self.types[call.parts[-1]]
        if found.is_map:
            raise CannotDraft("a constructor of an associative array")
        return self._list(call, found, rewriter)

    def _change(self, statement: CallStatement, rewriter: Rewriter) -> str:
        node = statement.call
        assert isinstance(node, Name | Call)
        found, text = self.variables[node.parts[0]], self._read(node.parts[0])
        made = partial(self._assigned, node.parts[0])
        arguments = [rewriter.node(each) for each in node.arguments] if isinstance(node, Call) else []
        match node.parts[1], len(arguments):
            case "DELETE", 0:
                return made("'{}'")
            case "DELETE", 1 if found.is_map and isinstance(node, Call):
                return made(f"{text} - {self._key(node, found)}")
            case "EXTEND", 0:
                return made(f"array_append({text}, NULL)")
            case "EXTEND", 1:
                return made(
                    f"{text} || array_fill(CAST(NULL AS {found.element}), ARRAY[CAST({arguments[0]} AS integer)])"
                )
            case "TRIM", (0 | 1):
                return made(f"trim_array({text}, {arguments[0] if arguments else '1'})")
        raise CannotDraft(f"{node.parts[1]} of single elements of a collection")

    # --- many rows at once ---

    def _add_bulk(self) -> None:
        rewriter = self.rewriter
        for statement in rewriter.subject.all(QueryStatement):
            block = statement.query.blocks[0] if len(statement.query.blocks) == 1 else None
            if isinstance(block, Select) and block.bulk and block.into_span is not None:
                rewriter.replace(*block.into_span, "")
                rewriter.add(Point(statement.first, statement.last, partial(self._collect, statement, block), rank=2))
        for fetch in rewriter.subject.all(Fetch):
            if fetch.bulk:
                rewriter.add(Point(fetch.first, fetch.last, partial(self._fetch, fetch), rank=2))
        subject = rewriter.subject
        changes: list[Insert | Update | Delete] = [*subject.all(Insert), *subject.all(Update), *subject.all(Delete)]
        for change in changes:
            clause = self._bulk_clause(change)
            if clause is not None:
                rewriter.replace(clause.first, change.last, "")
                rewriter.add(Point(change.first, change.last, partial(self._returned, change), rank=2))
        for forall in rewriter.subject.all(Forall):
            rewriter.add(Point(forall.first, forall.last, partial(self._forall, forall), rank=2))

    def _targets(self, nodes: list[Node]) -> list[tuple[str, Collection]]:
        found = []
        for node in nodes:
            collection = self.variables.get(node.parts[-1]) if isinstance(node, Name) and len(node.parts) == 1 else None
            if collection is None or collection.is_map or (isinstance(node, Name) and node.parts[-1] in self.kept):
                raise CannotDraft("BULK COLLECT into something that is no plain list")
            assert isinstance(node, Name)
            found.append((self._write(node.parts[-1]), collection))
        return found

    def _collect(self, statement: QueryStatement, block: Select, rewriter: Rewriter) -> str:
        query = rewriter.text(statement.query.first, statement.query.last)
        targets = self._targets(block.into)
        if len(targets) == 1 and targets[0][1].has_fields:
            name, collection = targets[0]
            rows = f"COALESCE(array_agg(ROW(hs_rows.*)::{collection.element}), '{{}}')"
            return f"SELECT {rows} INTO {name}\nFROM ({query}) AS hs_rows{self._counted(statement, name)}"
        columns = [f"c{place}" for place in range(1, len(targets) + 1)]
        values = ", ".join(f"COALESCE(array_agg(hs_rows.{column}), '{{}}')" for column in columns)
        into = ", ".join(name for name, _ in targets)
        counted = self._counted(statement, targets[0][0])
        return f"SELECT {values} INTO {into}\nFROM ({query}) AS hs_rows({', '.join(columns)}){counted}"

    def _counted(self, statement: Node, name: str) -> str:
        """Return the statement that keeps the number of rows a list has collected; '' where nothing asks for it."""
        return f"; {ROW_COUNT} := cardinality({name})" if counts_rows(statement, self.rewriter) else ""

    def _bulk_clause(self, change: Insert | Update | Delete) -> Clause | None:
        """Return the words BULK COLLECT behind RETURNING of a change."""
        clauses = self.rewriter.subject.all(Clause)
        inside = (c for c in clauses if change.first <= c.first < change.last and c.name == "returning-bulk-collect")
        return next(inside, None)

    def _returned(self, change: Insert | Update | Delete, rewriter: Rewriter) -> str:
        """Collect what a change returns of each row."""
        if any(forall.first <= change.first < forall.last for forall in rewriter.subject.all(Forall)):
            raise CannotDraft("FORALL that collects what its changes return")
        if any(a.cursor == ("SQL",) and a.attribute == "ROWCOUNT" for a in rewriter.subject.all(CursorAttribute)):
            raise CannotDraft("the number of rows of a change that collects what it returns")
        targets = self._targets(change.into)
        if len(targets) != len(change.returning):
            raise CannotDraft("whole rows that a change returns")
        columns = [f"c{place}" for place in range(1, len(targets) + 1)]
        values = ", ".join(f"COALESCE(array_agg(hs_changed.{column}), '{{}}')" for column in columns)
        into = ", ".join(name for name, _ in targets)
        text = rewriter.text(change.first, change.last).rstrip()
        return f"WITH hs_changed({', '.join(columns)}) AS (\n{text}\n)\nSELECT {values} INTO {into} FROM hs_changed"

    def _fetch(self, fetch: Fetch, rewriter: Rewriter) -> str:
        targets = self._targets(fetch.into)
        items = [f"{_ITEM}_{fetch.first}_{place}" for place in range(1, len(targets) + 1)]
        clear = " ".join(f"{name} := '{{}}';" for name, _ in targets)
        first = targets[0][0]
        head = f"WHILE cardinality({first}) < {rewriter.node(fetch.limit)} LOOP" if fetch.limit is not None else "LOOP"
        add = " ".join(
            f"{name} := array_append({name}, {item});" for (name, _), item in zip(targets, items, strict=True)
        )
        return (
            f"{clear}\n{head}\n  FETCH {rewriter.node(fetch.cursor)} INTO {', '.join(items)};\n  EXIT WHEN NOT FOUND;\n"
            f"  {add}\nEND LOOP"
        )

    def hoisted(self, first: int, last: int) -> list[str]:
        """Return the declarations of variables for rows that are fetched one by one."""
        lines = []
        for fetch in self.rewriter.subject.all(Fetch):
            if fetch.bulk and first <= fetch.first < last:
                for place, node in enumerate(fetch.into, start=1):
                    found = self.variables.get(node.parts[-1]) if isinstance(node, Name) else None
                    if found is not None:
                        lines.append(f"{_ITEM}_{fetch.first}_{place} {found.element};")
        return lines

    def _forall(self, forall: Forall, rewriter: Rewriter) -> str:
        words = rewriter.words
        head = words[forall.first : forall.statement.first]
        inside = [c for c in rewriter.subject.all(Clause) if forall.first <= c.first < forall.last]
        body = f"  {rewriter.node(forall.statement).rstrip().removesuffix(';')};"
        before = ""
        if counts_rows(forall, rewriter):  # the rows of all rounds count
            before = f"{ROW_COUNT} := 0;\n"
            count = f"GET DIAGNOSTICS {_ROUND} = ROW_COUNT; {ROW_COUNT} := {ROW_COUNT} + {_ROUND};"
            body = f"  DECLARE {_ROUND} bigint;\n  BEGIN\n  {body}\n    {count}\n  END;"
        variable = self._write(forall.variable)
        found = self.variables.get(head[5]) if head[3:5] == ["INDICES", "OF"] and len(head) == 6 else None
        if found is not None and not found.is_map:  # an array has no gaps
            bounds = f"1 .. COALESCE(cardinality({self._read(head[5])}), 0)"
            return f"{before}FOR {variable} IN {bounds} LOOP\n{body}\nEND LOOP"
        if ".." not in head or "SAVE" in head or any(clause.name.startswith("forall-") for clause in inside):
            raise CannotDraft("FORALL that keeps errors, or over chosen elements")
        bounds = rewriter.text(forall.first + 3, forall.statement.first).strip()
        return f"{before}FOR {variable} IN {bounds} LOOP\n{body}\nEND LOOP"


_ROUND: Final = "hs_round_count"
"""Variable for the number of rows of one round of a loop that stands for FORALL."""
_NO_MAP: Final = Collection("", is_map=False, has_text_keys=False, is_associative=False, has_fields=False)
