"""Odd Bolt."""

__version__ = "0.1.0"
