"""What to do, in which order: methods as data, and how far along one a project is."""
