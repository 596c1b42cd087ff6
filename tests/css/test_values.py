"""Filters, borders, times, radial and conic gradients."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.borders import parse_border
from rising_lantern.css.colors import parse_color
from rising_lantern.css.filters import parse_filters
from rising_lantern.css.gradients import RadialGradient, parse_gradient
from rising_lantern.css.lengths import Basis
from rising_lantern.css.syntax import CssError
from rising_lantern.css.times import parse_time

BASIS = Basis(1280, 800)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("brightness(.5)", (50, 25, 100)),
        ("brightness(150%)", (150, 75, 255)),
        ("contrast(.5)", (114, 89, 164)),
        ("contrast(2)", (73, 0, 255)),
        ("invert(1)", (155, 205, 55)),
        ("invert(50%)", (128, 128, 128)),
        ("grayscale(1)", (71, 71, 71)),
        ("grayscale(3)", (71, 71, 71)),
        ("saturate(0)", (72, 72, 72)),
        ("saturate(1)", (100, 50, 200)),
        ("sepia(1)", (116, 103, 80)),
        ("hue-rotate(0)", (100, 50, 200)),
        ("hue-rotate(360deg)", (100, 50, 200)),
        ("hue-rotate(180deg)", (43, 93, 0)),
        ("brightness(.5) invert(1)", (205, 230, 155)),
        ("invert(1) brightness(.5)", (78, 103, 28)),
        ("none", (100, 50, 200)),
    ],
)
def test_filters_change_a_colour_as_the_standard_has_it(
    text: str, expected: tuple[int, int, int]
) -> None:
    """Filter Effects 1, 13.1, on rgb(100 50 200)."""
    pixel = (np.array([[100, 50, 200, 255]]) / 255).astype(np.float32)
    for parse_filter in parse_filters(text):
        pixel = parse_filter.applied(pixel)
    assert pixel[0, :3] * 255 == pytest.approx(expected, abs=1)
    assert pixel[0, 3] == 1


def test_an_opacity_filter_changes_alpha_only() -> None:
    pixel = np.array([[0.2, 0.4, 0.6, 0.5]], dtype=np.float32)
    (filter_,) = parse_filters("opacity(40%)")
    assert filter_.applied(pixel)[0].tolist() == pytest.approx([0.2, 0.4, 0.6, 0.2])


def test_a_blur_has_a_deviation() -> None:
    (filter_,) = parse_filters("blur(1vh)")
    assert filter_.deviation(BASIS) == 8
    assert parse_filters("blur()")[0].deviation(BASIS) == 0


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("", "is not a filter"),
        ("bright", "'bright' is not a filter"),
        ("brightnes(1)", "is not a filter"),
        ("brightness(-1)", "is not an amount for brightness"),
        ("brightness(1px)", "is not an amount for brightness"),
        ("brightness(1 2)", "is not an amount for brightness"),
        ("brightness(1e999)", "is not an amount"),
        ("hue-rotate(30)", "is not an angle"),
        ("blur(2)", "has no unit"),
        ("blur(-2px)", "a blur radius must be a length"),
        ("blur(2%)", "a blur radius must be a length"),
        ("drop-shadow(0 0 2px red)", "is not a filter"),
        ("url(#x)", "is not a filter"),
    ],
)
def test_what_is_no_filter_is_refused(text: str, problem: str) -> None:
    with pytest.raises(CssError, match=problem.replace("(", r"\(")):
        parse_filters(text)


amounts = st.floats(0, 3).map("{:.3f}".format)
filters = st.lists(
    st.one_of(
        st.builds("{}({})".format, st.sampled_from(["brightness", "sepia", "invert"]), amounts),
        st.integers(-400, 400).map("hue-rotate({}deg)".format),
        st.integers(0, 20).map("blur({}px)".format),
    ),
    min_size=1,
    max_size=4,
).map(" ".join)


@given(filters)
def test_filters_that_are_written_back_are_the_same(text: str) -> None:
    result = parse_filters(text)
    assert parse_filters(" ".join(item.css() for item in result)) == result


def test_borders() -> None:
    border = parse_border("solid 2px ink", {"ink": parse_color("#102030")})
    assert border.css() == "2px solid rgba(16, 32, 48, 1)"
    assert parse_border(border.css()) == border
    for text in (
        "",
        "2px",
        "2px dashed red",
        "2 solid red",
        "-1px solid",
        "1% solid",
        "1px solid red red",
    ):
        with pytest.raises(CssError):
            parse_border(text)


def test_times() -> None:
    assert parse_time("300ms") == parse_time(".3s") == 300
    for text in ("", "300", "3px", "-1s", "61s", "1e999s", "1s 2s"):
        with pytest.raises(CssError):
            parse_time(text)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("radial-gradient(red, blue)", (100 * math.sqrt(2), 50 * math.sqrt(2))),
        ("radial-gradient(circle, red, blue)", (math.hypot(100, 50),) * 2),
        ("radial-gradient(closest-side, red, blue)", (100, 50)),
        ("radial-gradient(circle closest-side, red, blue)", (50, 50)),
        ("radial-gradient(circle farthest-side at 20% 50%, red, blue)", (160, 160)),
        ("radial-gradient(farthest-side at 20% 30%, red, blue)", (160, 70)),
        ("radial-gradient(closest-corner at 20% 30%, red, blue)", (40 * 2**0.5, 30 * 2**0.5)),
        ("radial-gradient(circle closest-corner at 20% 30%, red, blue)", (50, 50)),
        ("radial-gradient(30px, red, blue)", (30, 30)),
        ("radial-gradient(10% 20px, red, blue)", (20, 20)),
    ],
)
def test_a_radial_gradient_in_200_by_100_reaches_so_far(
    text: str, expected: tuple[float, float]
) -> None:
    """CSS Images 3, 3.2.1."""
    gradient = parse_gradient(text)
    assert isinstance(gradient, RadialGradient)
    assert gradient.radii(200, 100, BASIS) == pytest.approx(expected)


def test_radial_and_conic_gradients_have_these_pixels() -> None:
    rings = parse_gradient("radial-gradient(circle at 0 0, #000 2px, #fff 2px)").pixels(4, 1, BASIS)
    assert rings[0, :, 0].tolist() == [0, 0, 1, 1]
    pie = parse_gradient("conic-gradient(#000 0 25%, #fff 90deg 100%)").pixels(2, 2, BASIS)
    assert pie[..., 0].tolist() == [[1, 0], [1, 1]]
    turned = parse_gradient("conic-gradient(from 90deg, #000 25%, #fff 25%)").pixels(2, 2, BASIS)
    assert turned[..., 0].tolist() == [[1, 1], [1, 0]]


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("radial-gradient(square, red, blue)", "is not a colour"),
        ("radial-gradient(circle 10px 20px, red, blue)", "is not a shape"),
        ("radial-gradient(ellipse 10px, red, blue)", "is not a shape"),
        ("radial-gradient(-10px, red, blue)", "negative size"),
        ("radial-gradient(circle at up, red, blue)", "not a position here"),
        ("conic-gradient(from 3px, red, blue)", "is not an angle"),
        ("conic-gradient(from, red, blue)", "is not a start angle"),
        ("conic-gradient(red 3px, blue)", "is not an angle or percentage"),
        ("conic-gradient(red 1e999deg, blue)", "is not an angle"),
    ],
)
def test_what_is_no_gradient_is_refused(text: str, problem: str) -> None:
    with pytest.raises(CssError, match=problem):
        parse_gradient(text)


heads = st.sampled_from(
    [
        "radial-gradient(",
        "radial-gradient(circle at 20% 70%, ",
        "radial-gradient(closest-corner at right 3px top 2px, ",
        "repeating-radial-gradient(7px 9px, ",
        "conic-gradient(",
        "conic-gradient(from 40grad at 30% 5px, ",
        "repeating-conic-gradient(from .2turn, ",
    ]
)
stops = st.lists(
    st.builds("#{:06x} {}%".format, st.integers(0, 0xFFFFFF), st.integers(0, 100)),
    min_size=2,
    max_size=4,
).map(", ".join)


@given(heads, stops)
def test_gradients_that_are_written_back_paint_the_same(head: str, stops: str) -> None:
    gradient = parse_gradient(f"{head}{stops})")
    again = parse_gradient(gradient.css())
    first, second = (result.pixels(17, 13, BASIS) for result in (gradient, again))
    assert np.isfinite(first).all()
    assert (np.abs(first - second).max(axis=-1) < 1e-3).mean() > 0.98
