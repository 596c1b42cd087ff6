"""What people see: filmstrips, and the folder that a preview writes."""
