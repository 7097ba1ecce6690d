"""Colour: saturations as spokes around white, and everyday colours side by side."""
