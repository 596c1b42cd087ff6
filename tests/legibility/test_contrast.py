"""Contrast: WCAG 2.2, on known pairs and in traces."""

from __future__ import annotations

import numpy as np
import pytest

from plans import MakePlan, plan_text
from rising_lantern.css.colors import parse_color
from rising_lantern.css.contrast import ratio
from rising_lantern.legibility.backdrops import Stain
from rising_lantern.legibility.contrast import luminance, ratios
from rising_lantern.legibility.windows import order_of


@pytest.mark.parametrize(
    ("ink", "ground", "expected"),
    [
        ("#000", "#fff", 21.0),
        ("#fff", "#fff", 1.0),
        ("#777", "#fff", 4.48),
        ("#767676", "#fff", 4.54),
        ("#949494", "#fff", 3.03),
        ("#f00", "#fff", 4.0),
        ("#00f", "#fff", 8.59),
        ("#008000", "#fff", 5.14),
        ("rgb(0 0 0 / .5)", "#fff", 3.95),
    ],
)
def test_pairs_of_colours_have_their_known_ratio(ink: str, ground: str, expected: float) -> None:
    pixels = np.full((3, 5, 3), parse_color(ground).bytes[:3], dtype=np.uint8)
    assert float(ratios(pixels, parse_color(ink))[0, 0]) == pytest.approx(expected, abs=0.03)


def test_luminance_of_every_grey_is_the_formula() -> None:
    greys = np.repeat(np.arange(256, dtype=np.uint8)[:, None], 3, axis=1)
    for level, light in enumerate(luminance(greys)):
        value = level / 255
        expected = value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4
        assert light == pytest.approx(expected)
    assert ratio(0.0, 1.0) == 21


def test_a_few_bad_pixels_do_not_count_and_a_patch_of_them_does() -> None:
    pixels = np.zeros((10, 10, 3), dtype=np.uint8)
    stain = Stain(parse_color("#fff"))
    pixels[0, :5] = 255
    assert order_of(stain.bins(pixels), (0.05, 0.5)) == (21, 21)
    pixels[0, :6] = 255
    assert order_of(stain.bins(pixels), (0.05, 0.5)) == (1, 21)


def test_a_trace_says_where_a_part_cannot_be_read(make_plan: MakePlan) -> None:
    """White text over a dark, then a white section, then on its own dark ground."""
    header = (
        "height: 60px, color: white, parts: {name: {text: Saltmere}}, "
        "looks: {clear: {}, solid: {from: 700px, background: black}}"
    )
    sections = "a: {height: 500px, background: black}, b: {height: 1200px}"
    table = make_plan(plan_text(header=header, sections=sections)).view().trace(step=50)
    contrast = table.set_index("scroll_px")["contrast"]
    assert (contrast[contrast.index <= 450] == 21).all()
    assert (contrast[(contrast.index >= 500) & (contrast.index < 700)] == 1).all()
    assert (contrast[contrast.index >= 700] == 21).all()


def test_the_worst_part_counts_and_pictures_by_their_ink(make_plan: MakePlan) -> None:
    header = (
        "height: 60px, background: white, color: black, "
        "parts: {name: {text: Saltmere}, brand: {image: logo-light.png}}"
    )
    contrast = make_plan(plan_text(header=header)).view().trace(step=500)["contrast"]
    light = luminance(np.array([[250, 245, 230]], dtype=np.uint8))[0]
    assert contrast.to_numpy() == pytest.approx(float(ratio(light, 1.0)), abs=0.01)


def test_a_header_off_the_screen_has_no_contrast(make_plan: MakePlan) -> None:
    header = "position: static, height: 60px, parts: {name: {text: Saltmere}}"
    contrast = make_plan(plan_text(header=header)).view().trace(step=100)["contrast"]
    assert contrast.iloc[0] == 21
    assert contrast.iloc[1:].isna().all()
