"""The range of a value as a chart: where every rule holds, and the worst contrast over it."""

from __future__ import annotations

import numpy as np
from matplotlib.figure import Figure

from rising_lantern.report.board import ACCENT, INK, QUIET, RULE
from rising_lantern.report.panels import font
from rising_lantern.tuning.ranges import ValueRange

_DPI = 110
_HOLDS = "#2f7d5b"


def draw_range(found: ValueRange) -> Figure:
    """Draw the worst contrast of a plan over one of its values.

    Args:
        found: The range of the value.
    """
    figure = Figure(figsize=(10.6, 4.4), dpi=_DPI, layout="constrained", facecolor="#f7f4ed")
    ax = figure.subplots()
    ax.set_facecolor("#fffdf8")
    values = np.array([one.value for one in found.samples])
    contrasts = np.array([one.contrast for one in found.samples])
    for interval in found.intervals:
        ax.axvspan(interval.low, interval.high, color=_HOLDS, alpha=0.16, linewidth=0)
        ax.plot(
            [interval.low, interval.high], [0.012, 0.012], color=_HOLDS, linewidth=6,
            transform=ax.get_xaxis_transform(), solid_capstyle="butt", clip_on=False,
        )  # fmt: skip
    ax.plot(values, contrasts, color=INK.hex(), linewidth=1.8, marker="o", markersize=3.5, zorder=3)
    ax.axhline(1, color=ACCENT.hex(), linewidth=1.2)
    ax.axvline(found.current, color=INK.hex(), linewidth=1.2, linestyle=(0, (4, 3)))
    ax.annotate(
        f" now {found.text(found.current)}",
        (found.current, 1.0), xycoords=("data", "axes fraction"),
        va="bottom", ha="center", color=INK.hex(), fontproperties=font(10.5, weight=600),
    )  # fmt: skip
    ax.annotate(
        "limit", (1.0, 1.0), xycoords=("axes fraction", "data"), xytext=(4, 0),
        textcoords="offset points", va="center", color=ACCENT.hex(), fontproperties=font(10),
    )  # fmt: skip
    ax.set_xlim(found.low, found.high)
    ax.set_ylim(bottom=0)
    ax.set_xlabel(f"{found.key}{', ' + found.unit if found.unit else ''}", color=QUIET.hex(),
                  fontproperties=font(10.5))  # fmt: skip
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
