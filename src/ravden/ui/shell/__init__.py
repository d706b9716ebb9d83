"""The window, its rail, menus and the ways to act from anywhere."""
