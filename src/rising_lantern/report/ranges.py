"""The range of a value as a chart: where every rule holds, and the worst contrast over it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from matplotlib.figure import Figure

from rising_lantern.report.board import ACCENT, INK, QUIET, RULE
from rising_lantern.report.panels import font

_DPI = 110
_HOLDS = "#2f7d5b"
_MARGIN = 0.14  # of the chart's width that a name needs


@dataclass(frozen=True, slots=True)
class RangeChart:
    """What is drawn of the range of a value.

    Attributes:
        name: What the value is, with its unit.
        ends: The least and the greatest number that was tried.
        current: The author's number, and how the plan writes it.
        intervals: The ends of each interval in which every rule holds: a number, and what is said
            of it.
        values: Numbers that were tried.
        contrasts: The worst contrast with each of them, as a multiple of its limit.
    """

    name: str
    ends: tuple[float, float]
    current: tuple[float, str]
    intervals: Sequence[tuple[tuple[float, str], tuple[float, str]]]
    values: Sequence[float]
    contrasts: Sequence[float]


def draw_range(chart: RangeChart) -> Figure:
    """Draw the worst contrast of a plan over one of its values."""
    figure = Figure(figsize=(10.6, 4.4), dpi=_DPI, layout="constrained", facecolor="#f7f4ed")
    ax = figure.subplots()
    ax.set_facecolor("#fffdf8")
    span = chart.ends[1] - chart.ends[0]
    for (low, below), (high, above) in chart.intervals:
        # Beside the interval where there is room, else inside it.
        inside = (low - chart.ends[0]) / span < _MARGIN, (chart.ends[1] - high) / span < _MARGIN
        sides = ("left" if inside[0] else "right", "right" if inside[1] else "left")
        for index, words, side in ((low, below, sides[0]), (high, above, sides[1])):
            ax.annotate(
                words, (index, 0.95), xycoords=("data", "axes fraction"),
                xytext=(-7 if side == "right" else 7, 0), textcoords="offset points", ha=side,
                va="top", color=_HOLDS, fontproperties=font(10.5, weight=600),
            )  # fmt: skip
        ax.axvspan(low, high, color=_HOLDS, alpha=0.16, linewidth=0)
        ax.plot(
            [low, high], [0.012, 0.012], color=_HOLDS, linewidth=6,
            transform=ax.get_xaxis_transform(), solid_capstyle="butt", clip_on=False,
        )  # fmt: skip
    ax.plot(
        chart.values,
        chart.contrasts,
        color=INK.hex(),
        linewidth=1.8,
        marker="o",
        markersize=3.5,
        zorder=3,
    )
    ax.axhline(1, color=ACCENT.hex(), linewidth=1.2)
    ax.axvline(chart.current[0], color=INK.hex(), linewidth=1.2, linestyle=(0, (4, 3)))
    ax.annotate(
        f"now {chart.current[1]}",
        (chart.current[0], 1.0), xycoords=("data", "axes fraction"),
        va="bottom", ha="center", color=INK.hex(), fontproperties=font(10.5, weight=600),
    )  # fmt: skip
    ax.annotate(
        "limit", (1.0, 1.0), xycoords=("axes fraction", "data"), xytext=(4, 0),
        textcoords="offset points", va="center", color=ACCENT.hex(), fontproperties=font(10),
    )  # fmt: skip
    ax.set_xlim(*chart.ends)
    known = [contrast for contrast in chart.contrasts if not math.isnan(contrast)]
    ax.set_ylim(0, max(1.5, 1.2 * max(known, default=1.0)))
    ax.set_xlabel(chart.name, color=QUIET.hex(), fontproperties=font(10.5))
    ax.set_ylabel("worst contrast, of its limit", color=QUIET.hex(), fontproperties=font(10))
    for label in (*ax.get_xticklabels(), *ax.get_yticklabels()):
        label.set(color=QUIET.hex(), fontproperties=font(10))
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    for side in ("left", "bottom"):
        ax.spines[side].set_color(RULE.hex())
    ax.set_title(
        "Where every rule holds", loc="left", pad=22, color=INK.hex(),
        fontproperties=font(15, "serif", 600),
    )  # fmt: skip
    return figure
