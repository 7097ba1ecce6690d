"""What is measured of a screen in HDR."""
