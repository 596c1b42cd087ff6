"""Easings: CSS Easing Functions 2."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.easings import CubicBezier, parse_easing
from rising_lantern.css.syntax import CssError

# Inputs at which root finders are known to leave the curve.
EDGES = [0.0, 1e-18, 1e-9, 0.5, 1 - 2**-53, 1.0]


@pytest.mark.parametrize(
    ("text", "at", "expected"),
    [
        ("linear", 0.3, 0.3),
        ("ease", 0.4, 0.68254),
        ("ease-in", 0.5, 0.31536),
        ("ease-out", 0.5, 0.68464),
        ("ease-in-out", 0.25, 0.12916),
        ("cubic-bezier(0, 0, 1, 1)", 0.37, 0.37),
        ("cubic-bezier(.68,-.55,.27,1.55)", 0.2, -0.0927),
        ("step-start", 0, 1),
        ("step-end", 0.99, 0),
        ("step-end", 1, 1),
        ("steps(4)", 0.3, 0.25),
        ("steps(4, end)", 0.25, 0.25),
        ("steps(4, start)", 0.1, 0.25),
        ("steps(4, jump-both)", 0, 0.2),
        ("steps(4, jump-both)", 1, 1),
        ("steps(3, jump-none)", 0.5, 0.5),
        ("linear(0, 1)", 0.3, 0.3),
        ("linear(0, 0.25 75%, 1)", 0.75, 0.25),
        ("linear(0, .5 20%, 1)", 0.1, 0.25),
        ("linear(0, .5 20% 80%, 1)", 0.6, 0.5),
        ("linear(0 0%, 0 50%, 1 50%, 1 100%)", 0.5, 1),
        ("linear(0, 1, 0)", 0.5, 1),
        ("linear(0 40%, 1 20%, 1)", 0.4, 1),
        ("linear(0, 1.4, 1)", 0.5, 1.4),
    ],
)
def test_an_easing_has_this_value(text: str, at: float, expected: float) -> None:
    assert float(parse_easing(text)(at)) == pytest.approx(expected, abs=1e-4)


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("", "is not a single easing"),
        ("eese", "'eese' is not an easing"),
        ("ease ease", "is not a single easing"),
        ("cubic-bezier(0, 0, 1)", "takes four numbers"),
        ("cubic-bezier(0, 0, 1, 1px)", "takes four numbers"),
        ("cubic-bezier(2, 0, 1, 1)", "outside 0 to 1"),
        ("cubic-bezier(0, 1e999, 1, 1)", "finite"),
        ("steps(0)", "cannot have 0 steps"),
        ("steps(1, jump-none)", "cannot have 1 steps"),
        ("steps(2.5)", "takes a whole number"),
        ("steps(100000)", "cannot have 100000 steps"),
        ("steps(2, sideways)", "'sideways' is not a jump keyword"),
        ("linear(1)", "two stops or more"),
        ("linear(0, 1 2 3)", "is not a stop"),
        ("linear(0, , 1)", "is not a stop"),
    ],
)
def test_what_is_no_easing_is_refused(text: str, problem: str) -> None:
    with pytest.raises(CssError, match=problem.replace("(", r"\(")):
        parse_easing(text)


handles = st.floats(0, 1)
heights = st.floats(-2, 3)
beziers = st.builds(CubicBezier, handles, heights, handles, heights)


@given(beziers)
def test_a_curve_starts_at_0_ends_at_1_and_is_finite_everywhere(curve: CubicBezier) -> None:
    values = curve(EDGES)
    assert values[0] == 0
    assert values[-1] == 1
    assert np.isfinite(values).all()
    assert abs(values[1]) < 1e-3


@given(beziers, st.floats(0.001, 0.999))
def test_a_point_of_the_curve_lies_on_it(curve: CubicBezier, u: float) -> None:
    """A point made from the parameter, by de Casteljau's construction, is found from its x."""
    x = _de_casteljau(u, curve.x1, curve.x2)
    y = _de_casteljau(u, curve.y1, curve.y2)
    slope = (_de_casteljau(u + 1e-6, curve.x1, curve.x2) - x) / 1e-6
    if slope > 1e-2:  # where the curve stands upright, one x has many y
        assert float(curve(x)) == pytest.approx(y, abs=1e-5)


def _de_casteljau(u: float, first: float, second: float) -> float:
    points = [0.0, first, second, 1.0]
    while len(points) > 1:
        points = [a + (b - a) * u for a, b in pairwise(points)]
    return points[0]


@given(beziers.filter(lambda c: 0 <= c.y1 <= 1 and 0 <= c.y2 <= 1))
def test_a_curve_without_overshoot_rises(curve: CubicBezier) -> None:
    values = curve(np.linspace(0, 1, 200))
    assert (np.diff(values) >= -1e-9).all()


easing_texts = st.one_of(
    st.sampled_from(["linear", "ease", "ease-in", "ease-out", "ease-in-out"]),
    st.builds("steps({}, {})".format, st.integers(2, 9), st.sampled_from(["start", "jump-none"])),
    st.lists(st.floats(-1, 2).map(lambda v: f"{v:.4f}"), min_size=2, max_size=6).map(
        lambda stops: f"linear({', '.join(stops)})"
    ),
    beziers.map(lambda curve: curve.css()),
)


@given(easing_texts)
def test_an_easing_that_is_written_back_is_the_same(text: str) -> None:
    easing = parse_easing(text)
    at = np.linspace(0, 1, 41) + 1e-4
    again = parse_easing(easing.css())
    assert again(at[:-1]) == pytest.approx(easing(at[:-1]), abs=2e-3)
