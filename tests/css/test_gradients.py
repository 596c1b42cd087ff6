"""Linear gradients: CSS Images 3, section 3."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.colors import parse_color
from rising_lantern.css.gradients import parse_gradient
from rising_lantern.css.lengths import Basis
from rising_lantern.css.syntax import CssError

BASIS = Basis(1280, 800)


def _reds(text: str, width: int, height: int) -> list[list[int]]:
    pixels = parse_gradient(text).pixels(width, height, BASIS)
    whole = np.broadcast_to(pixels, (height, width, 4))
    return [[round(float(value) * 255) for value in row] for row in whole[..., 0]]


@pytest.mark.parametrize(
    ("text", "width", "height", "expected"),
    [
        ("linear-gradient(#000, #fff)", 1, 4, [[32], [96], [159], [223]]),
        ("linear-gradient(to top, #000, #fff)", 1, 4, [[223], [159], [96], [32]]),
        ("linear-gradient(to right, #000, #fff)", 4, 1, [[32, 96, 159, 223]]),
        ("linear-gradient(90deg, #000, #fff)", 4, 1, [[32, 96, 159, 223]]),
        ("linear-gradient(.25turn, #000, #fff)", 4, 1, [[32, 96, 159, 223]]),
        ("linear-gradient(100grad, #000, #fff)", 4, 1, [[32, 96, 159, 223]]),
        ("linear-gradient(to left, #000, #fff)", 4, 1, [[223, 159, 96, 32]]),
        ("linear-gradient(90deg, #000 50%, #fff 50%)", 4, 1, [[0, 0, 255, 255]]),
        ("linear-gradient(90deg, #000 2px, #fff 2px)", 4, 1, [[0, 0, 255, 255]]),
        ("linear-gradient(90deg, #000 0 25%, #fff 25% 100%)", 4, 1, [[0, 255, 255, 255]]),
        # a stop before its forerunner is moved up to it
        ("linear-gradient(90deg, #000 75%, #fff 25%)", 4, 1, [[0, 0, 0, 255]]),
        # stops without a place are spread evenly
        ("linear-gradient(90deg, #000, #f00, #000)", 4, 1, [[64, 191, 191, 64]]),
        ("linear-gradient(90deg, #000 -4px, #fff 4px)", 4, 1, [[143, 175, 207, 239]]),
        ("repeating-linear-gradient(90deg, #000 0, #fff 2px)", 4, 1, [[64, 191, 64, 191]]),
        ("repeating-linear-gradient(90deg, #000 0 1px, #fff 1px 2px)", 4, 1, [[0, 255, 0, 255]]),
    ],
)
def test_a_gradient_has_these_pixels(
    text: str, width: int, height: int, expected: list[list[int]]
) -> None:
    assert _reds(text, width, height) == expected


def test_a_gradient_to_a_corner_has_its_middle_on_the_other_diagonal() -> None:
    reds = np.array(_reds("linear-gradient(to bottom right, #000, #fff)", 40, 20))
    across = reds[::-1, :].diagonal()
    for column in range(1, 39):
        row = 20 - 1 - column // 2
        assert reds[row, column] == pytest.approx(127.5, abs=8)
    assert len(across) == 20
    assert reds[0, 0] < 8
    assert reds[-1, -1] > 247


def test_a_hint_bends_the_mix() -> None:
    """CSS Images 4, 3.5.3: at the hint, the mix is half."""
    reds = _reds("linear-gradient(90deg, #000, 25%, #fff)", 200, 1)[0]
    assert reds[50] == pytest.approx(127.5, abs=3)
    assert reds[100] == pytest.approx(255 * 0.5 ** (math.log(0.5) / math.log(0.25)), abs=3)


def test_gradients_mix_premultiplied() -> None:
    pixels = parse_gradient("linear-gradient(90deg, red, transparent)").pixels(2, 1, BASIS)
    assert pixels[0, 0].tolist() == pytest.approx([0.75, 0, 0, 0.75])


def test_colours_of_the_plan_can_be_named() -> None:
    gradient = parse_gradient("linear-gradient(ink, #fff)", {"ink": parse_color("#102030")})
    assert gradient.stops[0].color == parse_color("#102030")


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("linear-gradient()", "a colour stop is empty"),
        ("linear-gradient(red)", "two colours or more"),
        ("linear-gradient(red, papr)", "'papr' is not a colour"),
        ("linear-gradient(to up, red, blue)", "is not a direction"),
        ("linear-gradient(to top bottom, red, blue)", "is not a direction"),
        ("linear-gradient(12px, red, blue)", "not at an end"),
        ("linear-gradient(red, 10%, 20%, blue)", "side by side"),
        ("linear-gradient(red 1 2 3, blue)", "at most two positions"),
        ("linear-gradient(red 10, blue)", "has no unit"),
        ("linear-gradient(red blue, green)", "not a colour stop"),
        ("url(x)", "is not a gradient"),
        ("linear-gradient(red, blue) x", "is not a gradient"),
    ],
)
def test_what_is_no_gradient_is_refused(text: str, problem: str) -> None:
    with pytest.raises(CssError, match=problem):
        parse_gradient(text)


def test_too_many_stops_are_refused() -> None:
    with pytest.raises(CssError, match="more than 200"):
        parse_gradient(f"linear-gradient({', '.join(['red'] * 300)})")


angles = st.one_of(
    st.integers(0, 359).map("{}deg".format),
    st.sampled_from(["to top", "to left", "to bottom right", "to top left"]),
)
places = st.one_of(st.just(""), st.integers(-20, 130).map(" {}%".format))
stop_texts = st.lists(
    st.builds("#{:06x}{}".format, st.integers(0, 0xFFFFFF), places), min_size=2, max_size=5
)


@given(angles, stop_texts, st.booleans())
def test_a_gradient_that_is_written_back_paints_the_same(
    angle: str, stops: list[str], repeats: bool
) -> None:
    name = "repeating-linear-gradient" if repeats else "linear-gradient"
    gradient = parse_gradient(f"{name}({angle}, {', '.join(stops)})")
    again = parse_gradient(gradient.css())
    first, second = (g.pixels(23, 17, BASIS) for g in (gradient, again))
    assert np.abs(first - second).max() < 1e-4


@given(angles, stop_texts)
def test_a_gradient_stays_between_its_colours(angle: str, stops: list[str]) -> None:
    gradient = parse_gradient(f"linear-gradient({angle}, {', '.join(stops)})")
    pixels = gradient.pixels(19, 31, BASIS)
    assert np.isfinite(pixels).all()
    used = np.array([stop.color.rgba for stop in gradient.stops if stop.color])
    assert (pixels.reshape(-1, 4) >= used.min(axis=0) - 1e-5).all()
    assert (pixels.reshape(-1, 4) <= used.max(axis=0) + 1e-5).all()
