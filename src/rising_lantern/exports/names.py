"""Names in exported code: attributes, custom properties and selectors, all with one prefix."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rising_lantern.css.selectors import Selector
from rising_lantern.errors import RequestError, quoted

_PREFIX = re.compile(r"[a-z][a-z0-9-]{0,29}\Z")


@dataclass(frozen=True, slots=True)
class Naming:
    """How everything is named that exported code adds to a site.

    Attributes:
        prefix: What custom properties, key frames and attributes start with.
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

    def kind(self, kind: str) -> str:
        """The selector of one of our own elements."""
        return f'[data-{self.prefix}="{kind}"]'

    @property
    def ours(self) -> str:
        """The selector of all of our own elements."""
        return f"[data-{self.prefix}]"

    def variable(self, *words: str) -> str:
        """The name of a custom property."""
        return "--" + "-".join((self.prefix, *words))

    def use(self, *words: str) -> str:
        """The value of a custom property."""
        return f"var({self.variable(*words)})"


def of_site(selector: Selector | None, ours: str) -> str:
    """The selector of an element: the site's own where the plan has one, ours elsewhere."""
    return f":is({selector.text})" if selector else ours
