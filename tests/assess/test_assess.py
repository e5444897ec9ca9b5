"""Judging: severities, outcomes, effort, order, and that nothing passes as clean that was not examined."""

import pytest

from hullsound import steps
from hullsound.assess.model import CaseEvidence, Evidence, Outcome
from hullsound.errors import UsageError
from hullsound.knowledge.model import Severity, Way
from hullsound.knowledge.targets import parse_target
from hullsound.report.document import Document
from hullsound.survey.files import ScriptFile


def judged(text: str, target: str = "postgresql:18", evidence: Evidence | None = None) -> Document:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle")
    return steps.assess_catalog(catalog, target, evidence).document


def outcome(text: str, target: str = "postgresql:18") -> Outcome:
    return judged(text, target).objects[0].outcome


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("CREATE SEQUENCE s START WITH 5;", Outcome.AS_IS),
        ("CREATE VIEW v AS SELECT 1 AS a FROM dual;", Outcome.DRAFTED),
        ("CREATE TABLE t (a VARCHAR2(10));", Outcome.DRAFTED),
        ("CREATE TABLE t (a NUMBER(5) INVISIBLE);", Outcome.CONFIRM),
        ("CREATE TABLE t (a NUMBER(5)) PARTITION BY HASH (a) PARTITIONS 4;", Outcome.CONFIRM),
        ("CREATE TABLE t (a NUMBER(5), b REF x);", Outcome.REWRITE),
        ("CREATE TABLE t (a BFILE);", Outcome.BLOCKED),
        ("CREATE PROCEDURE p IS BEGIN NULL; END;\n/\n", Outcome.DRAFTED),
        ("CREATE TABLE t (a NUMBER(, b);", Outcome.REWRITE),
    ],
)
def test_the_worst_finding_decides(text: str, expected: Outcome) -> None:
    assert outcome(text) is expected


def test_ways_have_severities() -> None:
    assert [way.severity for way in Way] == [
        Severity.NOTE, Severity.NOTE, Severity.NOTE, Severity.WARNING, Severity.WARNING, Severity.BLOCKER,
    ]  # fmt: skip


def test_a_finding_says_where_to_the_column() -> None:
    (finding,) = [
        f for f in judged("SELECT a,\n       NVL(b, 0) c\nFROM dual;").findings if f.construct == "oracle.nvl"
    ]
    assert (finding.line, finding.column, finding.end_line, finding.end_column) == (2, 8, 2, 17)
    assert finding.excerpt == "NVL(b, 0)"


def test_versions_and_hosting_change_the_verdict() -> None:
    merge = "MERGE INTO t USING u ON (t.i = u.i) WHEN MATCHED THEN UPDATE SET a = 1;"
    ways = {
        target: {f.construct: f.way for f in judged(merge, target).findings}
        for target in ("postgresql:14", "postgresql:15")
    }
    assert ways["postgresql:14"]["oracle.merge"] is Way.REWRITE
    assert ways["postgresql:15"]["oracle.merge"] is Way.DRAFT
    directory = "CREATE DIRECTORY d AS '/x';"
    assert outcome(directory) is Outcome.REWRITE
    assert outcome(directory, "postgresql:18@hosted-server") is Outcome.BLOCKED


def test_what_reads_an_unwritten_view_waits_for_it() -> None:
    document = judged(
        "CREATE TABLE t (a NUMBER(5), p NUMBER(5));\n"
        "CREATE VIEW tree AS SELECT a FROM t MODEL DIMENSION BY (a) MEASURES (p) RULES (p[1] = 2);\n"
        "CREATE VIEW above AS SELECT a FROM tree;\n"
    )
    above = next(f for f in document.findings if f.object == "view.above")
    assert above.construct == "assess.waits-for"
    assert "view.tree" in above.message


