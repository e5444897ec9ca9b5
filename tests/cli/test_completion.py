"""The shell completes commands, options and their values."""

import os
import subprocess
import sys

import pytest


@pytest.mark.parametrize(
    ("words", "found"),
    [
        ("hullsound fin", {"findings"}),
        ("hullsound findings a.hull --sev", {"--severity"}),
        ("hullsound findings a.hull --sort eff", {"effort"}),
    ],
)
def test_words_are_completed(words: str, found: set[str]) -> None:
    code = "import sys; sys.argv[0] = 'hullsound'; from hullsound.cli.app import main; main()"
    given = {"_HULLSOUND_COMPLETE": "complete_bash", "COMP_WORDS": words, "COMP_CWORD": str(len(words.split()) - 1)}
    done = subprocess.run(
        [sys.executable, "-c", code], env=os.environ | given, capture_output=True, text=True, check=False
    )
    assert set(done.stdout.split()) == found
