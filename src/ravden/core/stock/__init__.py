"""Cans on the shelf: what is in them, how old it is, and how far it goes."""
