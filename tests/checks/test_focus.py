"""What must stay in a picture: its seen share, the rule, and the position that keeps it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from commands import run
from findings import found
from plans import MakePlan, plan_text
from rising_lantern.css.regions import parse_region
from rising_lantern.css.syntax import CssError

# Wider than high, and cut off on both sides on a phone.
_PHOTO = "image: photo.png, focus: 4% 40% 14% 30%"


def of(layer: str, height: str = "600px", viewports: str = "phone: 390x844") -> str:
    """A page of a picture in a section."""
    section = f"a: {{height: {height}, layers: [{{{layer}}}]}}, b: {{height: 900px}}"
    return plan_text(sections=section, viewports=viewports)


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("30% 20% 40%", "is not a region of a picture"),
        ("30% 20% 40% 5px", "is not a region of a picture"),
        ("-1% 20% 40% 50%", "an edge below zero, or no size"),
        ("0% 0% 0% 50%", "an edge below zero, or no size"),
        ("70% 20% 40% 50%", "reaches beyond the picture"),
    ],
)
def test_a_region_is_within_its_picture(text: str, message: str) -> None:
    with pytest.raises(CssError, match=message):
        parse_region(text)
    assert parse_region("0% 0% 100% 100%").css() == "0% 0% 100% 100%"


def test_a_fill_has_no_focus(folder: Path) -> None:
    (folder / "plan.yaml").write_text(of("fill: red, focus: 0% 0% 10% 10%"), "utf-8")
    with pytest.raises(rl.PlanError, match="a fill has no 'focus'; remove it"):
        rl.read(folder / "plan.yaml")


@pytest.mark.parametrize(
    ("layer", "viewports", "position"),
    [
        (_PHOTO, "phone: 390x844", "7% 50%"),
        (f"{_PHOTO}, position: 7% 50%", "phone: 390x844", None),
        (_PHOTO, "laptop: 1280x800", None),
        (f"{_PHOTO}, speed: 0.4", "phone: 390x844", "6% 50%"),
        (f"{_PHOTO}, attachment: fixed", "phone: 390x844", "5% 50%"),
        ("image: photo.png, focus: 40% 0% 20% 10%", "laptop: 1280x500", "50% 0%"),
        ("image: photo.png, focus: 0% 0% 100% 20%", "phone: 390x844", ""),
    ],
)
def test_a_focus_that_is_cut_off_comes_with_the_position_that_keeps_it(
    make_plan: MakePlan, layer: str, viewports: str, position: str | None
) -> None:
    plan = make_plan(of(layer, viewports=viewports))
    findings = found(plan, "focus-lost")
    if position is None:
        assert findings == []
        return
    (finding,) = findings
    assert finding.measured < 1
    if not position:
        assert "make its section larger" in finding.remedy.words
        return
    assert finding.remedy.words == f"set its position to {position}"
    fixed = plan.replace({"pages.page.sections.a.layers.0.position": position})
    assert found(fixed, "focus-lost") == []


def test_tune_finds_one_position_for_all_screens(folder: Path) -> None:
    text = of(_PHOTO, viewports="laptop: 1280x800, phone: 390x844")
    (folder / "plan.yaml").write_text(text, "utf-8")
    printed = run("tune", str(folder / "plan.yaml"), "--only", "focus-lost").stdout
    assert "position: not set → 7% 50%" in printed
    listed = run("list", str(folder / "plan.yaml"), "--of", "pictures").stdout
    assert [line.split()[-5] for line in listed.splitlines()[1:]] == ["100%", "0%"]


@given(
    st.tuples(*[st.integers(0, 60)] * 2, *[st.integers(5, 40)] * 2),
    st.tuples(st.integers(0, 100), st.integers(0, 100)),
    st.sampled_from(["", ", speed: 0.3", ", speed: 0.7, drift: 0.2", ", attachment: fixed"]),
)
def test_the_share_is_that_of_the_px_of_a_painted_picture(
    tmp_path_factory: pytest.TempPathFactory,
    focus: tuple[int, int, int, int],
    position: tuple[int, int],
    motion: str,
) -> None:
    """Counted px by px on a picture that is red where it must be seen."""
    folder = tmp_path_factory.mktemp("focus")
    pixels = np.full((400, 600, 3), 255, dtype=np.uint8)
    left, top, width, height = focus
    pixels[top * 4 : (top + height) * 4, left * 6 : (left + width) * 6] = (255, 0, 0)
    Image.fromarray(pixels).save(folder / "red.png")
    region = " ".join(f"{side}%" for side in focus)
    at = f"{position[0]}% {position[1]}%"
    layer = f"image: red.png, position: {at}, focus: {region}{motion}"
    plan_file = folder / "plan.yaml"
    plan_file.write_text(of(layer, height="300px", viewports="phone: 420x360"), "utf-8")
    view = rl.read(plan_file).view()
    (track,) = [item for item in view.scene.every_px.layers() if item.section == "a"]
    whole = track.box.size[0] * track.box.size[1] * width * height / 10_000
    for scroll in (0, 90, 240):
        painted = view.pixels(scroll).astype(int)
        red = (painted[..., 0] > 200) & (painted[..., 1] < 128)
        # An edge between two px counts for one of them.
        around = (track.box.size[0] * width + track.box.size[1] * height) / 100 + 4
        assert abs(red.sum() - track.focus[scroll] * whole) <= 2 * around
