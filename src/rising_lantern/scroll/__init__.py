"""Scroll: what holds at a scroll position, for whole arrays of positions at once.

Values here are *sampled*. Moments, traces, frames, checks and exports all come from one sweep.
"""
