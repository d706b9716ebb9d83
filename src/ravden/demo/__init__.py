"""A made-up shop, so that the program can be seen at work."""
