"""What real browsers say of an export: it is opened, scrolled, and held against the prediction."""
