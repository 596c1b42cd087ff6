"""Readers who have a page otherwise than on the screens of its plan: what is different for them."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.base.arguments import number
from rising_lantern.errors import RequestError, listed, quoted
from rising_lantern.layout.screen import MOST_SCREEN_PX

WHOLE = 100
"""The zoom and the size of text of a reader who has changed neither, in per cent."""

EFFECTS = {
    "mix-blend-mode": ("blend", "normal"),
    "filter": ("filter", "none"),
    "backdrop-filter": ("blur", "0px"),
}
"""Effects of CSS without which texts may have another contrast.

Each with the key of the plan that asks for it, and the value of that key that asks for nothing.
"""

PICTURES, FONTS, TRANSPARENCY = "pictures", "fonts", "transparency"
LEFT_OUT = (*EFFECTS, PICTURES, FONTS, TRANSPARENCY)
"""What a reader may be without."""

_LEAST, _MOST = 100, 500  # per cent


@dataclass(frozen=True, slots=True)
class Zoom:
    """A reader who zooms in: WCAG 2.2, 1.4.10.

    The page is laid out as browsers do it: on a viewport whose sides are divided, and whose pixel
    ratio is multiplied, by the zoom, with the values of the viewport that has its width.

    Attributes:
        percent: The zoom, 100 to 500.

    Raises:
        RequestError: If it is not.
    """

    percent: int = 400

    def __post_init__(self) -> None:
        _check_percent(self.percent)

    @property
    def words(self) -> str:
        """What is different, in words."""
        return f"at {self.percent}% zoom"

    @property
    def data(self) -> dict[str, object]:
        """What is different, as JSON data."""
        return {"zoom": self.percent}


@dataclass(frozen=True, slots=True)
class TextSize:
    """A reader who has larger text, and the viewport as it is: WCAG 2.2, 1.4.4.

    Attributes:
        percent: The size of text, 100 to 500.

    Raises:
        RequestError: If it is not.
    """

    percent: int = 200

    def __post_init__(self) -> None:
        _check_percent(self.percent)

    @property
    def words(self) -> str:
        """What is different, in words."""
        return f"at {self.percent}% text"

    @property
    def data(self) -> dict[str, object]:
        """What is different, as JSON data."""
        return {"textSize": self.percent}


@dataclass(frozen=True, slots=True)
class Widths:
    """Readers whose screens have other widths than those of the plan.

    Attributes:
        low: The least width in CSS px; by default 320, or that of the narrowest viewport.
        high: The greatest; by default that of the widest viewport.

    Raises:
        RequestError: If they are no widths of a screen, or the greatest is less than the least.
    """

    low: int | None = None
    high: int | None = None

    def __post_init__(self) -> None:
        low = 1 if self.low is None else number("a width", self.low)
        high = MOST_SCREEN_PX if self.high is None else number("a width", self.high)
        if not 1 <= low <= high <= MOST_SCREEN_PX:
            problem = f"{low:g}..{high:g} is not a range of widths"
            remedy = f"write two of 1 to {MOST_SCREEN_PX:,} px, such as 320..1600"
            raise RequestError(f"{problem}; {remedy}")

    @property
    def words(self) -> str:
        """What is different, in words."""
        if self.low is None or self.high is None:
            return "at other widths"
        if self.low == self.high:
            return f"at {self.low:,} px of width"
        return f"at {self.low:,} to {self.high:,} px of width"

    @property
    def data(self) -> dict[str, object]:
        """What is different, as JSON data."""
        return {"widths": [self.low, self.high]}


@dataclass(frozen=True, slots=True)
class ContentLength:
    """Readers of a page whose editors have written more or less than is planned.

    Heights of sections in px are changed by it, and so are texts that flow.

    Attributes:
        percent: How much there is, 10 to 500; 100 is what is planned.

    Raises:
        RequestError: If it is not.
    """

    percent: int = 130

    def __post_init__(self) -> None:
        _check_percent(self.percent, 10)

    @property
    def words(self) -> str:
        """What is different, in words."""
        return f"with {self.percent}% of the content"

    @property
    def data(self) -> dict[str, object]:
        """What is different, as JSON data."""
        return {"content": self.percent}


@dataclass(frozen=True, slots=True)
class LongerWords:
    """Readers of another language, in which the words of menus and buttons are longer.

    Attributes:
        percent: By how much, 1 to 400.
        at: The widths of their screens; None for those of the plan.

    Raises:
        RequestError: If it is not.
    """

    percent: int = 40
    at: Widths | None = None

    def __post_init__(self) -> None:
        _check_percent(self.percent, 1, 400)

    @property
    def words(self) -> str:
        """What is different, in words."""
        return f"with words {self.percent}% longer" + (f" {self.at.words}" if self.at else "")

    @property
    def data(self) -> dict[str, object]:
        """What is different, as JSON data."""
        return {"longer": self.percent} | (self.at.data if self.at else {})


@dataclass(frozen=True, slots=True)
class Without:
    """A reader to whom something does not come: an effect of CSS, the pictures or the fonts.

    Without pictures, a section has its background; without fonts, texts have the letters of
    ``sans``. A reader who prefers more contrast or less transparency is without that: headers
    have their solid grounds.

    Attributes:
        feature: ``mix-blend-mode``, ``filter``, ``backdrop-filter``, ``pictures``, ``fonts`` or
            ``transparency``.

    Raises:
        RequestError: If it is another one.
    """

    feature: str

    def __post_init__(self) -> None:
        if self.feature not in LEFT_OUT:
            raise RequestError(
                f"{quoted(self.feature)} is not something that is left out; write one of: "
                f"{listed(LEFT_OUT)}"
            )

    @property
    def words(self) -> str:
        """What is different, in words."""
        return f"without {self.feature}"

    @property
    def data(self) -> dict[str, object]:
        """What is different, as JSON data."""
        return {"without": self.feature}


Reader = Zoom | TextSize | Widths | ContentLength | LongerWords | Without
"""Any of them."""


def _check_percent(percent: int, least: int = _LEAST, most: int = _MOST) -> None:
    if not least <= number("a size in per cent", percent) <= most:
        raise RequestError(f"{percent}% is not {least}% to {most}%")
