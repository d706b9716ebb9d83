"""What to do in which order."""
