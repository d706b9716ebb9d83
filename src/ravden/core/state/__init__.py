"""Acts folded: what happened, what the film is known to be, what was learnt."""
