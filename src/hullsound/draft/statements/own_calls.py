"""Calls of the source's own functions: with brackets and a schema where the target asks for them, and of packages' members."""

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.reading import read_object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, CallStatement, Literal, Name, NamedArgument

from .packages import WITHOUT_PACKAGES, Member, constants_of, is_own_state, member_name, member_of, package_of


def add_own_calls(rewriter: Rewriter) -> None:
    """Write calls of functions of the source as the target calls them. Raises CannotDraft where that is not certain."""
    if rewriter.catalog.engine == "oracle":
        _add_brackets(rewriter)
        if rewriter.target.engine in WITHOUT_PACKAGES:
            _add_member_calls(rewriter)
    if rewriter.target.engine == "sqlserver":  # which finds a scalar function by its schema alone
        for call in rewriter.subject.all(Call):
            own = _functions_named(call.parts[-1], rewriter) if len(call.parts) == 1 else []
            is_itself = any(each.id == rewriter.owner for each in own)
            if own and (is_itself or call.parts[0] not in rewriter.subject.scope.declared):
                rewriter.replace(call.first, call.first + 1, _called(own[0], rewriter))


def _functions_named(name: str, rewriter: Rewriter) -> list[Object]:
    return [each for each in rewriter.catalog.with_name(name) if each.routines and each.name == each.routines[0].name]


def _called(item: Object, rewriter: Rewriter) -> str:
    schema = item.schema or ("DBO" if rewriter.target.engine == "sqlserver" else "")
    return rewriter.names.qualified(schema, item.name)


def _add_brackets(rewriter: Rewriter) -> None:
    """Give a function that is called without brackets its brackets. Raises CannotDraft where a column bears its name."""
    called = {node.call for node in rewriter.subject.all(CallStatement)}
    for name in rewriter.subject.all(Name):
        if len(name.parts) > 2 or name.parts[0] in rewriter.subject.scope.declared or name in called:
            continue
        item = rewriter.catalog.resolve(name.parts, rewriter.default_schema)
        if item is None or item.type is not ObjectType.FUNCTION or item.name != name.parts[-1]:
            continue
        if rewriter.catalog.columns_named(name.parts[-1]):
            raise CannotDraft("a name that a column and a function share")
        if item.routines[0].parameters:
            raise CannotDraft("a call that leaves out arguments")
        rewriter.put(name, f"{_called(item, rewriter)}()")


def _add_member_calls(rewriter: Rewriter) -> None:
    """Write calls of packages' functions by their names on the target, and constants of packages by their values.

    Raises CannotDraft for another member of a package, and for a name that a column bears as well.
    """
    declared = rewriter.subject.scope.declared
    for call in rewriter.subject.all(Call):
        member = member_of(call.parts, rewriter) if call.parts[0] not in declared else None
        if member is not None and member.routine.form == "function":
            rewriter.put_over(call.first, call.opening, member_name(member, rewriter))
            _add_defaults(call, member, rewriter)
        elif member is None and len(call.parts) > 1 and package_of(call.parts, rewriter) is not None:
            raise CannotDraft("a member of a package that is no routine with a body")
    for name in rewriter.subject.all(Name):
        package = package_of(name.parts, rewriter) if name.parts[0] not in declared else None
        if package is None:
            continue
        text = _value_of(name, package, rewriter)
        if text and rewriter.catalog.columns_named(name.parts[-1]):
            raise CannotDraft("a name that a column and a member of a package share")
        if text:
            rewriter.put(name, text)
        elif is_own_state(name.parts, package, rewriter):
            continue  # whoever writes the routine names what the session keeps
        elif len(name.parts) > 1 and not rewriter.catalog.columns_named(name.parts[-1]):
            raise CannotDraft("a member of a package that is no routine with a body")


def _value_of(name: Name, package: Object, rewriter: Rewriter) -> str:
    """Write what a name without brackets gives: a constant's value or a call; empty text where it is neither."""
    constants = constants_of(package, rewriter)
    if name.parts[-1] in constants:
        return constants[name.parts[-1]]
    member = member_of(name.parts, rewriter)
    if member is None or member.routine.form != "function":
        return ""
    if member.routine.parameters:
        raise CannotDraft("a call that leaves out arguments")
    return f"{member_name(member, rewriter)}()"


def _add_defaults(call: Call, member: Member, rewriter: Rewriter) -> None:
    """Give the arguments that a call leaves out, for whose parameters the target takes no default, or only by a word."""
    if any(isinstance(each, NamedArgument) for each in call.arguments):
        raise CannotDraft("a call with named arguments inside an expression")
    left_out = member.routine.parameters[len(call.arguments) :]
    if not left_out:
        return
    if rewriter.target.engine == "sqlserver":
        values = ["DEFAULT"] * len(left_out)
    else:
        read = read_object(member.package.text, "oracle")
        if read is None or not all(isinstance(each.default, Literal) for each in left_out):
            raise CannotDraft("a call that leaves out arguments")
        values = [
            read.tokens.source(each.default.first, each.default.last) for each in left_out if each.default is not None
        ]
    rewriter.insert(call.closing, ("" if not call.arguments else ", ") + ", ".join(values))
