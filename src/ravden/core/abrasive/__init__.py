"""Grades in micrometres, the scratch they leave, the film they cost, the shine that is left."""
