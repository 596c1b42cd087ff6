"""The models of a plan: its objects, their keys, and the values that the keys hold."""
