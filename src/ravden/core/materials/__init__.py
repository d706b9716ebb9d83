"""Volumes, solids and cuts."""
