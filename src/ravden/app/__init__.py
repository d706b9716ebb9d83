"""What the program does, without a window: the window and the command line both ask here."""
