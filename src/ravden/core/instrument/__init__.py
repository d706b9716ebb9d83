"""From a few measurements to an outline, its zones and their areas."""
