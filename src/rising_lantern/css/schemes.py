"""Colour schemes that readers prefer: Media Queries 5, section 12.5."""

from __future__ import annotations

from typing import Literal

Scheme = Literal["light", "dark"]
"""What ``prefers-color-scheme`` can be."""
