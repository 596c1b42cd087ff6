"""What the developer receives: a page of plain HTML and CSS with a small script that switches looks."""
