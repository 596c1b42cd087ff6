"""Settings say all of a plan: what is built from them alone looks like it."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from random_plans import write_random_plan
from rebuilt import rebuilt
from rising_lantern.api.plans import Plan
from thorough import some


def unlike(plan: Plan, page: str, viewport: str, folder: Path) -> list[float]:
    """The scroll positions at which a page that was built from its settings looks otherwise."""
    path = folder / f"rebuilt-{page}-{viewport}.json"
    path.write_text(json.dumps(rebuilt(plan, page, viewport)), "utf-8")
    own, other = plan.view(page, viewport), rl.read(path).view(page, viewport)
    path.unlink()  # other tests use the folder as well
    assert own.max_scroll == other.max_scroll
    edges = [step.start for step in own.scene.switches.steps[1:]] if own.scene.switches else []
    places = {0, own.max_scroll // 3, own.max_scroll}
    places |= {int(min(max(edge + by, 0), own.max_scroll)) for edge in edges for by in (-1, 1, 9)}
    return [
        place
        for place in sorted(places)
        if np.abs(own.pixels(place).astype(int) - other.pixels(place)).max() > 2
    ]


PAGES = [
    (page, viewport)
    for viewport in ("laptop", "phone")
    for page in ("home", "lanterns", "visit", "programme", "journal")
]


@pytest.mark.parametrize(("page", "viewport"), PAGES)
def test_the_sample_site_is_built_again_from_its_settings(
    site: Path, page: str, viewport: str
) -> None:
    assert unlike(rl.read(site / "regatta.yaml"), page, viewport, site) == []


@pytest.mark.parametrize("seed", some(range(40), 8))
def test_random_plans_are_built_again_from_their_settings(folder: Path, seed: int) -> None:
    write_random_plan(folder, seed)
    plan = rl.read(folder / "plan.json")
    (page,) = plan.pages
    for viewport in plan.viewports:
        assert unlike(plan, page, viewport, folder) == []
