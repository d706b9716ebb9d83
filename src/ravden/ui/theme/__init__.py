"""Colours, type and style, shipped with the program."""
