"""hullsound draft: write the target text of every object."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    output: Annotated[Path, typer.Option("--output", "-o", help="Folder for the drafts.", metavar="DIR")],
    target: options.To = "",
    target_file: options.TargetFile = "",
) -> None:
    """Write target text, one file per object, in creation order, with manifest.json."""
    from hullsound import steps
    from hullsound.draft.files import write_drafts

    from .output import progress, say

    chosen = options.hull_target(hull, target, target_file)
    with progress(False) as report:
        case = steps.assess_hull(hull, chosen, options.project(), jobs=options.job_count(), progress=report)
        drafts = steps.draft_case(case)
    manifest = write_drafts(drafts, case.catalog, case.assessment, output)
    finished = sum(draft.is_finished for draft in drafts.drafts)
    say(
        f"{manifest}: {finished} of {len(drafts.drafts)} objects drafted; {len(drafts.skipped())} fell short of their promise."
    )