def test_order_to_work_in() -> None:
    """Blocked first; then what most depends on; then what is cheap."""
    document = judged(
        "CREATE TABLE a (x BFILE);\nCREATE TABLE b (x NUMBER(5)) PARTITION BY HASH (x);\n"
        "CREATE TABLE c (x NUMBER(5), y NUMBER(5)) PARTITION BY HASH (x);\nCREATE VIEW v AS SELECT x FROM c;\n"
        "CREATE SEQUENCE s;\n"
    )
    assert [o.id for o in document.objects][:3] == ["table.a", "table.c", "table.b"]
    assert [o.rank for o in document.objects] == [1, 2, 3, 4, 5]
    assert document.objects[1].dependents == 1
    assert document.objects[0].reason.startswith("blocks the move")


def test_effort_is_seeded_ordered_and_discounts_repeats() -> None:
    once = judged("SELECT a FROM t CONNECT BY PRIOR a = b;")
    again = judged("SELECT a FROM t CONNECT BY PRIOR a = b;")
    assert once.summary.effort_hours == again.summary.effort_hours
    assert 0 < once.summary.effort_hours.p50 < once.summary.effort_hours.p80
    one = judged("CREATE VIEW v AS SELECT SOUNDEX(a) x FROM dual;").objects[0].effort_minutes[1]
    two = judged("CREATE VIEW v AS SELECT SOUNDEX(a) x, SOUNDEX(b) y FROM dual;").objects[0].effort_minutes[1]
    assert one < two < 2 * one


def test_evidence_of_trials_and_drafts_becomes_findings() -> None:
    evidence = Evidence(refused=[("view.v", 1, "no such operator")], skipped=[("view.w", 1, "too odd")])
    document = judged(
        "CREATE VIEW v AS SELECT 1 a FROM dual;\nCREATE VIEW w AS SELECT 1 a FROM dual;", evidence=evidence
    )
    assert {(o.id, o.outcome) for o in document.objects} == {("view.v", Outcome.REWRITE), ("view.w", Outcome.REWRITE)}
    found = {f.construct: f for f in document.findings}
    assert "no such operator" in found["trial.refused"].message
    assert "too odd" in found["draft.skipped"].message


def test_behaviour_that_differs_is_for_a_person_and_counted() -> None:
    told = [CaseEvidence("rows of v", True, ""), CaseEvidence("v again", False, "the source gives 1, the target 2")]
    document = judged("CREATE VIEW v AS SELECT 1 a FROM dual;", evidence=Evidence(cases={"view.v": told}))
    (entry,) = document.objects
    assert (entry.outcome, entry.cases, entry.alike) == (Outcome.REWRITE, 2, 1)
    assert (document.trial.cases, document.trial.alike) == (2, 1)
    (finding,) = [each for each in document.findings if each.construct == "trial.apart"]
    assert "v again: the source gives 1, the target 2" in finding.message


def test_a_crashed_detector_never_passes_as_clean(monkeypatch: pytest.MonkeyPatch) -> None:
    from hullsound.sight.see import Seer

    def crash(*_: object) -> None:
        raise RuntimeError("boom")

    monkeypatch.setattr(Seer, "see", crash)
    document = judged("CREATE VIEW v AS SELECT 1 a FROM dual;")
    assert "survey.crashed-detector" in {f.construct for f in document.findings}
    assert document.objects[0].outcome is Outcome.REWRITE


def test_coverage_counts_what_was_not_read() -> None:
    document = judged("CREATE VIEW v AS SELECT 1 a FROM dual;\nBOGUS (\nWORDS\n);\n")
    assert document.coverage.unread_statements == 1
    assert document.coverage.unread_lines == 3


@pytest.mark.parametrize(
    ("text", "says"),
    [("mars", "unknown target"), ("postgresql:9", "unknown version"), ("postgresql@moon", "unknown hosting")],
)
def test_unknown_targets_are_named_with_what_is_known(text: str, says: str) -> None:
    with pytest.raises(UsageError, match=says) as caught:
        parse_target(text)
    assert caught.value.hint
