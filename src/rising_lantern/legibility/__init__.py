"""Legibility: how well a header's parts stand out from the pixels really behind them."""
