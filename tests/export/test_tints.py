"""Pictures in the colour of the look: in frames, in browsers, and in what check and tune say."""

from __future__ import annotations

import shutil
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import rising_lantern as rl
from chromium import Chromium
from pages import write_pages
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.proofs.serving import served
from sheets import sheet_of
from thorough import some

_LOOKS = (
    "looks: {open: {color: '#fdf6e3'}, shut: {from: 300px, background: '#fdf6e3', "
    "color: '#16213e', height: 60px}}"
)
_SECTIONS = (
    "hero: {height: 900px, background: '#16213e'}, more: {height: 1600px, background: white}"
)
_ICON = "logo-light.png, alt: Search, width: 90px, side: end"


def plan_of(make_plan: MakePlan, *, part: str = "", change: str = "cut", looks: str = "") -> Plan:
    """A header over a dark section and a light one, with an icon."""
    header = f"height: 90px, change: '{change}', parts: {{icon: {{image: {_ICON}{part}}}}}, "
    return make_plan(plan_text(header=header + (looks or _LOOKS), sections=_SECTIONS))


@pytest.mark.parametrize("tinted", [True, False])
def test_a_tinted_icon_can_be_seen_in_every_look(make_plan: MakePlan, *, tinted: bool) -> None:
    plan = plan_of(make_plan, part=", tint: current" if tinted else "")
    found = {item.rule for item in rl.check(plan)}
    assert ("part-left-behind" in found) is not tinted
    view = plan.view()
    table = view.contrast().set_index("scroll_px")["contrast"]
    # The picture's own colour.
    ink = "#16213e" if tinted else "#faf5e6"
    assert table.loc[1200.0] == pytest.approx(_ratio(ink, "#fdf6e3"), rel=0.005)


def _ratio(first: str, second: str) -> float:
    """WCAG 2.2 contrast of two colours, by its own formulas."""

    def luminance(text: str) -> float:
        levels = [int(text[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        light = [x / 12.92 if x <= 0.04045 else ((x + 0.055) / 1.055) ** 2.4 for x in levels]
        return sum(w * x for w, x in zip((0.2126, 0.7152, 0.0722), light, strict=True))

    high, low = sorted((luminance(first), luminance(second)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def test_tint_is_what_tune_offers_for_an_icon_that_is_left_behind(make_plan: MakePlan) -> None:
    plan = plan_of(make_plan)
    (finding,) = [item for item in rl.check(plan) if item.rule == "part-left-behind"][:1]
    assert "or 'tint: current'" in finding.remedy.words
    fixes = [fix for item in rl.tune(plan) for fix in item.fixes if fix.key.endswith(".tint")]
    assert [(fix.key, fix.value) for fix in fixes] == [("headers.main.parts.icon.tint", "current")]


@pytest.mark.parametrize(
    ("part", "words"),
    [
        ("text: Boats, tint: current", "a text has a 'tint'; remove it"),
        (
            "image: photo.jpg, tint: current",
            "'photo.jpg' is tinted, and a JPEG has no transparency",
        ),
        ("image: logo-dark.png, tint: ink", "'ink' is not valid for 'tint'; write 'current'"),
    ],
)
def test_what_cannot_be_tinted_is_a_fault(
    make_plan: MakePlan, folder: Path, part: str, words: str
) -> None:
    Image.new("RGB", (4, 4)).save(folder / "photo.jpg")
    with pytest.raises(rl.PlanError, match=words):
        make_plan(plan_text(header=f"parts: {{icon: {{{part}}}}}"))


@pytest.mark.browser
@pytest.mark.parametrize(
    ("picture", "size"), [("logo-light.png", (120, 40)), ("flag.svg", (96, 54))]
)
@pytest.mark.parametrize("color", ["#fdf6e3", "#a33c"])
def test_a_tinted_picture_is_a_mask_written_by_hand(
    chromium: Chromium,
    make_plan: MakePlan,
    folder: Path,
    picture: str,
    size: tuple[int, int],
    color: str,
) -> None:
    wide, high = size
    header = (
        f"height: 90px, background: '#16213e', color: '{color}', "
        f"parts: {{icon: {{image: {picture}, alt: Boats, width: {wide}px, tint: current}}}}"
    )
    frame = make_plan(plan_text(header=header, sections=_SECTIONS)).view().pixels(0)
    (folder / "hand.html").write_text(
        "<!doctype html><body style='margin:0;background:#16213e'><div style='position:absolute;"
        f"left:32px;top:{45 - high / 2}px;width:{wide}px;height:{high}px;background:{color};"
        f"mask:url({picture}) 0 0/100% 100%'></div>",
        "utf-8",
    )
    with served(folder) as url:
        chromium.open(f"{url}/hand.html", 1000, 600)
        shot = chromium.screenshot()
    apart = np.abs(shot[:90, :200].astype(int) - frame[:90, :200])
    assert apart.max() <= 4
    assert (frame[:90, :200] != frame[0, 0]).any()


@pytest.mark.browser
@pytest.mark.parametrize("change", some(["blend 200px", "fade 300ms", "cut"], 3))
def test_a_tinted_part_is_proved(make_plan: MakePlan, change: str) -> None:
    """Also where another look has another shape, of other proportions, and a colour of its own."""
    looks = _LOOKS.replace(
        "height: 60px", "height: 60px, parts: {icon: {image: flag.svg, color: '#a33'}}"
    )
    plan = plan_of(make_plan, part=", tint: current", change=change, looks=looks)
    proof = rl.prove(plan, engines="chromium")
    assert {item.found for item in proof.views} == {()}


@pytest.mark.browser
def test_masks_are_seen_where_a_page_is_opened_from_a_disk(
    chromium: Chromium, make_plan: MakePlan, folder: Path
) -> None:
    plan = plan_of(make_plan, part=", tint: current")
    out = folder / "out"
    out.mkdir()
    write_pages([plan.view()], out)
    shutil.rmtree(out)
    rl.export(plan, script="classic").save(out)
    chromium.open((out / "page.html").as_uri(), 1000, 600)
    frame = plan.view().pixels(0)
    assert np.abs(chromium.screenshot()[:90].astype(int) - frame[:90]).max() <= 8
    css = sheet_of(rl.export(plan, script="classic"))
    assert 'mask-image: url("data:image/png;base64,' in css
