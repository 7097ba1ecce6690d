"""Widgets and their states that several rooms share."""
