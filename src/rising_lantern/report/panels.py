"""Panels of a scroll chart: what can be read, what moves, and what is wrong, in somebody's axes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from itertools import pairwise
from pathlib import Path
from typing import Any, Literal

import numpy as np
from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.font_manager import FontProperties
from matplotlib.patches import Rectangle
from matplotlib.text import Text
from matplotlib.ticker import FixedLocator, FuncFormatter, NullLocator

from rising_lantern.base.arrays import Floats
from rising_lantern.checks.findings import Finding
from rising_lantern.css.colors import Color
from rising_lantern.layout.fonts import FontBook
from rising_lantern.legibility.curves import ContrastCurve
from rising_lantern.report.board import ACCENT, INK, QUIET, RULE, measured
from rising_lantern.scroll.bands import Band

# Colours that stay apart for people who see few of them, and dashes for those who see none.
_STROKES: tuple[tuple[str, Any], ...] = (
    ("#1c2336", "solid"),
    ("#d55e00", (0, (6, 2))),
    ("#0072b2", (0, (2, 1.4))),
    ("#007a58", (0, (7, 2, 1.5, 2))),
    ("#a3447f", (0, (1, 1))),
    ("#8a6200", (0, (9, 3, 1.5, 2, 1.5, 3))),
)
_LEVEL_COLORS = {"error": "#c2391b", "warning": "#a96c00", "note": "#2d6da3"}
_RATIOS = (1, 1.5, 2, 3, 4.5, 7, 12, 21)
_NAMED_UP_TO = 0.96  # of a panel's height: names of lines stand below
_NAME = 10  # points of a name
_APART = 0.27  # between two names beside a chart, in inches
_NAMES_FROM, _DASH = 1.008, 0.024  # of a panel's width: names at its right, and dashes beside
_MOST_NAMES = 0.4  # of a chart's width: the room of the longest name
_RIGHT = 0.6  # of the scroll, from where on a name stands left of its end
BAND = 0.08  # the height of a band of looks, of a panel's
SIZE = (12.2, 3.6)  # of a panel, in inches
POINTS = 72  # of an inch
FLAT = 0.55  # of a panel's height


@dataclass(frozen=True, slots=True)
class OffsetCurve:
    """How far a layer is from where it would be if it moved with its section.

    Attributes:
        name: The section, and the layer's index.
        offset: In px, one for each scroll position; NaN where the layer is off the screen.
    """

    name: str
    offset: Floats


@dataclass(frozen=True, slots=True)
class Chart:
    """What is drawn of a view.

    Attributes:
        title: The page and the screen.
        scroll: The scroll positions, in px.
        contrasts: The contrast of each part of the header.
        offsets: How many px each moving layer is beside its section.
        bands: Where each look is current.
        sections: The name of each section, and the scroll position at which it is reached.
        findings: What is wrong.
    """

    title: str
    scroll: Floats
    contrasts: Sequence[ContrastCurve]
    offsets: Sequence[OffsetCurve]
    bands: Sequence[Band]
    sections: Sequence[tuple[str, float]]
    findings: Sequence[Finding] = ()


def draw_panel(chart: Chart, of: Literal["contrast", "layers"], ax: Axes | None = None) -> Axes:
    """Draw one panel, into somebody's axes or those of a new figure."""
    if ax is None:
        ax = Figure(figsize=(11, 4), layout="constrained").subplots()
    return draw_offsets(chart, ax) if of == "layers" else draw_contrast(chart, ax)


def draw_contrast(chart: Chart, ax: Axes) -> Axes:
    """Draw the contrast of the header's parts, with looks and sections, into somebody's axes."""
    draw_ratios(chart, ax, [chart.scroll] * len(chart.contrasts))
    draw_bands(chart, ax, 1.02)
    draw_sections(chart, ax, 1.03 + (BAND if chart.bands else 0.0))
    return ax


