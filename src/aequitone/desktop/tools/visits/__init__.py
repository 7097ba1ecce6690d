"""Visits: the logbook searched by words, and one of its visits opened."""
