"""The shop's hours against hours counted from an instrument's zero."""
