"""One member of an estate: survey, judgement and what the estate needs to know of it. Runs in any process."""

import hashlib
import time
from collections import Counter
from pathlib import Path

import msgspec

from hullsound.assess.basis import Basis
from hullsound.assess.judge import assess
from hullsound.assess.model import Evidence
from hullsound.catalog.hullfile import read_hull, read_hull_facts, read_stock
from hullsound.catalog.model import ObjectType
from hullsound.errors import HullError
from hullsound.estate.clones import code_marks
from hullsound.estate.links import names_leading_out, names_offered
from hullsound.estate.model import Member, MemberResult, ServerFinding, TargetResult
from hullsound.knowledge.model import Severity
from hullsound.knowledge.targets import load_target
from hullsound.project import Project
from hullsound.report.document import Document
from hullsound.report.files import write_reports
from hullsound.survey.live.model import is_address, parse_address

from .assess import Case, assess_hull
from .common import REPORTING, tool_fingerprint
from .survey import survey_into, survey_live_into

_MANAGED_FIRST = ("hosted-database", "hosted-server", "own")
"""Hostings from the one that takes most work off one's hands."""


def judge_member(
    member: Member,
    folder: Path,
    targets: tuple[str, ...],
    project: Project,
    known_mark: str = "",
    *,
    pages: bool = False,
) -> MemberResult | None:
    """Survey a member into `folder`, judge it and return what it came to; None where `known_mark` holds still.

    Never raises for a member: what goes wrong is its reason. With `pages`, its report is written as well.
    """
    begin = time.perf_counter()
    try:
        hull = _survey(member, folder)
        mark = _mark(hull, targets, project)
        if mark == known_mark:
            return None
        result = _judge(member, hull, targets, project, mark, folder if pages else None)
        return msgspec.structs.replace(result, seconds=round(time.perf_counter() - begin, 3))
    except HullError as error:
        where = f"{error.where}: " if error.where and not is_address(error.where) else ""
        return MemberResult(member.name, "", reason=f"{where}{error.what}")
    except Exception as error:  # one member's fault is never the end of the estate
        return MemberResult(member.name, "", reason=f"a fault in Hull Sound: {type(error).__name__}: {error}")


def _survey(member: Member, folder: Path) -> Path:
    source = Path(member.source)
    if not is_address(member.source) and source.suffix == ".hull":
        read_hull_facts(source)  # tells what is wrong with it
        return source
    hull = folder / f"{member.name}.hull"
    if is_address(member.source):
        survey_live_into(hull, member.source, name=member.name)
    else:
        survey_into(hull, source, member.engine, member.version, name=member.name)
    return hull


def _mark(hull: Path, targets: tuple[str, ...], project: Project) -> str:
    """Return what tells whether a judgement holds still: what was surveyed, tool, decisions and targets."""
    stock = read_stock(hull)
    source = (
        stock.fingerprint if stock is not None and stock.fingerprint else hashlib.sha256(hull.read_bytes()).hexdigest()
    )
    decisions = msgspec.json.encode(
        msgspec.structs.replace(project, settings=type(project.settings)(effort=project.settings.effort))
    )
    parts = (source.encode(), tool_fingerprint(REPORTING).encode(), decisions, "\0".join(targets).encode())
    return hashlib.sha256(b"\0\0".join(parts)).hexdigest()


