"""Writing results: whole or not at all, inside what was named, and never over a user's own file.

``folders`` fills a folder, ``files`` writes one file; both record what they wrote (``records``),
work in a folder that nobody else sees (``scratch``), and cannot be interrupted while they put
things in place (``interrupts``).
"""
