"""What does the target say to what was sighted?  Findings, outcomes, effort and the order to work in."""
