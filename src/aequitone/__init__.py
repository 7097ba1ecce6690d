"""Aequitone: measure a screen, say what to turn next, prove it, write it down."""

__version__ = "0.1.0"
