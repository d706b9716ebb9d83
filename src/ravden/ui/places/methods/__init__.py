"""The Methods place: the schools side by side on this instrument, and each of them step by step."""
