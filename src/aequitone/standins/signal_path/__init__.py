"""The signal path of a simulated screen, part by part."""
