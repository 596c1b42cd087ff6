"""The sample site: a made-up river festival, with pictures painted by seeded NumPy code."""
