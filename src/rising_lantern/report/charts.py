"""The scroll chart: what can be read, what moves, and what is wrong, along the scroll.

Scroll positions run to the right. The looks of the header are a band along the top, and sections
begin at thin lines. Lines differ in their dashes as well as in their colours, and are named at
their right end, so that nothing needs a key over the data.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import IO, Literal

import matplotlib as mpl
import numpy as np
from matplotlib.axes import Axes
from matplotlib.figure import Figure

from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.legibility.curves import ContrastCurve, worst_of
from rising_lantern.report.board import INK, QUIET, size_words
from rising_lantern.report.panels import (
    BAND,
    FLAT,
    POINTS,
    SIZE,
    Chart,
    OffsetCurve,
    draw_bands,
    draw_contrast,
    draw_findings,
    draw_offsets,
    draw_ratios,
    draw_sections,
    font,
    label_scroll,
    room_for_names,
)
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.moments import Sweep

Form = Literal["png", "svg", "pdf"]

_MOST_FINDINGS = 8
_CHARTED = 1200  # positions that a chart has room for
_DPI = 105
_PNG_LEVEL = 4
# In inches: at the left of panels, right of their names, below them, and between two.
_AXIS, _MARGIN, _FOOT, _BETWEEN = 0.72, 0.16, 0.58, 0.17
# In inches, bands of looks not counted: above the first panel, and from it up to the title.
_HEAD, _TITLE = 0.76, 0.4
_BESIDE, _BELOW = 0.46, 0.34  # inches from a panel to the words at its left, and below it


@dataclass(frozen=True, slots=True)
class Variant:
    """One of several variants of a view.

    Attributes:
        name: What it is called.
        chart: Its own chart.
        part: The lowest contrast of any part of the header.
        text: The same of the texts on the page.
    """

    name: str
    chart: Chart
    part: ContrastCurve
    text: ContrastCurve


_PANELS: tuple[tuple[str, Callable[[Variant], ContrastCurve]], ...] = (
    ("part", lambda variant: variant.part),
    ("text", lambda variant: variant.text),
)


def chart_of(
    scene: Scene,
    findings: Sequence[Finding] = (),
    measured: tuple[Sequence[float], Sequence[ContrastCurve]] | None = None,
) -> Chart:
    """What the scroll chart of a scene shows.

    Args:
        scene: The scene.
        findings: What is marked as wrong.
        measured: Scroll positions with the contrast there, as ``Scene.curves`` gives it; by
            default some 1,200 positions, at which it is measured as exactly as a chart shows.
    """
    if measured is None:
        swept = scene.sweep(scene.positions(max(scene.max_scroll // _CHARTED, 1)))
        curves = scene.contrast.parts(swept, scene.max_scroll)
        worst = None if curves else scene.contrast.worst_text(swept, scene.max_scroll)
    else:
        swept, known = scene.sweep(measured[0]), list(measured[1])
        parts = len(scene.box.header.parts) if scene.box.header else 0
        curves = [item for item in known[:parts] if np.isfinite(item.contrast).any()]
        worst = None if curves else worst_of("texts", len(swept), known[parts:])
    if worst is not None and np.isfinite(worst.contrast).any():
        curves = [worst]
    title = f"{scene.page} on {scene.viewport}, {size_words(scene.plan, scene.viewport)}"
    return Chart(
        title, swept.scroll, curves, _offsets(swept), scene.bands, _sections(swept), findings
    )


def _offsets(swept: Sweep) -> list[OffsetCurve]:
    """How far each layer that moves is from where it would be without that."""
    return [
        OffsetCurve(
            f"{track.section} {track.index}",
            np.where(track.visible > 0, swept.offset(track), np.nan),
        )
        for track in swept.layers()
        if track.box.moves or track.box.is_fixed
    ]


def _sections(swept: Sweep) -> list[tuple[str, float]]:
    """The position at which each section meets the middle of the header."""
    page = swept.page
    header = page.header
    middle = header.inset + header.looks[0].height / 2 if header else 0.0
    return [(section.name, page.flow.room(0) + section.top - middle) for section in page.sections]


def save(figure: Figure, target: Path | IO[bytes], form: Form = "png") -> None:
    """Write a figure to a file: as pixels, or as lines."""
    with mpl.rc_context({"svg.fonttype": "path", "svg.hashsalt": "chart"}):
        metadata = {"Date" if form == "svg" else "CreationDate": None}
        if form == "png":
            figure.savefig(target, format=form, pil_kwargs={"compress_level": _PNG_LEVEL})
        else:
            figure.savefig(target, format=form, metadata=metadata)


def draw(chart: Chart) -> Figure:
    """The whole chart: contrast, the offsets of layers where any moves, and the findings."""
    listed = sorted(chart.findings, key=lambda one: LEVELS.index(one.level))[:_MOST_FINDINGS]
    heights = [SIZE[1]]
    heights += [SIZE[1] * FLAT] if chart.offsets else []
    heights += [0.34 * len(listed) + 0.2] if listed else []
    bands = 1 if chart.bands else 0
    figure, panels = _panels(heights, bands, room_for_names(chart))
    draw_contrast(chart, panels[0])
    if chart.offsets:
        draw_offsets(chart, panels[1])
    if listed:
        draw_findings(chart, listed, panels[-1])
    for panel in panels[:-1]:
        panel.tick_params(labelbottom=False)
        panel.set_xlabel("")
    label_scroll(panels[-1])
    _name(panels[0], chart.title, bands)
    return figure


def _panels(heights: Sequence[float], bands: int, names: float) -> tuple[Figure, list[Axes]]:
    """Panels one below the other in a new figure, with the same scroll positions; in inches.

    Their places are worked out here: to have them found from all that is drawn takes as long as
    the drawing itself.

    Args:
        heights: The height of each.
        bands: How many bands of looks are above the first.
        names: The room at their right.
    """
    head = _HEAD + bands * BAND * SIZE[1]
    height = head + sum(heights) + _BETWEEN * (len(heights) - 1) + _FOOT
    figure = Figure(figsize=(SIZE[0], height), dpi=_DPI, facecolor="#f7f4ed")
    panels: list[Axes] = []
    below = head
    for own in heights:
        wide = SIZE[0] - _AXIS - names - _MARGIN
        low = height - below - own
        share = _AXIS / SIZE[0], low / height, wide / SIZE[0], own / height
        panel = figure.add_axes(share, sharex=panels[0] if panels else None)
        panel.yaxis.set_label_coords(-_BESIDE / wide, 0.5)
        panel.xaxis.set_label_coords(0.5, -_BELOW / own)
        panels.append(panel)
        below += own + _BETWEEN
    return figure, panels


def _name(panel: Axes, title: str, bands: int) -> None:
    """Set a title above a panel and its bands of looks."""
    panel.set_title(
        title,
        loc="left",
        pad=POINTS * (_TITLE + bands * BAND * SIZE[1]),
        color=INK.hex(),
        fontproperties=font(15, "serif", 600),
    )


def draw_variants(title: str, variants: Sequence[Variant]) -> Figure:
    """The contrast of several variants in one chart, that of headers and that of texts."""
    panels = [
        (name, [_with_name(variant, pick(variant)) for variant in variants])
        for name, pick in _PANELS
    ]
    panels = [(name, curves) for name, curves in panels if any(map(_is_known, curves))]
    panels = panels or [("header", [_with_name(variant, variant.part) for variant in variants])]
    longest = max(
        (variant.chart for variant in variants), key=lambda chart: float(chart.scroll[-1])
    )
    named = replace(longest, contrasts=[curve for _, curves in panels for curve in curves])
    figure, axes = _panels([SIZE[1]] * len(panels), len(variants), room_for_names(named))
    for ax, (name, curves) in zip(axes, panels, strict=True):
        draw_ratios(
            replace(longest, contrasts=curves), ax, [variant.chart.scroll for variant in variants]
        )
        ax.set_ylabel(f"lowest contrast of any {name}", color=QUIET.hex(), fontproperties=font(10))
        if ax is not axes[-1]:
            ax.tick_params(labelbottom=False)
            ax.set_xlabel("")
    for row, item in enumerate(reversed(variants)):
        draw_bands(item.chart, axes[0], 1.02 + row * BAND, item.name)
    draw_sections(longest, axes[0], 1.03 + len(variants) * BAND)
    _name(axes[0], title, len(variants))
    return figure


def _with_name(variant: Variant, curve: ContrastCurve) -> ContrastCurve:
    return replace(curve, name=variant.name)


def _is_known(curve: ContrastCurve) -> bool:
    return bool(np.isfinite(curve.contrast).any())
