"""Checks: what is measured to be wrong with a plan, where, by how much, and what fixes it.

Each rule is a small function from a view to findings, registered under its name.
"""
