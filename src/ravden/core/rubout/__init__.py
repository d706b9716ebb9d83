"""The ladder of a project: what the next sanding is for, the film it may take, the hands that do it."""
