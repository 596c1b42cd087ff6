"""What the developer receives: a page of plain HTML and CSS, and a script that switches looks."""
