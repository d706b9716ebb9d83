"""Ravden plans and tracks the finish on instruments."""

__version__ = "0.1.0"
