"""Surveys of running servers: the catalogue is read as statements, and these go the way of scripts."""
