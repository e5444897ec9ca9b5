"""Names that a draft still uses and its target does not have: functions, types, parts of packages, variables."""

from collections.abc import Set
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, ObjectType
from hullsound.catalog.references import Scope
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.load import load_engine, load_source_types
from hullsound.knowledge.targets import functions_everywhere, target_functions
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, Comparison, Name, Operation, TypeName

_WITH_PACKAGES: Final = ("oracle", "postgresql")
"""Targets that take a call of what a package holds: PostgreSQL has a schema in its place."""
_OF_KIN: Final = frozenset(("||", "^"))
"""Operators by which kin mean the same, and others another thing."""
_ALL_KNOWN: Final = ("sqlserver", "oracle")
"""Targets on which a routine of one's own is called by other words, so that a name as it was says that nothing wrote it anew."""
_OURS: Final = "@HS_"
_WITH_VARIABLES: Final = {
    "sqlserver": frozenset(("@@ROWCOUNT", "@@TRANCOUNT", "@@FETCH_STATUS", "@@ERROR", "@@IDENTITY", "@@SERVERNAME", "@@VERSION",
                            "@@SPID", "@@LANGUAGE", "@@DATEFIRST", "@@NESTLEVEL", "@@PROCID", "@@OPTIONS", "@@LOCK_TIMEOUT")),
}  # fmt: skip
"""Variables of a server that drafts may read, by target: Transact-SQL reference, "Configuration functions", "System functions"."""


class UnknownNames:
    """What a target and the scan know by name."""

    def __init__(self, catalog: Catalog, target: Target, is_kin: bool) -> None:
        self.catalog = catalog
        self.is_kin = is_kin
        self.target = target
        self.variables: Set[str] = _WITH_VARIABLES.get(target.engine, frozenset())
        routines = {item.name.upper() for item in catalog.objects.values() if item.routines or item.type in CODE_TYPES}
        self.functions: Set[str] = target_functions(target.engine) | functions_everywhere() | routines
        self.of_source: Set[str] = target_functions(catalog.engine)
        self.types: Set[str] = load_engine(target.engine).type_names | frozenset(load_source_types(target.engine))
        self.operators: frozenset[str] = load_engine(target.engine).operator_names | (
            _OF_KIN if is_kin else frozenset()
        )
        self.own: Set[str] = {item.name.upper() for item in catalog.objects.values()}
        self.supplied: tuple[str, ...] = () if is_kin else load_engine(catalog.engine).package_prefixes

    def first(self, read: ReadStatement) -> str:
        """Return the first use of a name that neither the target nor the scan has, as words; '' where there is none."""
        return (
            self._call(read)
            or self._type(read)
            or self._operator(read)
            or ("" if self.is_kin else self._variable(read))
        )

    def _call(self, read: ReadStatement) -> str:
        declared = Scope(read).declared
        for call in read.all(Call):
            name = call.parts[-1].upper()
            is_unknown = len(call.parts) == 1 and name not in self.functions and name not in declared
            # A routine of one's own that was not surveyed may be there.
            asks_all = self.target.engine in _ALL_KNOWN and not self.is_kin
            if is_unknown and (asks_all or name in self.of_source):
                return f"a call of {name.lower()}, which the target does not have"
            is_qualified = len(call.parts) > 1 and self.target.engine not in _WITH_PACKAGES
            packages = self.catalog.with_name(call.parts[-2]) if is_qualified else []
            if any(item.type is ObjectType.PACKAGE for item in packages):
                return f"a call into the package {call.parts[-2].lower()}"
        uses: list[Call | Name] = []
        if self.supplied and self.target.engine != "oracle":
            uses += read.all(Call)
            uses += read.all(Name)
        for use in uses:
            if len(use.parts) > 1 and use.parts[-2].startswith(self.supplied):
                return f"a call into the package {use.parts[-2].lower()}, which the target does not have"
        return ""

    def _type(self, read: ReadStatement) -> str:
        declared = Scope(read).declared
        for node in read.all(TypeName):
            name = node.name.upper().removesuffix("[]").removesuffix(" UNSIGNED")
            own = name.rpartition(".")[2]
            is_known = node.borrowed or node.reference or name in self.types or own in self.own or own in declared
            if name and not is_known:
                return f"the type {name.lower()}, which the target does not have"
        return ""

    def _operator(self, read: ReadStatement) -> str:
        for operation in read.all(Operation):
            for operator in operation.operators:
                if not self.operators.issuperset(operator.split() if operator not in self.operators else ()):
                    return f"the operator {operator}, which the target does not have"
        for test in read.all(Comparison):
            if test.operator not in self.operators:
                return f"the predicate {test.operator}, which the target does not have"
        return ""

    def _variable(self, read: ReadStatement) -> str:
        """Return a variable of a session or server that stayed: our own drafts read none but those that SQL Server has, and
        those that stand for texts that are run and what these give."""
        declared = Scope(read).declared
        for name in read.all(Name):
            word = name.parts[0]
            is_ours = word.startswith(_OURS) and self.target.engine in ("mysql", "mariadb")
            if word.startswith("@") and word not in declared and word not in self.variables and not is_ours:
                return f"the variable {word.lower()}"
        for operation in read.all(Operation):
            if operation.operators[0] in ("@", "@@") and len(operation.operands) == 1:
                return f"a variable, which the target takes for an operator: {operation.operators[0]}"
        return ""
