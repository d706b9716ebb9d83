"""What is to come: operations left, waits asked of the cure, packing into the hours, fit and what-if."""
