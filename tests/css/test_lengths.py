"""Lengths: CSS Values and Units 4."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.length_parsing import parse_length
from rising_lantern.css.lengths import Basis, percent, px
from rising_lantern.css.syntax import CssError

BASIS = Basis(1280, 800, font_size=20, root_font_size=16, whole=500)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("0", 0),
        ("-0", 0),
        ("12px", 12),
        ("12PX", 12),
        ("+12px", 12),
        ("-.5px", -0.5),
        ("1e2px", 100),
        ("2em", 40),
        ("2rem", 32),
        ("1in", 96),
        ("2.54cm", 96),
        ("25.4mm", 96),
        ("101.6q", 96),
        ("72pt", 96),
        ("6pc", 96),
        ("50vh", 400),
        ("50svh", 400),
        ("50lvh", 400),
        ("50dvh", 400),
        ("10vw", 128),
        ("10dvw", 128),
        ("1vmin", 8),
        ("1vmax", 12.8),
        ("25%", 125),
        ("100vh - 80px", 720),
        ("50% + 20px", 270),
        ("calc(100vh - 80px)", 720),
        ("calc(2 * (10px + 5px))", 30),
        ("calc((10px + 5px) * 2)", 30),
        ("calc(10px / 4)", 2.5),
        ("calc(1px - 2px - 3px)", -4),
        ("calc(3 * 2px * 2)", 12),
        ("calc(2px * -1)", -2),
        ("calc( 1px + calc( 2px ) )", 3),
        ("calc(10px * (2 + 3))", 50),
        ("min(10px, 2vh, 1in)", 10),
        ("max(10px, 2vh, 1in)", 96),
        ("clamp(10px, 5vw, 40px)", 40),
        ("clamp(10px, 1px, 40px)", 10),
        ("clamp(50px, 1px, 40px)", 50),
        ("calc(100% - min(20px, 5vw) / 2)", 490),
        ("/* a comment */ 3px", 3),
    ],
)
def test_a_length_comes_to_so_many_px(text: str, expected: float) -> None:
    assert parse_length(text).px(BASIS) == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "problem", "offset"),
    [
        ("12", "'12' has no unit", 0),
        ("", "'' is not a length", 0),
        ("12 px", "there is a space between '12' and its unit", 3),
        ("50 %", "there is a space between '50' and its unit", 3),
        ("round(31.3vh)", "round() takes a length and the step", 0),
        ("round(sideways, 31.3vh, 4px)", "round() takes a length and the step", 0),
        ("round(up, 3, 4px)", "a number without a unit", 0),
        ("10px 5px", "'5px' cannot follow '10px'", 5),
        ("10px + 5", "'5' has no unit", 7),
        ("50vz", "'50vz' has an unknown unit", 0),
        ("tall", "'tall' is not a length", 0),
        ("calc(1px * 2px)", "two lengths cannot be multiplied", 11),
        ("calc(1px / 0)", "only be divided by a number", 11),
        ("calc(1px / 2px)", "only be divided by a number", 11),
        ("calc()", "is not a length", 6),
        ("calc(1px, 2px)", "calc() takes one calculation", 0),
        ("clamp(1px, 2px)", "clamp() takes three lengths", 0),
        ("min(1px, 2)", "has a number without a unit", 0),
        ("1e999px", "is not finite", 0),
        ("calc(1px +)", "is not a length", 11),
        ("10px;}", "cannot be read as CSS", 5),
        ("url(x)", "is not a length", 0),
        ("rgb(1 2 3)", "is not a length", 0),
        ("10px)", "cannot be read as CSS", 4),
    ],
)
def test_what_is_no_length_is_refused_at_its_place(text: str, problem: str, offset: int) -> None:
    with pytest.raises(CssError) as caught:
        parse_length(text)
    assert problem in caught.value.problem
    assert caught.value.offset == offset
    assert caught.value.remedy


def test_a_negative_or_relative_length_says_so() -> None:
    assert parse_length("-3px").is_negative
    assert not parse_length("calc(1px - 3px)").is_negative
    assert parse_length("3%").is_percentage
    assert not parse_length("3% + 1px").is_percentage


numbers = st.floats(-1e4, 1e4).map(lambda value: round(value, 3))
units = st.sampled_from(["px", "%", "vh", "vw", "vmin", "vmax", "em", "rem", "pt", "in"])
terms = st.builds(lambda value, unit: f"{value:.3f}{unit}", numbers, units)


def _grown(inner: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    factor = numbers.filter(lambda value: abs(value) > 0.01)
    return st.one_of(
        st.builds("({} + {})".format, inner, inner),
        st.builds("({} - {})".format, inner, inner),
        st.builds(lambda a, f: f"({a} * {f})", inner, factor),
        st.builds(lambda f, a: f"({f} * {a})", factor, inner),
        st.builds("min({}, {})".format, inner, inner),
        st.builds("max({}, {}, {})".format, inner, inner, inner),
    )


lengths = st.recursive(terms, _grown, max_leaves=6).map(lambda text: f"calc({text})")


@given(lengths)
def test_a_length_that_is_written_back_means_the_same(text: str) -> None:
    length = parse_length(text)
    again = parse_length(length.css())
    assert again.px(BASIS) == pytest.approx(length.px(BASIS), rel=1e-4, abs=0.05)


@given(lengths)
def test_a_length_as_data_means_the_same(text: str) -> None:
    """The script in exported pages evaluates this form; here it is evaluated a second way."""
    length = parse_length(text)
    assert _from_data(length.expression.data()) == pytest.approx(length.px(BASIS), abs=1e-6)


def _from_data(data: list[Any]) -> float:
    head, *rest = data
    if head == "sum":
        return math.fsum(_from_data(part) for part in rest)
    if head == "times":
        return float(rest[0]) * _from_data(rest[1])
    if head in {"min", "max"}:
        return (min if head == "min" else max)(_from_data(part) for part in rest)
    return float(head) * BASIS.unit(rest[0])


def test_percentages_can_be_written_in_another_unit() -> None:
    assert parse_length("50% + 2px").css("vh") == "calc(50vh + 2px)"
    assert px(2).css() == "2px"
    assert percent(12.5).css() == "12.5%"
