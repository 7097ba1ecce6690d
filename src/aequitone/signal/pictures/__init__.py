"""Test pictures, made at the size of the screen and exact in their codes."""

from aequitone.signal.pictures.canvas import Area, Canvas, Rendered
from aequitone.signal.pictures.catalogue import PICTURES, Picture, picture_named, render

__all__ = ["PICTURES", "Area", "Canvas", "Picture", "Rendered", "picture_named", "render"]