def _judge(
    member: Member, hull: Path, targets: tuple[str, ...], project: Project, mark: str, pages: Path | None
) -> MemberResult:
    case: Case | None = None
    found: dict[str, TargetResult] = {}
    catalog = read_hull(hull)
    basis = Basis(catalog)
    for target in targets:
        case = assess_hull(hull, target, project, keep=True)
        found[target] = _target_result(case, basis, project)
        if pages is not None and target == targets[0]:
            write_reports(case, pages / member.name, ["html"])
    assert case is not None
    document = case.document
    tables = [item for item in catalog.objects.values() if item.type is ObjectType.TABLE]
    address = parse_address(member.source) if is_address(member.source) else None
    return MemberResult(
        member.name,
        mark,
        engine=catalog.engine,
        version=catalog.version,
        surveyed_at=catalog.surveyed_at,
        objects=len(catalog.objects),
        lines=document.coverage.lines,
        unread_lines=document.coverage.unread_lines,
        tables=len(tables),
        bytes=sum(int(size) for table in tables if (size := table.details.get("bytes", "")).isdigit()),
        server=f"{address.engine}://{address.host}" if address is not None and address.host else "",
        targets=found,
        code_marks=code_marks(catalog),
        offers=names_offered(catalog, member.name),
        links=names_leading_out(catalog),
        server_findings=tuple(_server_findings(document)),
    )


def _target_result(case: Case, basis: Basis, project: Project) -> TargetResult:
    document = case.document
    open_findings = [finding for finding in document.findings if finding.accepted is None]
    blockers = Counter(f.construct for f in open_findings if f.severity is Severity.BLOCKER)
    by_hosting = _blockers_by_hosting(case, basis, project)
    hosting = next((name for name in _MANAGED_FIRST if by_hosting.get(name) == 0), "")
    summary = document.summary
    return TargetResult(
        summary.readiness.objects,
        summary.readiness.lines,
        summary.by_outcome,
        dict(sorted(blockers.items())),
        summary.by_severity["warning"],
        summary.effort_hours.p50,
        summary.effort_hours.p80,
        {key: (low, likely, high) for key, (low, likely, high) in sorted(case.assessment.effort.groups.items())},
        hosting,
        by_hosting,
    )


def _blockers_by_hosting(case: Case, basis: Basis, project: Project) -> dict[str, int]:
    """Return how much blocks on each hosting of the target; drafts do not differ by hosting, so none are made for it."""
    target = case.assessment.target
    if target.file:
        return {}
    evidence = Evidence(skipped=case.assessment.evidence.skipped, converted=case.assessment.evidence.converted)
    found = {}
    for hosting in ("own", *load_target(target.engine).hostings):
        if hosting not in found:
            judged = assess(case.catalog, msgspec.structs.replace(target, hosting=hosting), evidence, project, basis)
            found[hosting] = sum(f.severity is Severity.BLOCKER and f.accepted is None for f in judged.findings())
    return found


def _server_findings(document: Document) -> list[ServerFinding]:
    return [
        ServerFinding(finding.construct, finding.severity.value, finding.message, finding.remedy)
        for finding in document.findings
        if finding.object == "server"
    ]


def members_of_server(member: Member) -> list[Member]:
    """Return a member for each database of a server whose address ends in /*; any other member as it is.

    Raises SourceError where the server cannot be asked.
    """
    from dataclasses import replace

    from hullsound.errors import SourceError
    from hullsound.survey.catalogues.model import load_queries

    from .live import open_source

    if not is_address(member.source):
        return [member]
    address = parse_address(member.source)
    entrance = {
        "postgresql": "postgres",
        "sqlserver": "master",
        "mysql": "information_schema",
        "mariadb": "information_schema",
    }
    if address.database != "*" or address.engine not in entrance:
        return [member]
    own = member.source.replace("/*", f"/{entrance[address.engine]}", 1)
    with open_source(replace(parse_address(own))) as session:
        query = load_queries(session.engine, session.version, "databases")["databases"]
        names = [str(row[0]) for row in session.ask(query.text)]
    if not names:
        raise SourceError("the user sees no database", where=address.text)
    return [
        msgspec.structs.replace(
            member, name=f"{member.name}-{_safe(name)}", source=member.source.replace("/*", f"/{_quoted(name)}", 1)
        )
        for name in names
    ]


def _safe(name: str) -> str:
    return "".join(sign if sign.isalnum() or sign in "-_." else "-" for sign in name)


def _quoted(name: str) -> str:
    from urllib.parse import quote

    return quote(name, safe="")
