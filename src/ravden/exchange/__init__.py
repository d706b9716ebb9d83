"""JSON in and out."""
