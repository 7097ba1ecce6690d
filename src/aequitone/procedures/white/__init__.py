"""Two-point white balance."""
