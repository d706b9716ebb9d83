"""Booth and bench: what to make ready, turns, light, the wet edge, and what came of it."""
