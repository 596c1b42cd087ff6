"""A band without gaps: a moving picture behind a low section, and the pixels that it needs.

Draws band-without-gaps.png, the page with a picture that is too low and with one that covers.
"""

import rising_lantern as rl

PLAN = """
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {laptop: 1280x800, phone: 390x844@3}
pages:
  visit:
    sections:
      ways: {height: 660px, background: "#fdf6e3"}
      band:
        height: 340px
        layers: [{image: pictures/crowd-of-lights.jpg, size: 100% 420px, speed: 0.3}]
      boats: {height: 940px, background: "#fdf6e3"}
"""

site = rl.sample_site().parent
plan = rl.read_text(PLAN, folder=site)

for finding in rl.check(plan, viewports="laptop", only="gap"):
    print(f"{finding.viewport}: {finding.message}; {finding.remedy}")

covered = plan.replace({"pages.visit.sections.band.layers.0.size": "cover"})
assert rl.check(covered, only="gap") == []

for need in covered.picture_table().itertuples():
    print(
        f"{need.viewport}: prepare {need.picture} with {need.needs_width} x {need.needs_height} px"
    )

(both, *_) = rl.compare({"420 px high": plan, "cover": covered}, viewports="laptop")
both.sheet([0, 240, 480, 720]).save("band-without-gaps.png")
