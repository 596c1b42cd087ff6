"""Jobs: work on pages of a plan that several processes can share."""
