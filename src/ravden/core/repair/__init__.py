"""What went wrong: what caused it, what puts it right, and what that does to the film and to the days."""
