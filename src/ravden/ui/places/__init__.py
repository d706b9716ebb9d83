"""The places, one folder each."""
