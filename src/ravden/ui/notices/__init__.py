"""Told on the desktop: a window that has opened, or is about to shut."""
