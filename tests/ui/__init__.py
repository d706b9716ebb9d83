"""Driven through the interface."""

THREE = ("tern", "wren", "heron")  # of the demo shop: enough to turn between, and quick
