"""What a browser says of a page at a viewport, with the pictures that differ most."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, get_args

from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.headers import Going
from rising_lantern.proofs.comparing import Disagreement

Way = Literal["css", "script"]
WAYS: tuple[Way, ...] = get_args(Way)
"""What switches looks and moves layers: scroll-driven animations, or the script without them."""
_WAY_WORDS: dict[Way, str] = {"css": ", by CSS", "script": ", by the script"}


@dataclass(frozen=True, eq=False)
class Pair:
    """A picture of a browser beside the frame that was predicted.

    Attributes:
        scroll: The scroll position in px.
        going: The way the reader came.
        difference: The mean difference of their pixels, of 255.
        shot: The browser's picture.
        frame: The predicted frame.
    """

    scroll: float
    going: Going
    difference: float
    shot: Bytes = field(repr=False)
    frame: Bytes = field(repr=False)


@dataclass(frozen=True, eq=False)
class ViewProof:
    """What a browser says of a page at a viewport.

    Attributes:
        page: The page's name.
        viewport: The viewport's name.
        engine: The browser, with its version.
        positions: How many positions were compared, down and up.
        found: What disagrees, each thing where it is worst.
        causes: What may be the cause of it.
        shift: The layout shift of the page over the whole scroll, the parts of its header left
            out; None where the browser does not count it.
        task_ms: The longest task over the whole scroll, in ms; 0 for none above 50 ms.
        worst: The pair of pictures that differ most; None where none were compared.
        way: What switched looks and moved layers; None on a page where scroll-driven animations
            do neither.
    """

    page: str
    viewport: str
    engine: str
    positions: int
    found: tuple[Disagreement, ...]
    causes: tuple[str, ...]
    shift: float | None
    task_ms: float
    worst: Pair | None
    way: Way | None = None

    @property
    def browser(self) -> str:
        """The browser in words, with what switches looks and moves layers in it."""
        return f"{self.engine}{_WAY_WORDS[self.way] if self.way else ''}"

    @property
    def agrees(self) -> bool:
        """Whether nothing disagrees."""
        return not self.found
