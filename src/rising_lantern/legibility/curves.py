"""Contrast along the scroll against its limits, and the lowest of several."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rising_lantern.base.arrays import Floats
from rising_lantern.layout.pages import PageBox
from rising_lantern.legibility.contrast import part_limit, text_limit
from rising_lantern.legibility.measurement import Measurement
from rising_lantern.legibility.parts import measure_parts
from rising_lantern.legibility.texts import measure_texts
from rising_lantern.paint.frames import Painter
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.limits import Check
from rising_lantern.scroll.moments import HeaderSweep, Sweep


@dataclass(frozen=True, slots=True)
class ContrastCurve:
    """A contrast along the scroll; arrays of one item for each position.

    Attributes:
        name: What it is the contrast of.
        contrast: The ratio that 95 % of the pixels behind it reach; NaN off the screen.
        limit: The ratio that it needs.
    """

    name: str
    contrast: Floats
    limit: Floats


class ContrastCurves:
    """The contrast of everything on a page, measured when it is first asked for.

    What the parts of the header have at every px of scroll is kept.
    """

    def __init__(
        self, page: PageBox, painter: Painter, pictures: Mapping[str, Picture], limits: Check
    ) -> None:
        self._page = page
        self._painter = painter
        self._pictures = pictures
        self._limits = limits
        self._kept: dict[str, Floats] | None = None

    def measured_parts(self, swept: Sweep) -> dict[str, Measurement]:
        """The contrast of each part of the header, with its median."""
        return measure_parts(swept, self._painter, self._pictures)

    def measured_texts(self, swept: Sweep) -> dict[tuple[str, int], Measurement]:
        """The contrast of each text, by its section and its index there."""
        return {key: item for key, _, item in measure_texts(swept, self._painter)}

    def least(self, swept: Sweep) -> Floats:
        """The least contrast of any part of the header at each position; NaN without a header."""
        result = [measured_part.contrast for measured_part in self.measured_parts(swept).values()]
        return np.asarray(np.fmin.reduce(result)) if result else np.full(len(swept), np.nan)

    def parts(self, swept: Sweep, max_scroll: int) -> list[ContrastCurve]:
        """The contrast of each part that is seen anywhere, at whole px of a way down.

        Where not every px is asked for, as in charts, some of the positions that have to be
        painted stand for those between them, far from the limits.

        Args:
            swept: The positions.
            max_scroll: The last scroll position of the page.
        """
        header = swept.header
        if header is None:
            return []
        limits = self._part_limits(header)
        if self._kept is None:
            every = len(swept) > max_scroll
            needed = None if every else limits
            measured = measure_parts(swept, self._painter, self._pictures, needed, complete=True)
            contrasts = {name: item.contrast for name, item in measured.items()}
            if every:
                self._kept = contrasts
        else:
            index = swept.scroll.astype(np.intp)
            contrasts = {name: contrast[index] for name, contrast in self._kept.items()}
        return [
            ContrastCurve(name, contrast, limits[name])
            for name, contrast in contrasts.items()
            if np.isfinite(contrast).any()
        ]

    def exact_parts(self, swept: Sweep) -> Iterator[ContrastCurve]:
        """The contrast of each part of the header, measured at each position of a sweep."""
        if swept.header is not None:
            limits = self._part_limits(swept.header)
            for name, item in self.measured_parts(swept).items():
                yield ContrastCurve(name, item.contrast, limits[name])

    def exact_texts(self, swept: Sweep) -> Iterator[ContrastCurve]:
        """The contrast of each text on the page, measured at each position of a sweep."""
        limits = self._text_limits()
        for (section, index), item in self.measured_texts(swept).items():
            limit = np.full(len(swept), limits[section, index])
            yield ContrastCurve(f"{section}, text {index + 1}", item.contrast, limit)

    def _part_limits(self, header: HeaderSweep) -> dict[str, Floats]:
        """What each part of the header needs at each position."""
        return {
            name: np.array(
                [part_limit(part, state.styles[name], self._limits) for state in header.states]
            )[header.state]
            for name, part in header.box.parts.items()
        }

    def _text_limits(self) -> dict[tuple[str, int], float]:
        """What each text needs, by its section and its index there."""
        return {
            (section.name, index): text_limit(text.text.size, text.weight, self._limits)
            for section in self._page.sections
            for index, text in enumerate(section.content)
        }

    def texts(self, swept: Sweep, max_scroll: int) -> list[ContrastCurve]:
        """The contrast of each text on the page; see :meth:`parts`."""
        limits = self._text_limits()
        needed = None if len(swept) > max_scroll else limits
        return [
            ContrastCurve(key[0], item.contrast, np.full(len(swept), limits[key]))
            for key, _, item in measure_texts(swept, self._painter, needed, complete=True)
        ]

    def worst(self, swept: Sweep) -> ContrastCurve:
        """The lowest contrast of any part or text at close positions; see :func:`worst_of`.

        It is measured wherever it is near to a limit or to the lowest of all positions. Elsewhere
        some of the positions that have to be painted stand for those between them.
        """
        found = worst_of("parts and texts", len(swept), self._near(swept, 1.0, complete=True))
        share = found.contrast / found.limit
        if not np.isfinite(share).any() or np.nanmin(share) < 1:
            return found
        closer = self._near(swept, float(np.nanmin(share)), complete=False)
        return worst_of(found.name, len(swept), [found, *closer])

    def _near(self, swept: Sweep, share: float, *, complete: bool) -> list[ContrastCurve]:
        """The contrast of parts and texts, measured where it is near to a share of its limit."""
        limits = {} if swept.header is None else self._part_limits(swept.header)
        needed = {name: limit * share for name, limit in limits.items()}
        parts = measure_parts(swept, self._painter, self._pictures, needed, complete=complete)
        curves = [ContrastCurve(name, item.contrast, limits[name]) for name, item in parts.items()]
        own = self._text_limits()
        wanted = {key: limit * share for key, limit in own.items()}
        for key, _, item in measure_texts(swept, self._painter, wanted, complete=complete):
            curves.append(ContrastCurve(key[0], item.contrast, np.full(len(swept), own[key])))
        return curves

    def worst_part(self, swept: Sweep, max_scroll: int) -> ContrastCurve:
        """The lowest contrast of any part of the header; see :func:`worst_of`."""
        return worst_of("header", len(swept), self.parts(swept, max_scroll))

    def worst_text(self, swept: Sweep, max_scroll: int) -> ContrastCurve:
        """The lowest contrast of any text on the page; see :func:`worst_of`."""
        return worst_of("texts", len(swept), self.texts(swept, max_scroll))


def worst_of(name: str, count: int, curves: Sequence[ContrastCurve]) -> ContrastCurve:
    """At each position the contrast that is furthest below its limit, or least above it.

    Args:
        name: What to call it.
        count: The number of positions.
        curves: The contrasts to choose from; NaN everywhere where there are none.
    """
    if not curves:
        return ContrastCurve(name, np.full(count, np.nan), np.full(count, np.nan))
    return chosen_of(name, curves, lowest_of(curves))


def lowest_of(curves: Sequence[ContrastCurve]) -> NDArray[np.intp]:
    """At each position the index of the curve that :func:`worst_of` takes; at least one curve."""
    share = [
        np.where(np.isfinite(curve.contrast), curve.contrast / curve.limit, np.inf)
        for curve in curves
    ]
    return np.asarray(np.argmin(share, axis=0))


def chosen_of(name: str, curves: Sequence[ContrastCurve], index: NDArray[np.intp]) -> ContrastCurve:
    """One curve made of several.

    Args:
        name: What to call it.
        curves: The curves.
        index: Which of them to take at each position.
    """
    each = np.arange(len(index))
    values = np.array([curve.contrast for curve in curves])
    limits = np.array([curve.limit for curve in curves])
    return ContrastCurve(name, values[index, each], limits[index, each])
