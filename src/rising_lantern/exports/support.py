"""Which browsers have the features that an export uses, and what readers of others get.

The versions are those of the open MDN browser-compat-data, reduced to our features by
``docs/browser_support.py``.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

from rising_lantern.errors import listed

BROWSERS = {
    "chrome": "Chrome",
    "firefox": "Firefox",
    "safari": "Safari",
    "chrome_android": "Chrome on Android",
    "safari_ios": "Safari on iOS",
}
"""The browsers that are listed, by their names in the data."""

DATA = "support.json"


@dataclass(frozen=True, slots=True)
class Feature:
    """A feature that exported code may use.

    Attributes:
        key: Its place in the data.
        name: What it is called.
        sign: The pattern by which it is found in exported code.
        without: What readers get whose browser lacks it.
    """

    key: str
    name: str
    sign: str
    without: str


FEATURES = (
    Feature(
        "css.properties.animation-timeline.view",
        "scroll-driven animations",
        r"view-timeline",
        "the script moves layers and switches looks instead",
    ),
    Feature(
        "css.properties.timeline-scope",
        "timelines of sections",
        r"timeline-scope:",
        "the script switches looks instead",
    ),
    Feature(
        "css.at-rules.container.style_queries_for_custom_properties",
        "style queries",
        r"@container style\(",
        "the header stays in the look that it has without the script, where CSS switches it",
    ),
    Feature(
        "css.properties.backdrop-filter",
        "backdrop-filter",
        r"backdrop-filter:",
        "nothing is blurred behind the header",
    ),
    Feature(
        "css.properties.mix-blend-mode",
        "mix-blend-mode",
        r"mix-blend-mode: (?!plus-lighter)",
        "layers and texts are laid over each other without blending",
    ),
    Feature(
        "css.properties.mix-blend-mode.plus-lighter",
        "mix-blend-mode: plus-lighter",
        r"plus-lighter",
        "pictures that change dip a little half-way",
    ),
    Feature(
        "css.properties.mask-image",
        "mask-image",
        r"mask-image:",
        "tinted pictures are blocks of their colour",
    ),
    Feature("css.properties.filter", "filter", r"\bfilter:", "pictures are shown unfiltered"),
    Feature(
        "css.types.gradient.conic-gradient",
        "conic gradients",
        r"conic-gradient\(",
        "the gradient is left out",
    ),
    Feature("css.types.round", "round()", r"\bround\(", "lengths that are rounded are left out"),
    Feature(
        "css.types.length.container_query_length_units",
        "lengths of containers",
        r"\dcqw",
        "texts of 'size: one-line' have the size of the text around them",
    ),
    Feature(
        "css.types.easing-function.linear-function",
        "linear() easing",
        r"\blinear\(",
        "changes have the easing ease",
    ),
    Feature(
        "css.types.image.image-set",
        "image-set()",
        r"image-set\(",
        "the picture is loaded in its original format and size",
    ),
    Feature(
        "css.selectors.nesting",
        "nested rules",
        r"\n  +(?:&|>|\.)[^;{}]*\{",
        "little of the style sheet applies; Chrome 112 and Safari 16.5 read it as well",
    ),
    Feature(
        "css.at-rules.layer",
        "cascade layers",
        r"@layer",
        "nothing of the style sheet applies; export with --weight specific",
    ),
    Feature(
        "css.at-rules.media.range_syntax",
        "ranges in media queries",
        r"@media [^{]*[<>]=? ?\d",
        "values that differ between screens do not apply",
    ),
    Feature(
        "css.selectors.has",
        ":has()",
        r":has\(",
        "no room is kept for the header at the target of a link",
    ),
    Feature(
        "css.properties.overflow.clip",
        "overflow: clip",
        r"overflow: clip",
        "layers that move may stand out of their sections",
    ),
    Feature(
        "css.properties.overflow-anchor",
        "overflow-anchor",
        r"overflow-anchor",
        "nothing: where it is missing, the browser does not move the reader either",
    ),
    Feature(
        "css.properties.translate",
        "translate",
        r"\btranslate:",
        "layers move with the page, and a second header does not slide",
    ),
    Feature(
        "html.global_attributes.inert",
        "inert",
        r"\binert\b",
        "the header that is not seen can still be reached by keyboard",
    ),
    Feature(
        "api.Document.adoptedStyleSheets",
        "constructed style sheets",
        r"adoptedStyleSheets",
        "layers with a path, a drift or a speed outside 0 to 1 stand still",
    ),
)


@dataclass(frozen=True, slots=True)
class Support:
    """A feature that is used, and the first version of each browser that has it.

    Attributes:
        feature: The feature.
        versions: The version by browser; None for none so far.
    """

    feature: Feature
    versions: Mapping[str, str | None]


def support_of(texts: Iterable[str]) -> Iterator[Support]:
    """The features that exported code uses.

    Args:
        texts: The code: style sheet, scripts and pages.
    """
    everything = "\n".join(texts)
    known = _data()["features"]
    for feature in FEATURES:
        if re.search(feature.sign, everything):
            yield Support(feature, known[feature.key])


def driven_since() -> str:
    """Return the first versions of browsers in which CSS alone follows the scroll, in words."""
    known = _data()["features"]["css.properties.timeline-scope"]
    first = [f"{name} {known[browser]}" for browser, name in BROWSERS.items() if known[browser]]
    return listed(first)


def data_date() -> str:
    """The date of the data, as YYYY-MM-DD."""
    return str(_data()["date"])


def support_table(found: Iterable[Support]) -> list[list[str]]:
    """The features with versions, as rows; the first row is the heading."""
    rows = [["feature", *BROWSERS.values(), "without it"]]
    for item in found:
        versions = [item.versions[browser] or "no" for browser in BROWSERS]
        rows.append([item.feature.name, *versions, item.feature.without])
    return rows


@lru_cache(maxsize=1)
def _data() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(files(__package__).joinpath(DATA).read_text("utf-8"))
    return loaded
