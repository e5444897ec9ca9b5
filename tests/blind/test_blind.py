"""The labelled cases: what must be found is found at its line, and what crosses unharmed is left alone."""

from tests.blind.cases import find, is_met, read_cases


def test_recall_and_false_alarms() -> None:
    cases = list(read_cases())
    missed, alarms, labels, quiet = [], [], 0, 0
    for case in cases:
        findings = find(case)
        labels += len(case.labels)
        quiet += not case.labels
        missed += [(case.file, case.line, label) for label in case.labels if not is_met(label, findings)]
        if not case.labels:
            alarms += [(case.file, case.line, f.construct) for f in findings if f.severity != "note"]
    assert len(cases) >= 200
    assert quiet >= 50
    assert len(missed) <= 0.05 * labels, missed
    assert len(alarms) <= 0.05 * quiet, alarms
