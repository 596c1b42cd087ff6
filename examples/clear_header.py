"""A clear header over a picture: how far it can be read, and the tint that it needs.

Draws clear-header.png, the page before and after.
"""

import rising_lantern as rl

PLAN = """
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {laptop: 1280x800}
colors: {paper: "#fdf6e3"}
headers:
  main:
    height: 88px
    color: paper
    parts:
      brand: {image: marks/logo-light.png, alt: Saltmere Lantern Regatta, width: 176px, logo: true}
      menu: {text: [Programme, Lanterns, Visit], side: end, weight: 600}
pages:
  home:
    sections:
      river: {height: 100vh, layers: [{image: pictures/morning-river.jpg, speed: 0.4}]}
      programme: {height: 620px, layers: [{image: pictures/jetty-planks.jpg}]}
"""

site = rl.sample_site().parent
plan = rl.read_text(PLAN, folder=site)

for finding in rl.check(plan, only="unreadable-part"):
    print(f"{finding.subject.part}: {finding.message}; the limit is {finding.limit:g}.")

fixes = [fix for proposal in rl.tune(plan, only="unreadable-part") for fix in proposal.fixes]
fix = next(fix for fix in fixes if fix.what == "opacity of the header")
print(f"The header needs at least this tint: {fix.after}")

better = plan.replace({fix.key: fix.value})
assert rl.check(better, only="unreadable-part") == []
(both,) = rl.compare({"clear": plan, "tinted": better})
both.sheet([0, 420, 840]).save("clear-header.png")
