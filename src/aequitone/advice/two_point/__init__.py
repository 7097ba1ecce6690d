"""Gains and biases: what they do, which to turn, and what went wrong."""
