"""The whole plan, as it holds on one viewport."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from rising_lantern.plan.base import ColorValue, Entry, Name
from rising_lantern.plan.headers import Header
from rising_lantern.plan.pages import Page
from rising_lantern.plan.viewports import Viewport, ViewportValue


def _one_weight(value: Any) -> Any:
    return {400: value} if isinstance(value, str) else value


FontFiles = Annotated[dict[Annotated[int, Field(ge=1, le=1000)], str], BeforeValidator(_one_weight)]
"""Font files of the plan's folder by their weight; a single file stands for 400."""


def default_viewports() -> dict[str, Viewport]:
    """The screens of a plan that names none."""
    return {
        "laptop": Viewport(width=1280, height=800),
        "tablet": Viewport(width=820, height=1180, touch=True),
        "phone": Viewport(width=390, height=844, ratio=3, touch=True),
    }


class Document(Entry):
    """A plan whose every ``for:`` has been resolved for one viewport."""

    rising_lantern: Annotated[Literal[1], Field(description="The format's version.")]
    title: Annotated[str, Field(max_length=300)] = ""
    viewports: Annotated[
        dict[Name, ViewportValue], Field(min_length=1, default_factory=default_viewports)
    ]
    colors: Annotated[dict[Name, ColorValue], Field(default_factory=dict)]
    fonts: Annotated[dict[Name, FontFiles], Field(default_factory=dict)]
    headers: Annotated[dict[Name, Header], Field(default_factory=dict)]
    pages: Annotated[dict[Name, Page], Field(min_length=1)]

    def header_on(self, page: str, viewport: str) -> str | None:
        """The name of the header that a page gets on a viewport: the first that applies."""
        entry = self.pages[page]
        names = [page] + ([entry.kind] if entry.kind else [])
        path = entry.path or f"/{page}"
        for name, header in self.headers.items():
            if header.show.applies(names, path, viewport):
                return name
        return None
