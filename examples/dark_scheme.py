"""A page for both colour schemes: what only fails in the dark, and the icon that follows.

Draws dark-scheme.png, the page by day and by night.
"""

from PIL import Image

import rising_lantern as rl

site = rl.sample_site().parent
text = (site / "screens.yaml").read_text("utf-8")

# The icon of the tickets without what makes it follow the texts beside it.
forgotten = rl.read_text(text.replace(", tint: current", ""), folder=site)
for finding in rl.check(forgotten, only="unreadable-part"):
    print(f"The {finding.subject.part}, by {finding.viewport}: {finding.message}.")

plan = rl.read_text(text, folder=site)
assert rl.check(plan, only="unreadable-part") == []
css = rl.export(plan).text("lantern.css")
print(next(line.strip() for line in css.splitlines() if "prefers-color-scheme: dark" in line))

sheet = Image.new("RGB", (1300, 410), "#e8e2d2")
for left, screen in ((5, "day"), (655, "night")):
    sheet.paste(plan.view("visit", screen).frame(200).resize((640, 400)), (left, 5))
sheet.save("dark-scheme.png")
