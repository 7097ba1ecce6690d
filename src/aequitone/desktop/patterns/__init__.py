"""The pattern window."""
