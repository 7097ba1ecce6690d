"""A visit as files: what can be put where a person wants."""
