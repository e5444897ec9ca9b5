"""The demo harbour, Kestrel Bay: made-up systems of a harbour authority, as package data."""
