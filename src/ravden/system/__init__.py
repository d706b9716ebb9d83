"""What the program asks of the machine it runs on: a display, a place to write, the folders of the desktop."""
