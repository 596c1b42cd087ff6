"""A header that shrinks without flicker: why it flickers, and the number that stops it.

Draws shrinking-header.png, the header at its switch.
"""

import rising_lantern as rl

PLAN = """
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {laptop: 1280x800}
colors: {ink: "#16213e", paper: "#fdf6e3"}
headers:
  main:
    position: sticky
    background: paper
    color: ink
    shadow: 0 1px 0 rgb(22 33 62 / .2)
    parts: {menu: {text: [Programme, Lanterns, Visit], side: center, weight: 600}}
    looks:
      tall: {height: 104px}
      slim: {from: 180px, height: 64px}
pages:
  programme:
    sections:
      opening: {height: 720px, layers: [{image: pictures/woven-paper.jpg}]}
      evening: {height: 900px, layers: [{image: pictures/night-sky.jpg}]}
"""

site = rl.sample_site().parent
plan = rl.read_text(PLAN, folder=site)

(finding,) = rl.check(plan, only="flicker")
low, high = finding.scroll
print(f"From {low:g} to {high:g} px: {finding.message}.")

(proposal,) = rl.tune(plan, only="flicker")
for fix in proposal.fixes:
    print(f"{fix.what}: {fix.key}: {fix.after}")
    assert rl.check(plan.replace({fix.key: fix.value}), only="flicker") == []

first = proposal.fixes[0]
steady = plan.replace({first.key: first.value})
steady.view().filmstrip([0, 179, 180, 620]).save("shrinking-header.png")
