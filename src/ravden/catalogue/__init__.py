"""Shipped and user tables, read into records."""
