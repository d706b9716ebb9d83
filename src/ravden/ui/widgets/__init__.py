"""Small widgets, each with one subject."""
