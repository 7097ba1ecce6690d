"""Colour: primaries and secondaries at several saturations, and everyday colours."""
