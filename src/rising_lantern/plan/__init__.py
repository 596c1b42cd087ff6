"""The plan: its models, reading it with places, its conditions and its pictures.

What stands here is *specified*: values as the author wrote them, parsed, but not yet computed
for a viewport.
"""
