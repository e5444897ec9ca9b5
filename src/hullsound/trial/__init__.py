"""Does the target accept it?  Drafts run on a real scratch database of the target engine."""
