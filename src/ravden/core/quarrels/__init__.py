"""Who is right, on this instrument."""
