"""What people take away: a page of plain HTML and CSS with a small script that switches looks."""
