"""The terminal application behind `hullsound browse`: worklist, findings, source beside draft, decisions."""
