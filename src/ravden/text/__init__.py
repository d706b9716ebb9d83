"""Every sentence the program says, in the units of its user. No Qt."""
