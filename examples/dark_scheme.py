"""A page for both colour schemes: what only fails in the dark, and the icon that follows.

Draws dark-scheme.png, the page by day and by night.
"""

from PIL import Image

import rising_lantern as rl

PLAN = """
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {day: 1280x800, night: {size: 1280x800, scheme: dark}}
colors:
  ink: "#16213e"
  paper: "#fdf6e3"
  for: {night: {ink: "#fdf6e3", paper: "#0b1026"}}
headers:
  main:
    height: auto
    padding: 24px 40px
    background: paper
    color: ink
    shadow: 0 1px 0 ink
    parts:
      brand:
        image: marks/logo-dark.png
        alt: Saltmere Lantern Regatta
        width: 176px
        logo: true
        for: {night: {image: marks/logo-light.png}}
      menu: {text: [Programme, Lanterns, Visit], side: end, weight: 600}
      tickets: {image: marks/ticket-dark.png, alt: Tickets, width: 28px, side: end}
pages:
  visit:
    background: {color: paper}
    sections:
      river:
        height: 70vh
        layers:
          - image: pictures/morning-river.jpg
            speed: 0.4
            for: {night: {image: pictures/dusk-river.jpg}}
      way:
        height: 620px
        content:
          - {text: Follow the lights to the quay., font: serif, size: 52px, color: ink, at: 50% 40%}
"""

site = rl.sample_site().parent
plan = rl.read_text(PLAN, folder=site)

for finding in rl.check(plan, only="unreadable-part"):
    print(f"The {finding.subject.part}, by {finding.viewport}: {finding.message}.")

better = plan.replace({"headers.main.parts.tickets.tint": "current"})
assert rl.check(better, only="unreadable-part") == []
css = rl.export(better).text("lantern.css")
print(next(line for line in css.splitlines() if "prefers-color-scheme: dark" in line))

sheet = Image.new("RGB", (1300, 410), "#e8e2d2")
for left, screen in ((5, "day"), (655, "night")):
    sheet.paste(better.view("visit", screen).frame(200).resize((640, 400)), (left, 5))
sheet.save("dark-scheme.png")
