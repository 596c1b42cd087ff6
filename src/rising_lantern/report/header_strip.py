"""The header strip: the header at full size before, half-way through and after each switch."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PIL import Image

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.screen import whole_px
from rising_lantern.report.board import INK, QUIET, RULE, Board, size_words
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.stages import Stage

_MARGIN, _GAP, _HEAD, _CAPTION = 48, 30, 122, 34
_BELOW = 20  # px of the page that are shown below the header, for its shadow
_BROADEST = 1400  # px in which narrow headers stand side by side


@dataclass(frozen=True, eq=False)
class HeaderShot:
    """A header at one stage, cut out of the frame.

    Attributes:
        stage: The stage.
        pixels: The rows of the frame in which it stands.
    """

    stage: Stage
    pixels: Bytes

    @property
    def words(self) -> str:
        """What it shows."""
        stage = self.stage
        kinds = {"before": "before", "half-way": "half-way to", "after": "in"}
        if stage.kind == "at the top":
            return f"{stage.look}, at the top"
        way = f", going {stage.going}" if stage.going else ""
        return f"{kinds[stage.kind]} {stage.look}, {stage.scroll_px:,} px{way}"


def header_shots(scene: Scene) -> tuple[HeaderShot, ...]:
    """The header at each stage of each switch, cut out of its frame; none without one.

    All are equally high.
    """
    stages = scene.stages
    height = max((_bottom(stage) for stage in stages), default=0) + _BELOW
    return tuple(
        HeaderShot(stage, scene.painter.frame(stage.swept, stage.index, height)) for stage in stages
    )


def _bottom(stage: Stage) -> int:
    """The header's lower edge on the screen; 0 where it is not on it."""
    header = stage.swept.header
    if header is None:
        return 0
    tops = float(header.top[stage.index]), float(header.own_top[stage.index])
    state = header.states[header.state[stage.index]]
    edges = [tops[0] + float(header.height[stage.index])]
    edges += [tops[1] + state.below.height] if state.below else []
    high = stage.swept.page.screen.height
    return max(min(whole_px(max(edges)), high), 0)


def header_strip_of(scene: Scene, shots: Sequence[HeaderShot]) -> Image.Image:
    """The header strip of a scene.

    Args:
        scene: The scene.
        shots: Its header at each stage of each switch; at least one.
    """
    name = scene.box.header.name if scene.box.header else ""
    size = size_words(scene.plan, scene.viewport)
    subtitle = f"{scene.page} · {scene.viewport} {size} · header {name}"
    return compose_header_strip(scene.document.title or "Untitled plan", subtitle, shots)


def compose_header_strip(title: str, subtitle: str, shots: Sequence[HeaderShot]) -> Image.Image:
    """Put the stages of a header under each other, at full size; narrow ones side by side.

    Args:
        title: The plan's title.
        subtitle: The page and the screen.
        shots: The stages; at least one.
    """
    height, width = shots[0].pixels.shape[:2]
    columns = max(min((_BROADEST + _GAP) // (width + _GAP), 3, len(shots)), 1)
    rows = math.ceil(len(shots) / columns)
    board = Board(
        max(2 * _MARGIN + columns * width + (columns - 1) * _GAP, 900),
        _HEAD + rows * (height + _CAPTION + _GAP) + _MARGIN - _GAP,
    )
    board.text(_MARGIN, 28, title, size=30, font="serif", weight=600)
    board.text(_MARGIN, 72, subtitle, size=18, color=QUIET)
    for index, shot in enumerate(shots):
        left = _MARGIN + index % columns * (width + _GAP)
        top = _HEAD + index // columns * (height + _CAPTION + _GAP)
        board.text(left, top, shot.words, size=17, weight=600, color=INK, room=width)
        board.box(Rect(left - 1, top + _CAPTION - 1, width + 2, height + 2), RULE)
        board.picture(left, top + _CAPTION, shot.pixels, width, height)
    return board.image()
