"""SQL inside applications: where it stands in programs, as scripts whose places are those of the program."""
