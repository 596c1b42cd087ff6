"""Names in exported code: classes, attributes and custom properties, all with one prefix."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from rising_lantern.css.selectors import Selector
from rising_lantern.errors import RequestError, quoted

_KINDS = (
    "arrival", "backdrop", "backdrops", "border", "box", "cell", "clip", "content", "fill", "fills",
    "flow", "ground", "header", "item", "layer", "link", "list", "main", "part", "pause", "picture",
    "place", "row", "ruler", "section", "side", "slide", "text", "video",
)  # fmt: skip
"""The kinds of our own elements, each of which is a class."""
_PREFIX = re.compile(r"[a-z][a-z0-9-]{0,29}\Z")


@dataclass(frozen=True, slots=True)
class Naming:
    """How everything is named that exported code adds to a site.

    Attributes:
        prefix: What classes, custom properties, key frames and attributes start with.
    """

    prefix: str = "lantern"

    def __post_init__(self) -> None:
        if not _PREFIX.match(self.prefix) or self.prefix.endswith("-"):
            raise RequestError(
                f"{quoted(self.prefix)} is not a prefix; write small letters, digits and hyphens, "
                "a letter first, such as lantern"
            )

    @property
    def any_page(self) -> str:
        """The selector of the element that everything is under, on any page."""
        return f"[data-{self.prefix}-page]"

    def page(self, page: str) -> str:
        """The selector of the element that everything is under, on one page."""
        return f'[data-{self.prefix}-page="{page}"]'

    def pages(self, pages: Sequence[str]) -> str:
        """The selector of the element that everything is under, on some pages."""
        selectors = [self.page(page) for page in pages]
        return selectors[0] if len(selectors) == 1 else f":is({', '.join(selectors)})"

    def kind(self, kind: str) -> str:
        """The selector of one of our own elements."""
        return f".{self.prefix}-{kind}"

    def one(self, kind: str, name: object) -> str:
        """The selector of the element of a kind that has a name, or of a place in a list."""
        return f".{self.prefix}-{kind}-{name}"

    def section_class(self, name: str) -> str:
        """The class of a section: its own name, unless that would be one of another kind."""
        is_kind = any(name == kind or name.startswith(f"{kind}-") for kind in _KINDS)
        return f"{self.prefix}-{'section-' * is_kind}{name}"

    def section(self, name: str) -> str:
        """The selector of a section."""
        return f".{self.section_class(name)}"

    @property
    def ours(self) -> str:
        """The selector of all of our own elements."""
        return f':is([class^="{self.prefix}-"], [class*=" {self.prefix}-"])'

    def sheet(self, page: str) -> str:
        """The name of the style sheet of a page, beside that of all pages."""
        return f"{self.prefix}-{page}.css"

    def variable(self, *words: str) -> str:
        """The name of a custom property."""
        return "--" + "-".join((self.prefix, *words))

    def use(self, *words: str) -> str:
        """The value of a custom property."""
        return f"var({self.variable(*words)})"


def of_site(selector: Selector | None, ours: str) -> str:
    """The selector of an element: the site's own where the plan has one, ours elsewhere."""
    return f":is({selector.text})" if selector else ours
