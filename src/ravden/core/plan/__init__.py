"""Journal and method folded into states, past and to come."""
