"""The whole plan, as it holds on one viewport."""

from __future__ import annotations

from collections.abc import Hashable
from fnmatch import fnmatchcase
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from rising_lantern.css.bidi import Direction
from rising_lantern.plan.models.base import ColorValue, Entry, Language, Name, key
from rising_lantern.plan.models.headers import Header
from rising_lantern.plan.models.limits import Check
from rising_lantern.plan.models.pages import Page
from rising_lantern.plan.models.pause import Pause, PauseValue
from rising_lantern.plan.models.show import matches
from rising_lantern.plan.models.viewports import Viewport


def _one_weight(value: Any) -> Any:
    return {400: value} if isinstance(value, str) else value


_ByWeight = dict[Annotated[int, Field(ge=1, le=1000)], str]
FontFiles = Annotated[
    _ByWeight, BeforeValidator(_one_weight, json_schema_input_type=_ByWeight | str)
]
"""Font files of the plan's folder by their weight; a single file stands for 400."""


def default_viewports() -> dict[str, Viewport]:
    """The screens of a plan that names none."""
    return {
        "laptop": Viewport(size=(1280, 800)),
        "tablet": Viewport(size=(820, 1180), touch=True),
        "phone": Viewport(size=(390, 844), ratio=3, touch=True),
    }


class Document(Entry):
    """A plan whose every ``for:`` has been resolved for one viewport."""

    rising_lantern: Literal[1] = key("The format's version.", 1)
    title: str = key("The name of the site.", "Saltmere Lantern Regatta", "", max_length=300)
    lang: Language = key("The language of the site, as in HTML.", "en-GB", "en")
    dir: Direction = key(
        "The direction of its pages, as in HTML. From right to left, sides of headers, columns, "
        "alignment and drift are mirrored; 'at' and 'position' are not.",
        "rtl",
        "ltr",
    )
    viewports: dict[Name, Viewport] = key(
        "Screen sizes by name, in CSS px, with a pixel ratio.",
        {"laptop": "1280x800", "phone": "390x844@3"},
        default_factory=default_viewports,
        min_length=1,
    )
    colors: dict[Name, ColorValue] = key(
        "Colours by name; the names can be used wherever a colour can. 'from: FILE.json' takes "
        "over those of a file of design tokens: brand.ink is called brand-ink.",
        {"ink": "#16213e"},
        {},
    )
    fonts: dict[Name, FontFiles] = key(
        "Font files in the plan's folder, by weight; a single file has weight 400.",
        {"banner": {"400": "own.ttf"}},
        {},
    )
    headers: dict[Name, Header] = key(
        "Headers by name; a page gets the first that applies.", {"main": {}}, {}
    )
    pages: dict[Name, Page] = key(
        "Pages by name.", {"home": {"sections": {"hero": {"height": "100vh"}}}}, min_length=1
    )

    pause: PauseValue = key(
        "The control that stops slides and videos: what it says, or its keys; false leaves it out.",
        "Pause the pictures",
        Pause(),
    )
    less_motion: Literal["still", "keep"] = key(
        "What moves for readers who prefer less motion: only the page, or everything.",
        "keep",
        "still",
    )
    check: Check = key(
        "The limits of `check`, and the findings that it silences.", {"contrast": "AAA"}, Check()
    )

    def header_on(self, page: str, viewport: str) -> str | None:
        """The name of the header that a page gets on a viewport: the first that applies."""
        return next(iter(self.headers_on(page, viewport)), None)

    def sharpness_on(self, viewport: str) -> float:
        """The device pixels per CSS px for which pictures are prepared on a viewport."""
        return min(self.viewports[viewport].ratio, self.check.limits.sharpness)

    def what_shows(self, page: str, viewport: str) -> tuple[Hashable, ...]:
        """All that a view of a page depends on: equal for pages that look and are judged alike."""
        entry = self.pages[page].model_copy(
            update={"path": None, "paths": (), "title": None, "kind": None}
        )
        silences = tuple(fnmatchcase(page, item.page) for item in self.check.silence)
        return repr(entry), tuple(self.headers_on(page, viewport)), silences

    def headers_on(self, page: str, viewport: str) -> list[str]:
        """The names of all headers that apply to a page on a viewport, in the plan's order."""
        return self.headers_at(page, self.pages[page].paths_as(page)[0], viewport)

    def headers_at(self, page: str, path: str, viewport: str) -> list[str]:
        """The names of all headers that apply to one of the paths of a page on a viewport."""
        kind = self.pages[page].kind
        names = [page] + ([kind] if kind else [])
        return [
            name
            for name, header in self.headers.items()
            if header.show.applies(names, path, viewport)
        ]

    def page_at(self, path: str) -> str | None:
        """The name of the page at a path: one that has just this path before one with a glob."""
        paths = [(name, own) for name, page in self.pages.items() for own in page.paths_as(name)]
        exact = (name for name, own in paths if own == path)
        return next(exact, None) or next((name for name, own in paths if matches(own, path)), None)
