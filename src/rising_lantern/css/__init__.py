"""CSS values: lengths, colours, gradients, easings, backgrounds, shadows.

The lowest layer. It knows the standards and nothing of plans, pages or files: each module
parses one kind of value, computes with it, and writes it back as CSS.
"""
