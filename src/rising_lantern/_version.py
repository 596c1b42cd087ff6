"""The version of the package, and nothing else: the build reads this file."""

__version__ = "0.1.0"