def draw_ratios(chart: Chart, ax: Axes, scrolls: Sequence[Floats]) -> None:
    """The axis of ratios, the limits, and the curves, each over scroll positions of its own."""
    _prepare(chart, ax)
    ax.set_yscale("log")
    ax.set_ylim(1, 22.5)
    ax.yaxis.set_major_locator(FixedLocator(_RATIOS))
    ax.yaxis.set_minor_locator(NullLocator())
    ax.yaxis.set_major_formatter(FuncFormatter(lambda ratio, _: f"{ratio:g}"))
    ax.set_ylabel("contrast that 95 % reach", color=QUIET.hex(), fontproperties=font(10))
    every = [np.unique(curve.limit[np.isfinite(curve.limit)]) for curve in chart.contrasts]
    limits = sorted({float(limit) for some in every for limit in some})
    for limit in limits:
        ax.axhline(limit, color=ACCENT.hex(), linewidth=1.1, zorder=1.5)
    for label, ratio in zip(_font_ticks(ax), _RATIOS, strict=True):
        if ratio in limits:
            label.set(color=ACCENT.hex(), fontproperties=font(10.5, weight=600))
    strokes = _strokes(len(chart.contrasts))
    for curve, (color, dashes), scroll in zip(chart.contrasts, strokes, scrolls, strict=True):
        ax.plot(scroll, curve.contrast, color=color, linestyle=dashes, linewidth=1.8, zorder=3)
        failing = curve.contrast < curve.limit
        ax.fill_between(
            scroll,
            curve.contrast,
            curve.limit,
            where=failing.tolist(),
            facecolor=(*_rgb(color), 0.12),
            edgecolor=(*_rgb(color), 0.55),
            hatch="////",
            linewidth=0,
            zorder=2,
        )
    lines = [(curve.name, curve.contrast) for curve in chart.contrasts]
    _name_lines(ax, lines, _APART / SIZE[1], logarithmic=True)


def draw_offsets(chart: Chart, ax: Axes) -> Axes:
    """Draw how far each moving layer is from where it would be if it moved with its section."""
    _prepare(chart, ax)
    ax.axhline(0, color=QUIET.hex(), linewidth=0.8, zorder=1.5)
    ax.set_ylabel("px below its section", color=QUIET.hex(), fontproperties=font(10))
    for curve, (color, dashes) in zip(chart.offsets, _strokes(len(chart.offsets)), strict=True):
        ax.plot(chart.scroll, curve.offset, color=color, linestyle=dashes, linewidth=1.8, zorder=3)
    ax.invert_yaxis()
    _font_ticks(ax)
    lines = [(curve.name, curve.offset) for curve in chart.offsets]
    _name_lines(ax, lines, _APART / SIZE[1] / FLAT, logarithmic=False)
    return ax


def _prepare(chart: Chart, ax: Axes) -> None:
    """The room, the sections' lines and the axis along the scroll."""
    ax.set_facecolor("#ffffff")
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    for side in ("left", "bottom"):
        ax.spines[side].set_color(RULE.hex())
    ax.tick_params(colors=QUIET.hex(), labelcolor=INK.hex(), length=3)
    ax.set_xlim(0, max(float(chart.scroll[-1]), 1.0))
    ax.grid(axis="y", color="#efeae0", linewidth=0.8)
    ax.set_axisbelow(True)
    for _, start in chart.sections:
        if start > 0:
            ax.axvline(start, color=RULE.hex(), linewidth=1.0, zorder=1)
    label_scroll(ax)


def label_scroll(ax: Axes) -> None:
    """Say what runs along the lower edge."""
    ax.set_xlabel("scroll position in px", color=QUIET.hex(), fontproperties=font(10))


def _font_ticks(ax: Axes) -> list[Text]:
    """Set the labels of all ticks in the house font, which needs their limits; gives those at y."""
    across, down = ax.get_xticklabels(), ax.get_yticklabels()
    for label in (*across, *down):
        label.set_fontproperties(font(9.5))
    return down


def draw_bands(chart: Chart, ax: Axes, low: float, name: str = "") -> None:
    """Looks as a band above the data, from a place on, named at its right end."""
    across = ax.get_xaxis_transform()
    whole = max(float(chart.scroll[-1]), 1.0)
    for band in chart.bands:
        fill = band.color if band.color.alpha else Color(1, 1, 1)
        ax.add_patch(
            Rectangle(
                (band.start, low),
                band.end - band.start,
                BAND - 0.01,
                transform=across,
                clip_on=False,
                facecolor=fill.rgba,
                edgecolor=QUIET.hex(),
                linewidth=0.8,
            )
        )
        if (band.end - band.start) / whole > 0.012 * len(band.look):
            ax.text(
                (band.start + band.end) / 2,
                low + BAND / 2 - 0.007,
                band.look,
                transform=across,
                ha="center",
                va="center",
                color=_readable(fill),
                fontproperties=font(9, weight=600),
            )
    ax.text(
        _NAMES_FROM,
        low + BAND / 2 - 0.007,
        name,
        transform=ax.transAxes,
        va="center",
        color=QUIET.hex(),
        fontproperties=font(9),
    )


def draw_sections(chart: Chart, ax: Axes, low: float) -> None:
    """The names of the sections above the data, each where it begins."""
    across = ax.get_xaxis_transform()
    whole = max(float(chart.scroll[-1]), 1.0)
    last = -1.0
    for name, start in chart.sections:
        place = max(start, 0.0) / whole
        if place >= last and place < 1:
            ax.text(
                place * whole,
                low,
                name,
                transform=across,
                ha="left",
                va="bottom",
                color=QUIET.hex(),
                fontproperties=font(9),
            )
            last = place + 0.0085 * (len(name) + 1)


