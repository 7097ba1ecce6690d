"""Levels by meter: one control after another."""
