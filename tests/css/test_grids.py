"""Paddings, gaps and columns."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.css.grids import GridTrack, parse_gap, parse_tracks, used_tracks
from rising_lantern.css.insets import parse_insets
from rising_lantern.css.lengths import Basis, px
from rising_lantern.css.syntax import CssError
from rising_lantern.plan.models.sizes import parse_size


@pytest.mark.parametrize(
    ("text", "sides"),
    [("7px", "7777"), ("7px 8px", "7878"), ("7px 8px 9px", "7898"), ("6px 7px 8px 9px", "6789")],
)
def test_a_padding_has_one_to_four_sides(text: str, sides: str) -> None:
    insets, basis = parse_insets(text), Basis(1000, 600)
    found = [insets.top, insets.right, insets.bottom, insets.left]
    assert "".join(f"{side.px(basis):.0f}" for side in found) == sides
    assert insets.css() == text


@pytest.mark.parametrize(
    ("parse", "text", "message"),
    [
        (parse_insets, "-4px", "'-4px' is negative"),
        (parse_insets, "1px 2px 3px 4px 5px", "is not a padding"),
        (parse_insets, "4", "'4' has no unit"),
        (parse_gap, "10%", "a gap cannot be a percentage"),
        (parse_gap, "calc(1px + 2%)", "a gap cannot be a percentage"),
        (parse_gap, "1px 2px 3px", "is not a gap"),
        (parse_tracks, "", "columns need widths"),
        (parse_tracks, "1fr auto", "'auto' is not the width of a column"),
        (parse_tracks, "-1fr", "'-1fr' is negative"),
        (parse_tracks, " ".join(["1fr"] * 25), "there are 25 columns"),
        (parse_size, "one-line 3", "'3' has no unit"),
        (parse_size, "one-line -3px", "negative"),
        (parse_size, "one-lines", "one-lines"),
    ],
)
def test_what_is_wrong_is_said(parse: object, text: str, message: str) -> None:
    assert callable(parse)
    with pytest.raises(CssError, match=message.replace("(", "\\(")):
        parse(text)


@pytest.mark.parametrize(
    ("text", "widths"),
    [
        ("1fr 3fr", [245, 735]),
        ("240px 1fr", [240, 740]),
        ("25% 1fr", [250, 730]),
        ("0.2fr 0.3fr", [196, 294]),
        ("900px 900px", [900, 900]),
        ("2000px 1fr", [2000, 0]),
    ],
)
def test_columns_share_what_lengths_leave(text: str, widths: list[float]) -> None:
    found = used_tracks(parse_tracks(text), Basis(1280, 800, whole=1000), 20)
    assert [width for _, width in found] == pytest.approx(widths)
    assert found[1][0] == pytest.approx(widths[0] + 20)


@given(
    st.lists(st.one_of(st.floats(0, 9), st.floats(0, 300).map(px)), min_size=1, max_size=24),
    st.floats(0, 3000),
    st.floats(0, 60),
)
def test_columns_follow_each_other_and_fill_the_width(
    given_tracks: list[object], whole: float, gap: float
) -> None:
    tracks = [
        GridTrack(item, None) if isinstance(item, float) else GridTrack(None, item)  # type: ignore[arg-type]
        for item in given_tracks
    ]
    found = used_tracks(tracks, Basis(1280, 800, whole=whole), gap)
    assert found[0][0] == 0
    for (start, width), (following, _) in pairwise(found):
        assert following == pytest.approx(start + width + gap)
    shares = sum(track.share or 0 for track in tracks)
    fixed = sum(track.length.px(Basis(1280, 800)) for track in tracks if track.length)
    fixed += gap * (len(tracks) - 1)
    end = found[-1][0] + found[-1][1]
    if shares >= 1:
        assert end == pytest.approx(max(whole, fixed))
    else:
        assert end == pytest.approx(fixed + shares * max(whole - fixed, 0))
