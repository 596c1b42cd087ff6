"""Random plans in engines other than Chromium: proofs of them find nothing."""

from __future__ import annotations

from pathlib import Path

import pytest

import rising_lantern as rl
from pages import write_page
from random_plans import write_random_plan
from rising_lantern.api.views import View
from rising_lantern.exports.exporting import sheet_writer
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.proving import ViewProver
from rising_lantern.proofs.serving import served
from thorough import some

pytestmark = pytest.mark.browser

_PLANS = 5


def is_shown_alike(view: View, engine: Engine, text: str) -> bool:
    """Whether an engine is not known to show what the plan has in another way."""
    if not engine.rounds_letters:
        return "round" not in text
    texts = (item.blend for section in view.scene.box.sections for item in section.content)
    return {*texts, *(item.blend for item in view.scene.box.layers())} <= {"normal"}


@pytest.mark.parametrize("seed", some(range(_PLANS), 5))
def test_a_random_plan_is_proved(engine: Engine, folder: Path, seed: int) -> None:
    # Where letters stand on whole px, lines are broken elsewhere, and heights would differ.
    write_random_plan(folder, 100 + seed, flowing=not engine.rounds_letters)
    plan = rl.read(folder / "plan.json")
    view = plan.view()
    write_page(view, folder / "out")
    pages = folder / "out" / "pages"
    (pages / "lantern-frame.html").write_text("<!doctype html>", "utf-8")
    with served(pages) as url:
        framed = is_shown_alike(view, engine, (folder / "plan.json").read_text("utf-8"))
        proof = ViewProver(engine, view.scene, sheet_writer(plan), framed=framed).proof(url)
    # Pages whose header changes its height move by themselves, which is shift.
    found = [item for item in proof.found if item.measure not in {"layout shift", "focus"}]
    assert found == [], proof.causes
