"""Tone: near black, and grey at many levels."""
