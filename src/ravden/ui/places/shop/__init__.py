"""The Shop place: its air through time, its sensors, and what its materials were found to do here."""
