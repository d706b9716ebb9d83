"""The shop file: an append-only journal in SQLite."""
