"""Tuning: the fewest and smallest changes of a plan that clear its findings, and their proof."""
