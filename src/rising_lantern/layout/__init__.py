"""Layout: a page at a viewport as boxes, with the header in each of its looks.

Values here are *computed* and *used*: lengths are CSS px, fonts are files, text is lines.
"""
