"""Comparing plans, and variants of one: side by side, and in time."""
