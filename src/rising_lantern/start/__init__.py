"""What a designer starts from: a short plan, or the sections of a screenshot."""
