"""Tuning: the smallest change of a plan that mends a finding, and the proof that it does."""
