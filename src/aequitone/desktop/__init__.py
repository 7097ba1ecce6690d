"""The window: the only package that imports Qt. A view draws, the presenter decides, the core knows."""
