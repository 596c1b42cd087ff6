"""Colours: CSS Color 4, with the figures of the standard's own examples and test suite."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.color_spaces import POLAR, RECTANGULAR, converted
from rising_lantern.css.colors import Color, Premultiplied, mix, parse_color
from rising_lantern.css.easings import parse_easing
from rising_lantern.css.syntax import CssError

GREEN = "#008000ff"


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("#f0a", "#ff00aaff"),
        ("#f0a8", "#ff00aa88"),
        ("#16213e", "#16213eff"),
        ("#16213e80", "#16213e80"),
        ("RebeccaPurple", "#663399ff"),
        ("transparent", "#00000000"),
        ("rgb(0 0 0 / .4)", "#00000066"),
        ("rgb(0 0 0 / 40%)", "#00000066"),
        ("rgba(255, 128, 0, 0.5)", "#ff800080"),
        ("rgb(100% 50% 0%)", "#ff8000ff"),
        ("rgb(300 -20 0)", "#ff0000ff"),
        ("rgb(none 128 none)", GREEN),
        ("hsl(120deg 100% 25%)", "#008000ff"),
        ("hsla(120, 100%, 25%, .5)", "#00800080"),
        ("hsl(.5turn 100% 50%)", "#00ffffff"),
        ("hwb(90 10% 10%)", "#80e61aff"),
        ("hwb(0 60% 60%)", "#808080ff"),
        # css-color-4's examples of one dark red in several spaces
        ("lab(29.2345% 39.3825 20.0664)", "#7d2329ff"),
        ("lch(29.2345% 44.2 27)", "#7d2329ff"),
        ("oklab(40.101% 0.1147 0.0453)", "#7d2329ff"),
        ("oklch(40.101% 0.12332 21.555)", "#7d2329ff"),
        # the same green in every space
        ("lab(46.2775% -47.5621 48.5837)", GREEN),
        ("lch(46.2775% 67.9892 134.3912)", GREEN),
        ("oklab(51.975% -0.1403 0.10768)", GREEN),
        ("oklch(51.975% 0.17686 142.495)", GREEN),
        ("color(srgb 0 .50196 0)", GREEN),
        ("color(srgb-linear 0 0.21586 0)", GREEN),
        ("color(display-p3 0.21604 0.49418 0.13151)", GREEN),
        ("color(a98-rgb 0.281363 0.498012 0.116746)", GREEN),
        ("color(prophoto-rgb 0.230479 0.395789 0.129968)", GREEN),
        ("color(rec2020 0.235202 0.431704 0.085432)", GREEN),
        ("color(xyz 0.07719 0.15438 0.02573)", GREEN),
        ("color(xyz-d65 0.07719 0.15438 0.02573)", GREEN),
        ("color(xyz-d50 0.08312 0.154746 0.020961)", GREEN),
        ("paper", "#fdf6e3ff"),
    ],
)
def test_a_colour_comes_to_these_bytes(text: str, expected: str) -> None:
    assert parse_color(text, {"paper": Color(253 / 255, 246 / 255, 227 / 255)}).hex() == expected


@pytest.mark.parametrize(
    "text",
    [
        "",
        "papr",
        "#12",
        "#12345",
        "rgb(1 2)",
        "rgb(1, 2 3)",
        "color()",
        "color(nowhere 1 2 3)",
        "oklch(1, 2, 3)",
        "red blue",
        "12px",
        "url(x)",
        "red;}",
        "currentcolor",
        "rgb(0 0 0 / 1px)",
    ],
)
def test_what_is_no_colour_is_refused(text: str) -> None:
    with pytest.raises(CssError) as caught:
        parse_color(text)
    assert caught.value.remedy.startswith(("write a colour such as #16213e", "close every bracket"))


shares = st.floats(0, 1)
colors = st.builds(Color, shares, shares, shares, shares)


@given(colors)
def test_a_colour_that_is_written_back_is_the_same(color: Color) -> None:
    again = parse_color(color.css())
    assert again.bytes[:3] == color.bytes[:3]
    assert again.alpha == pytest.approx(color.alpha, abs=1e-6)
    assert parse_color(color.hex()).bytes == color.bytes


@given(colors, colors, shares)
def test_a_mix_is_premultiplied(first: Color, second: Color, share: float) -> None:
    """Against the plain formula of CSS Color 4, 12.3."""
    mixed = mix(first, second, share)
    alpha = first.alpha * (1 - share) + second.alpha * share
    assert mixed.alpha == pytest.approx(alpha, abs=1e-9)
    if alpha > 1e-6:
        for a, b, c in zip(first.rgba[:3], second.rgba[:3], mixed.rgba[:3], strict=True):
            expected = (a * first.alpha * (1 - share) + b * second.alpha * share) / alpha
            assert c == pytest.approx(expected, abs=1e-6)


def test_a_mix_matches_what_browsers_were_measured_to_do() -> None:
    half = mix(parse_color("transparent"), parse_color("#fff"), 0.5)
    assert half.hex() == "#ffffff80"
    black = parse_color("rgb(0 0 0 / .5)")
    thirds = [mix(black, parse_color("#fff"), share) for share in (0.25, 0.5, 0.75)]
    assert [color.bytes[0] for color in thirds] == [102, 170, 219]
    assert [color.alpha for color in thirds] == [0.625, 0.75, 0.875]


def test_an_overshooting_mix_stays_a_colour() -> None:
    over = mix(parse_color("#000"), parse_color("#fff"), 1.3)
    assert over.rgba == (1, 1, 1, 1)
    under = mix(parse_color("rgb(0 0 0 / .1)"), parse_color("rgb(0 0 0 / .9)"), -0.5)
    assert under.alpha == 0


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # css-color-5's own examples, each with the colour that it names
        (
            "color-mix(in oklch longer hue, color(display-p3 0 1 0) 40%, color(display-p3 0 0 1))",
            None,
        ),
        ("color-mix(in lch, purple 50%, plum 50%)", "#af5cae"),
        ("color-mix(in lch, plum, purple)", "#af5cae"),
        ("color-mix(in srgb, red, blue)", "#800080"),
        ("color-mix(in srgb, red 100%, blue)", "#ff0000"),
        ("color-mix(in srgb, red, blue 0%)", "#ff0000"),
        ("rgb(from hsl(none none none) r g b)", "#000000"),
        ("rgb(from rebeccapurple r g b)", "#663399"),
        ("hsl(from rebeccapurple calc(h + 180) s l)", "#669933"),
        ("lch(from peru calc(l * .8) c h)", None),
        ("light-dark(#f4a259, black)", "#f4a259"),
    ],
)
def test_colours_made_from_others_come_to_these(text: str, expected: str | None) -> None:
    found = parse_color(text)
    assert expected is None or found.hex()[:7] == expected


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("color-mix(in srgb, red)", "takes a space and two colours"),
        ("color-mix(red, blue)", "takes a space and two colours"),
        ("color-mix(srgb, red, blue)", "starts with a colour space"),
        ("color-mix(in srbg, red, blue)", "'srbg' is not a colour space"),
        ("color-mix(in srgb longer hue, red, blue)", "only a hue can stand here"),
        ("color-mix(in srgb, red 0%, blue 0%)", "both 0%"),
        ("color-mix(in srgb, red 120%, blue)", "a share is 0% to 100%"),
        ("color-mix(in srgb, redd, blue)", "'redd' is not a colour"),
        ("rgb(from red r g)", "three channels"),
        ("rgb(from red r g x)", "'x' is not a channel"),
        ("rgb(from red r g calc(b / 0))", "division by zero"),
        ("rgb(from red r g calc(b +))", "not complete"),
        ("rgb(from)", "needs a colour"),
        ("color(from red nowhere r g b)", "color() needs a colour space"),
        ("light-dark(red)", "takes two colours"),
    ],
)
def test_faults_in_colours_made_from_others_are_said(text: str, message: str) -> None:
    with pytest.raises(CssError) as caught:
        parse_color(text)
    assert message in caught.value.problem


@given(
    st.tuples(*[st.floats(0, 1)] * 3),
    st.sampled_from([*sorted(POLAR), *sorted(RECTANGULAR)]),
)
def test_a_colour_goes_to_any_space_and_back(channels: tuple[float, ...], space: str) -> None:
    red, green, blue = channels
    there = converted((red, green, blue), "srgb", space)
    assert converted(there, space, "srgb") == pytest.approx(channels, abs=2e-6)


def test_a_mix_that_overshot_is_mixed_further_as_browsers_do() -> None:
    """Figures of Chromium 156: a fade past an opaque colour, turned round there."""
    solid, clear = (Premultiplied.of(parse_color(text)) for text in ("#fe8", "#123c"))
    easing = parse_easing("cubic-bezier(.68, -.55, .27, 1.55)")
    start = clear.mixed(solid, float(easing(720 / 900)))
    assert start.color().bytes == (255, 255, 145, 255)
    for time, rgb, alpha in (
        (330, (255, 248, 141), 0.99),
        (360, (247, 232, 134), 0.973),
        (400, (208, 198, 120), 0.937),
        (450, (136, 136, 94), 0.882),
        (500, (71, 80, 70), 0.835),
    ):
        found = start.mixed(clear, float(easing(time / 900))).color()
        assert found.bytes[:3] == pytest.approx(rgb, abs=1.5)
        assert found.alpha == pytest.approx(alpha, abs=0.003)
