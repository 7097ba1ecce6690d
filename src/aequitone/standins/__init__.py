"""A simulated bench: a screen with a hidden truth, a meter and a pattern source, from a scenario file.

Nothing here is asked for its truth but by tests and by the summary of a simulated run. The names are
imported from their modules: `scenario` costs pydantic, which a window without stand-ins never needs.
"""
