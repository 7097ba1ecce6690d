"""Proof: the same pass as at the start, side by side with it."""
