"""Plan, see and measure what a page does while it scrolls."""
