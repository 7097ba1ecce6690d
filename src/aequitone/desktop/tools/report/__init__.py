"""Report: the letterhead, the notes of the visit, and the pages as they will be handed over."""
