"""Scenes: one page at one viewport, laid out, set in motion and painted."""
