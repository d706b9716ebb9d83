"""Forms, and what they log."""
