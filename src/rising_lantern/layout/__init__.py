"""Layout: a page at a viewport as boxes, with the header as each look wears it.

Values here are *computed* and *used*: lengths are CSS px, fonts are files, text is lines.
"""
