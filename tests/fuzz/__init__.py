"""Broken, cut off and spiteful input to everything that reads."""
