"""A shop acted out: a truth of its own, people who follow the plan, and what came of it."""
