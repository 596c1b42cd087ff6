"""What is checked for whom: on the plan's screens, and for readers who have a page otherwise."""
