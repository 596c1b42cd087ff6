"""Background placing, shadows and compositing."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.backgrounds import (
    Repeat,
    parse_position,
    parse_repeat,
    parse_size,
    tiles,
)
from rising_lantern.css.colors import parse_color
from rising_lantern.css.compositing import lay_over, premultiply, scale
from rising_lantern.css.lengths import Basis
from rising_lantern.css.shadows import mix_shadows, parse_shadows
from rising_lantern.css.syntax import CssError

BASIS = Basis(1280, 800)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("cover", (1200, 800)),
        ("contain", (1000, 666.667)),
        ("auto", (300, 200)),
        ("auto auto", (300, 200)),
        ("600px", (600, 400)),
        ("600px auto", (600, 400)),
        ("auto 100px", (150, 100)),
        ("50% 25%", (500, 200)),
        ("50%", (500, 333.333)),
        ("0 10px", (0, 10)),
    ],
)
def test_a_picture_of_300_by_200_is_sized_in_1000_by_800(
    text: str, expected: tuple[float, float]
) -> None:
    assert parse_size(text).used((1000, 800), (300, 200), BASIS) == pytest.approx(expected, 1e-4)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("0 0", (0, 0)),
        ("50% 50%", (450, 350)),
        ("center", (450, 350)),
        ("left", (0, 350)),
        ("top", (450, 0)),
        ("bottom right", (900, 700)),
        ("right bottom", (900, 700)),
        ("20px", (20, 350)),
        ("20px 30px", (20, 30)),
        ("left 30px", (0, 30)),
        ("top 20%", (180, 0)),
        ("right 10px bottom 20px", (890, 680)),
        ("bottom 20px right 10%", (810, 680)),
        ("left 5px top 5px", (5, 5)),
        ("calc(100% - 10px) 0", (890, 0)),
    ],
)
def test_a_box_of_100_by_100_is_placed_in_1000_by_800(
    text: str, expected: tuple[float, float]
) -> None:
    assert parse_position(text).used((1000, 800), (100, 100), BASIS) == pytest.approx(expected)


@pytest.mark.parametrize(
    ("parse", "text"),
    [
        (parse_size, "huge"),
        (parse_size, "10px 10px 10px"),
        (parse_size, "-10px"),
        (parse_size, "10"),
        (parse_size, ""),
        (parse_position, ""),
        (parse_position, "middle"),
        (parse_position, "1px 2px 3px"),
        (parse_position, "center 10px top 10px"),
        (parse_position, "left 10px left 10px"),
        (parse_repeat, "sometimes"),
        (parse_repeat, "repeat-x repeat"),
        (parse_repeat, ""),
    ],
)
def test_what_places_nothing_is_refused(parse: object, text: str) -> None:
    assert callable(parse)
    with pytest.raises(CssError) as caught:
        parse(text)
    assert caught.value.remedy.startswith("write ")


@given(st.sampled_from(["50%", "12.5%", "20px", "-8px", "calc(25% + 3px)"]), st.booleans())
def test_sizes_and_positions_that_are_written_back_are_the_same(text: str, both: bool) -> None:
    whole = f"{text} 30px" if both else text
    position = parse_position(whole)
    assert parse_position(position.css()) == position
    if not text.startswith("-"):
        size = parse_size(whole)
        assert parse_size(size.css()) == size


@given(
    st.sampled_from(["repeat", "no-repeat", "space", "round"]),
    st.floats(10, 900),
    st.floats(3, 700),
    st.floats(-300, 600),
)
def test_copies_of_a_picture(mode: Repeat, area: float, extent: float, offset: float) -> None:
    """Repeated copies leave no gap, rounded and spaced ones fill the area exactly."""
    result = tiles(mode, area, extent, offset)
    starts = result.starts(0, area)
    assert all(start < area + 1e-9 and start + result.extent > -1e-9 for start in starts)
    if mode == "repeat":
        assert starts[0] <= 1e-6
        assert starts[-1] + extent >= area - 1e-6
        assert np.allclose(np.diff(starts), extent)
        assert (starts[0] - offset) / extent == pytest.approx(round((starts[0] - offset) / extent))
    if mode == "space" and area // extent > 1:
        assert starts[0] == 0
        assert starts[-1] + extent == pytest.approx(area)
        assert len(starts) == area // extent


def test_a_box_shadow_is_read_and_written() -> None:
    first, second = parse_shadows("0 2px 12px rgb(0 0 0 / .2), red 1px -1px")
    assert (first.y.px(BASIS), first.blur.px(BASIS)) == (2, 12)
    assert second.color == parse_color("red")
    assert second.spread.px(BASIS) == 0
    assert parse_shadows(first.css()) == (first,)
    assert parse_shadows("none") == ()


@pytest.mark.parametrize("text", ["", "2px", "1px 2px -3px", "1px 2px red blue", "inset 0 0 3px"])
def test_what_is_no_shadow_is_refused(text: str) -> None:
    with pytest.raises(CssError):
        parse_shadows(text)


def test_shadows_mix_with_none_as_clear_ones() -> None:
    shadow = tuple(
        parse_shadow.used(BASIS) for parse_shadow in parse_shadows("0 4px 10px rgb(0 0 0 / .4)")
    )
    (half,) = mix_shadows((), shadow, 0.5)
    assert (half.y, half.blur, half.color.alpha) == (2, 5, 0.2)


def test_a_product_of_bytes_is_rounded_to_the_nearest() -> None:
    """All 65,536 of them, against exact division."""
    values = np.arange(256, dtype=np.uint8)
    exact = np.floor(np.outer(values.astype(float), values.astype(float)) / 255 + 0.5)
    assert (scale(values[:, None], values[None, :]) == exact).all()


@given(st.lists(st.tuples(*[st.integers(0, 255)] * 4), min_size=2, max_size=2))
def test_laying_one_colour_over_another_is_within_a_level_of_the_formula(
    pair: list[tuple[int, ...]],
) -> None:
    below = np.array([[pair[0][:3]]], dtype=np.uint8)
    above = premultiply(np.array([[pair[1]]], dtype=np.uint8))
    share = pair[1][3] / 255
    expected = [a * share + b * (1 - share) for a, b in zip(pair[1], pair[0][:3], strict=False)]
    lay_over(below, above)
    assert np.abs(below[0, 0] - np.array(expected)).max() <= 1
