"""Levels: light output, black level, contrast, colour and tint, by meter or by eye; uniformity."""
