"""Which widths each viewport's values hold for.

They hold from its width, or its ``from``, up to the next wider one's; those of the narrowest also
below. Media queries for the pointer, the orientation, the resolution or the height separate
viewports that start at one width. Readers who prefer a dark scheme get the viewports that are
dark, and the others where there is none.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from rising_lantern.css.lengths import Basis
from rising_lantern.css.numbers import number
from rising_lantern.css.schemes import Scheme
from rising_lantern.errors import Fault, PlanError, quoted
from rising_lantern.plan.models.viewports import Viewport
from rising_lantern.plan.text.reading import PlanFile

_Kind = tuple[bool, bool, float]


@dataclass(frozen=True, slots=True)
class ScreenRange:
    """Screens that one viewport's values hold for; of schemes it can have several.

    Attributes:
        name: The viewport's name.
        low: The least width in CSS px; 0 for none.
        high: The width below which they hold; None for no end.
        feature: Media features that set it apart from others of the same widths, or none.
        scheme: ``light`` or ``dark`` where they hold for readers of one scheme only.
    """

    name: str
    low: int
    high: int | None
    feature: str = ""
    scheme: Scheme | None = None

    @property
    def media(self) -> str:
        """The media query; ``all`` where the values hold everywhere."""
        return media_query(self.low, self.high, self.feature, self.scheme)


def screen_ranges(plan: PlanFile, names: Iterable[str]) -> tuple[ScreenRange, ...]:
    """The screens of each of some viewports, the widest first.

    Raises:
        PlanError: If two viewports cannot be told apart by a media query.
    """
    viewports = {name: plan.viewport(name) for name in names}
    dark = {name: item for name, item in viewports.items() if item.scheme == "dark"}
    light = {name: item for name, item in viewports.items() if name not in dark}
    if not dark or not light:
        return _ranges(plan, viewports)
    replaced = {(item.start, _kind(item)) for item in dark.values()}
    others = {
        name: item for name, item in light.items() if (item.start, _kind(item)) not in replaced
    }
    by_day, by_night = _ranges(plan, light), _ranges(plan, others | dark)
    both = [item for item in by_day if item in by_night]
    return (
        *(item if item in both else replace(item, scheme="light") for item in by_day),
        *(replace(item, scheme="dark") for item in by_night if item not in both),
    )


def safe_area(plan: PlanFile, name: str) -> dict[str, float]:
    """What a screen's own shape takes from each of its sides, in px; nothing where it is even."""
    size = plan.viewport(name)
    area, basis = size.safe_area, Basis(*size.size)
    if area is None:
        return {}
    sides = {"top": area.top, "right": area.right, "bottom": area.bottom, "left": area.left}
    return {side: length.px(basis) for side, length in sides.items()}


def width_words(plan: PlanFile, names: Iterable[str]) -> dict[str, str]:
    """The widths that each of some viewports stands for, in words.

    Viewports that no media query tells apart stand for the same widths.
    """
    return {name: _widths(*span) for name, span in spans_of(plan, names).items()}


def spans_of(plan: PlanFile, names: Iterable[str]) -> dict[str, tuple[int, int | None]]:
    """The least width of each of some viewports, and the one below which it ends, in CSS px.

    The narrowest begins at 0 where it has no ``from``; None stands for no end.
    """
    return _spans({name: plan.viewport(name) for name in names})


def _spans(viewports: Mapping[str, Viewport]) -> dict[str, tuple[int, int | None]]:
    starts = {name: viewport.start for name, viewport in viewports.items()}
    widths = sorted(set(starts.values()))
    ends = dict(zip(widths, [*widths[1:], None], strict=True))
    spans = {name: (start, ends[start]) for name, start in starts.items()}
    if widths and viewports[min(starts, key=lambda name: starts[name])].from_ is None:
        return {name: (0 if low == widths[0] else low, high) for name, (low, high) in spans.items()}
    return spans


def _ranges(plan: PlanFile, viewports: Mapping[str, Viewport]) -> tuple[ScreenRange, ...]:
    """The screens of each viewport, for readers of one scheme."""
    spans = _spans(viewports)
    ranges: list[ScreenRange] = []
    for low, high in sorted(set(spans.values()), reverse=True):
        group = {name: viewports[name] for name in viewports if spans[name] == (low, high)}
        features = _features(plan, group)
        ranges += [ScreenRange(name, low, high, features[name]) for name in group]
    return tuple(ranges)


def _kind(viewport: Viewport) -> _Kind:
    """What tells it from others of the same width: touch, whether it is wide, and its ratio."""
    return viewport.touch, viewport.width > viewport.height, viewport.ratio


def _features(plan: PlanFile, group: Mapping[str, Viewport]) -> dict[str, str]:
    """What sets viewports of one width apart: their kind, and of one kind their height."""
    if len(group) == 1:
        return dict.fromkeys(group, "")
    kinds = {name: _kind(item) for name, item in group.items()}
    result = {}
    for name, kind in kinds.items():
        heights = {other: group[other].height for other in group if kinds[other] == kind}
        twin = next(
            (other for other in heights if other < name and heights[other] == heights[name]), None
        )
        if twin is not None:
            raise PlanError([_twins(plan, name, twin)])
        words = [*_words(kind, list(kinds.values()))]
        if len(heights) > 1:
            words += _between("height", "px", sorted(heights.values()), heights[name])
        result[name] = " and ".join(words)
    return result


def _twins(plan: PlanFile, name: str, other: str) -> Fault:
    return Fault(
        plan.place_of(("viewports", name), at_key=True),
        f"no media query can tell {quoted(name)} from {quoted(other)}",
        "give one of them another size or 'from', or set its 'touch', 'ratio' or 'scheme'",
    )


def _words(kind: _Kind, kinds: Sequence[_Kind]) -> Iterable[str]:
    touch, wide, ratio = kind
    if len({item[0] for item in kinds}) > 1:
        yield f"(pointer: {'coarse' if touch else 'fine'})"
    if len({item[1] for item in kinds}) > 1:
        yield f"(orientation: {'landscape' if wide else 'portrait'})"
    yield from _between("resolution", "dppx", sorted({item[2] for item in kinds}), ratio)


def _between(feature: str, unit: str, values: Sequence[float], own: float) -> Iterable[str]:
    """Media features that hold for what is nearer to one value than to the others."""
    for below, above in pairwise(values):
        middle = number((below + above) / 2)
        if own == above:
            yield f"({feature} >= {middle}{unit})"
        if own == below:
            yield f"({feature} < {middle}{unit})"


def _widths(low: int, high: int | None) -> str:
    if high is None:
        return f"{low} px and wider" if low else "all widths"
    return f"{low} to {high - 1} px" if low else f"narrower than {high} px"


def media_query(low: int, high: int | None, feature: str, scheme: Scheme | None = None) -> str:
    """The media query of some widths in CSS px; ``all`` for all screens.

    Args:
        low: The least width; 0 for none.
        high: The width below which it holds; None for no end.
        feature: Other media features, or none.
        scheme: The colour scheme that readers prefer, where that counts.
    """
    width = ""
    if low and high is not None:
        width = f"({low}px <= width < {high}px)"
    elif low:
        width = f"(width >= {low}px)"
    elif high is not None:
        width = f"(width < {high}px)"
    prefers = f"(prefers-color-scheme: {scheme})" if scheme else ""
    return " and ".join(item for item in (width, feature, prefers) if item) or "all"
