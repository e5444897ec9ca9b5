"""Where does a catalogue come from?  Each module reads one kind of source."""