def _name_lines(
    ax: Axes, lines: Sequence[tuple[str, Floats]], apart: float, *, logarithmic: bool
) -> None:
    """The name of each line at its right end, moved apart where they would meet.

    Where there is no room for all of them, some are named, and the others counted.
    """
    low, high = ax.get_ylim()
    ends = []
    for _, points in lines:
        known = np.flatnonzero(np.isfinite(points))
        value = float(points[known[-1]]) if known.size else low
        share = (
            np.log(value / low) / np.log(high / low)
            if logarithmic
            else (value - low) / (high - low)
        )
        ends.append(float(np.clip(share, 0.02, 0.95)))
    room = max(int(_NAMED_UP_TO / apart), 2)
    named = range(len(lines))
    if len(lines) > room:
        named = range(0, len(lines), math.ceil(len(lines) / (room - 1)))
        words = f"and {len(lines) - len(named)} more"
        ax.text(
            _NAMES_FROM,
            0.0,
            words,
            transform=ax.transAxes,
            va="center",
            color=QUIET.hex(),
            fontproperties=font(10),
        )
        ends = [max(end, apart) for end in ends]
    order = sorted(named, key=lambda index: ends[index])
    placed = [ends[index] for index in order]
    for item, other in pairwise(range(len(placed))):
        placed[other] = max(placed[other], placed[item] + apart)
    over = max(placed[-1] - _NAMED_UP_TO, 0.0) if placed else 0.0
    for index, place in zip(order, placed, strict=True):
        color, dashes = _strokes(len(lines))[index]
        y = place - over
        ax.plot(
            [_NAMES_FROM, _NAMES_FROM + _DASH],
            [y, y],
            transform=ax.transAxes,
            color=color,
            linestyle=dashes,
            linewidth=1.8,
            clip_on=False,
        )
        ax.text(
            _NAMES_FROM + _DASH + 0.006,
            y,
            lines[index][0],
            transform=ax.transAxes,
            va="center",
            color=color,
            fontproperties=font(_NAME, weight=600),
        )


def room_for_names(chart: Chart) -> float:
    """The room in inches that the names at the right of a chart's panels take."""
    names = [*(curve.name for curve in chart.contrasts), *(curve.name for curve in chart.offsets)]
    widest = max((measured(name, _NAME, weight=600).box.width for name in names), default=0.0)
    beside = (_NAMES_FROM - 1 + _DASH + 0.01) * SIZE[0]
    return min(widest / POINTS + beside, _MOST_NAMES * SIZE[0])


def draw_findings(chart: Chart, listed: Sequence[Finding], ax: Axes) -> None:
    """A row for each finding: what it is, and a bar from where to where."""
    _prepare(replace(chart, sections=()), ax)
    ax.grid(visible=False)
    ax.set_yticks([])
    ax.spines["left"].set_visible(False)
    ax.set_ylim(len(listed), 0)
    ax.set_facecolor("#f7f4ed")
    _font_ticks(ax)
    whole = max(float(chart.scroll[-1]), 1.0)
    for row, finding in enumerate(listed):
        color = _LEVEL_COLORS[finding.level]
        first, last = finding.scroll
        ax.plot([first, last], [row + 0.8, row + 0.8], color=color, linewidth=4, zorder=3)
        ax.plot([first], [row + 0.8], color=color, marker="D", markersize=5, clip_on=False)
        right = first / whole > _RIGHT
        ax.text(
            last if right else first,
            row + 0.56,
            f"{finding.level}: {finding.rule}, {finding.subject}",
            ha="right" if right else "left",
            va="bottom",
            color=color,
            fontproperties=font(9.5, weight=600),
        )
    left = len(chart.findings) - len(listed)
    if left:
        ax.text(
            _NAMES_FROM, 0.02, f"and {left} more", transform=ax.transAxes, fontproperties=font(9.5)
        )


def _strokes(count: int) -> list[tuple[str, Any]]:
    return [_STROKES[index % len(_STROKES)] for index in range(count)]


def _rgb(color: str) -> tuple[float, float, float]:
    return tuple(int(color[place : place + 2], 16) / 255 for place in (1, 3, 5))  # type: ignore[return-value]


def _readable(fill: Color) -> str:
    """Ink or paper, whichever stands out from a fill on white."""
    red, green, blue, alpha = fill.rgba
    light = (0.3 * red + 0.59 * green + 0.11 * blue) * alpha + 1 - alpha
    return INK.hex() if light > 0.5 else "#ffffff"  # noqa: PLR2004


@cache
def font(size: float, family: str = "sans", weight: int = 400) -> FontProperties:
    """A font of the house, whatever the machine has."""
    file: Path = FontBook({}).file(family, weight).path
    return FontProperties(fname=str(file), size=size)
