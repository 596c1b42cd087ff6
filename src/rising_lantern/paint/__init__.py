"""Painting: sections once for each view, frames from slices of them.

Pixels are sRGB in 8 bits, colours premultiplied by their alpha while they are laid over each
other, as browsers do. Nothing here decides where anything stands: that comes from the sweep.
"""
