"""Edits: small changes of a plan's text that keep its comments, order and layout."""
