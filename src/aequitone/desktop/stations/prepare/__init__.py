"""Prepare: the checklist before anything is measured, and what of it is measured."""
