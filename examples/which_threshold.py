"""Which threshold: every scroll position at which the solid look can start.

Draws which-threshold.png, the worst contrast over the threshold.
"""

import rising_lantern as rl

PLAN = """
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {laptop: 1280x800}
colors: {ink: "#16213e", paper: "#fdf6e3"}
headers:
  main:
    height: 72px
    parts: {menu: {text: [Programme, Lanterns, Visit], side: end, weight: 600}}
    looks:
      tinted: {background: rgb(11 16 38 / .5), color: paper}
      solid: {from: 240px, background: paper, color: ink}
pages:
  home:
    sections:
      sky: {height: 560px, layers: [{image: pictures/night-sky.jpg}]}
      programme: {height: 960px, background: paper}
"""
KEY = "headers.main.looks.solid.from"

plan = rl.read_text(PLAN, folder=rl.sample_site().parent)
found = rl.value_range(plan, KEY)

for interval in found.intervals:
    print(f"{found.text(interval.low)} to {found.text(interval.high)}: every rule holds")
    if interval.below:
        print(f"  earlier: {interval.below.rule}, {interval.below.message}")
    if interval.above:
        print(f"  later: {interval.above.rule}, {interval.above.message}")

found.chart().savefig("which-threshold.png", dpi=100)
