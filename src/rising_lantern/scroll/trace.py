"""Traces: moments as tables."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from rising_lantern.scroll.moments import Sweep

if TYPE_CHECKING:
    import pandas as pd

HEADER_COLUMNS = (
    "page",
    "viewport",
    "scroll_px",
    "look",
    "progress",
    "header_top_px",
    "header_height_px",
    "background",
    "color",
    "contrast",
)
LAYER_COLUMNS = (
    "page",
    "viewport",
    "scroll_px",
    "section",
    "layer",
    "left_px",
    "top_px",
    "width_px",
    "height_px",
    "opacity",
    "visible_px",
    "focus_seen",
)


def header_trace(
    swept: Sweep, contrast: np.ndarray[tuple[int], np.dtype[np.float64]]
) -> pd.DataFrame:
    """The header along the scroll, a row for each position; no rows without a header.

    Args:
        swept: The positions.
        contrast: The least contrast of any part at each of them.
    """
    import pandas as pd  # noqa: PLC0415 - frames and checks need no tables

    header = swept.header
    if header is None:
        return pd.DataFrame(columns=list(HEADER_COLUMNS))
    backgrounds = np.array([state.background.hex() for state in header.states], dtype=object)
    colors = np.array([state.color.hex() for state in header.states], dtype=object)
    return pd.DataFrame(
        {
            "page": swept.page.page,
            "viewport": swept.page.viewport,
            "scroll_px": swept.scroll,
            "look": np.array(header.box.look_names, dtype=object)[header.look],
            "progress": header.progress,
            "header_top_px": header.top,
            "header_height_px": header.height,
            "background": backgrounds[header.state],
            "color": colors[header.state],
            "contrast": contrast,
        },
        columns=list(HEADER_COLUMNS),
    )


def layer_trace(swept: Sweep) -> pd.DataFrame:
    """Every layer along the scroll, a row for each layer and position."""
    import pandas as pd  # noqa: PLC0415 - frames and checks need no tables

    tables = [
        pd.DataFrame(
            {
                "page": swept.page.page,
                "viewport": swept.page.viewport,
                "scroll_px": swept.scroll,
                "section": layer.section,
                "layer": layer.index,
                "left_px": layer.left,
                "top_px": layer.top,
                "width_px": layer.width,
                "height_px": layer.height,
                "opacity": layer.opacity,
                "visible_px": layer.visible,
                "focus_seen": layer.focus,
            },
            columns=list(LAYER_COLUMNS),
        )
        for layer in swept.layers()
    ]
    if not tables:
        return pd.DataFrame(columns=list(LAYER_COLUMNS))
    return pd.concat(tables, ignore_index=True)
