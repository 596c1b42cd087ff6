"""``check``: the limits that a plan is measured against, and the findings that it silences."""

from __future__ import annotations

from fnmatch import fnmatchcase
from typing import Literal

from rising_lantern.plan.models.base import (
    Entry,
    Number,
    key,
)

Conformance = Literal["AA", "AAA"]
"""A level of conformance (WCAG 2.2, 5.2.1)."""


class Limits(Entry):
    """Figures that things have to keep to, where they are not WCAG's or ours."""

    text: Number | None = key("Contrast of texts.", 5.5, None, ge=1, le=21)
    large_text: Number | None = key(
        "Contrast of texts of 24 px or more, or of 18.66 px or more in bold.", 4, None, ge=1, le=21
    )
    picture: Number | None = key(
        "Contrast of icons and other pictures in headers.", 3.5, None, ge=1, le=21
    )
    logo: Number | None = key("Contrast of logos, which are only noted.", 2, None, ge=1, le=21)
    sharpness: Number = key(
        "For how many device pixels per CSS px pictures are prepared at most: what is sharper "
        "costs more than a reader sees. Videos are asked for one.",
        3,
        2,
        ge=1,
        le=8,
    )
    header: Number = key(
        "The largest share of the screen's height for a header that stays.",
        0.25,
        1 / 3,
        gt=0,
        le=1,
    )
    header_zoomed: Number = key(
        "The same for a reader who has zoomed in to 400 %, on 320 x 256 px.", 0.4, 0.5, gt=0, le=1
    )


class Silence(Entry):
    """Findings that are known and accepted."""

    rule: str = key("The rule.", "touch-fixed", min_length=1, max_length=100)
    page: str = key("The page, or a pattern with *.", "visit", "*", max_length=200)
    viewport: str = key("The viewport, or a pattern.", "phone", "*", max_length=200)
    subject: str = key("What the finding is about, or a pattern.", "hero, *", "*", max_length=300)
    reason: str = key(
        "The reason, which is printed.", "The client asked for it", min_length=1, max_length=500
    )

    def covers(self, rule: str, page: str, viewport: str, subject: str) -> bool:
        """Whether a finding is one of those."""
        return rule == self.rule and all(
            fnmatchcase(name, pattern)
            for name, pattern in (
                (page, self.page),
                (viewport, self.viewport),
                (subject, self.subject),
            )
        )


class Check(Entry):
    """The limits that ``check`` applies, and the findings that it silences."""

    conformance: Conformance = key(
        "The level of WCAG 2.2: 4.5 and 3 for large texts, or 7 and 4.5.",
        "AAA",
        "AA",
        alias="contrast",
    )
    limits: Limits = key("Limits that differ from the defaults.", {"text": 5.5}, Limits())
    silence: tuple[Silence, ...] = key(
        "Findings to silence, each with a reason.",
        [{"rule": "touch-fixed", "reason": "The client asked for it"}],
        (),
        max_length=500,
    )
