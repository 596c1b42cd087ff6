"""What Python code holds in its hands: plans, and their pages at viewports."""
