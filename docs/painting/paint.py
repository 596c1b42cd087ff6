"""Paint the pictures and the video that the package brings for its sample site.

They are the same every time, but for what arithmetic of other machines rounds otherwise; their
qualities keep all of them together below 1.5 MB. The video is written by the extra ``video``.

    python docs/painting/paint.py
"""

from __future__ import annotations

import sys
from pathlib import Path

import afloat
import jetty
import night
import paper
import river

FOLDER = Path(__file__).parents[2] / "src/rising_lantern/demo/pictures"
SCENES = {
    "dusk-river": (river.dusk_river, 74),
    "morning-river": (river.morning_river, 68),
    "woven-paper": (paper.woven_paper, 66),
    "night-sky": (night.night_sky, 74),
    "crowd-of-lights": (night.crowd_of_lights, 68),
    "jetty-planks": (jetty.jetty_planks, 56),
    "afloat": (afloat.poster, 80),
}
"""What paints each picture, and the quality of its JPEG file."""


def main() -> int:
    """Paint all of them."""
    FOLDER.mkdir(exist_ok=True)
    for name, (paint, quality) in SCENES.items():
        path = FOLDER / f"{name}.jpg"
        paint().save(path, quality=quality, progressive=True, optimize=True)
        sys.stdout.write(f"{path.name:24}{path.stat().st_size:>10}\n")
    (FOLDER / "afloat.webm").write_bytes(afloat.video())
    return 0


if __name__ == "__main__":
    sys.exit(main())
