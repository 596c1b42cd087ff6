"""The text of a plan: read with places, checked across its objects, changed and written back."""
