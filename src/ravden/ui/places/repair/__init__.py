"""What went wrong, what did it, and what puts it right: a page over the places."""
