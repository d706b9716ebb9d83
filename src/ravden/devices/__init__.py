"""Simulated instruments of a shop, each a process of its own, and the line protocol they speak (docs/formats.md)."""
