"""A number that a finding gives as its remedy is enough: its own rule finds nothing then."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest

import rising_lantern as rl
from rising_lantern.demo.site import TRAPS

_HEADER, _PAGE = "headers.{}.{}".format, "pages.{}.sections.{}".format

# By its rule: what is looked for in the remedy, and what it changes in the plan of traps.
REMEDIES: dict[str, tuple[str, Callable[[str], dict[str, str]]]] = {
    "flicker": (
        r"'back' to (\S+),",
        lambda value: {_HEADER("shrinking", "looks.slim.back"): value},
    ),
    "late-switch": (
        r"start it at (\S+) px",
        lambda value: {_HEADER("guessed", "looks.solid.from"): f"{value}px"},
    ),
    "early-switch": (
        r"start it at (\S+) px",
        lambda value: {_HEADER("hasty", "looks.dark.from"): f"{value}px"},
    ),
    "slow-change": (
        r"shorten it to (\S+)",
        lambda value: {_HEADER("slow", "change"): f"fade {value} ease"},
    ),
    "covers-start": (
        r"down by (\d+) px",
        lambda value: {
            _PAGE("covers-start", "opening.content.0.at"): f"50% calc(20px + {value}px)"
        },
    ),
    "never-reached": (
        r"start it at (\d+) px",
        lambda value: {_HEADER("guessed", "looks.solid.from"): f"{value}px"},
    ),
    "behind-something": (
        r"a z above (\d+)",
        lambda value: {_HEADER("guessed", "z"): str(int(value) + 1)},
    ),
    "gap": (
        r"(\d+) px high",
        lambda value: {_PAGE("gap", "river.layers.0.size"): f"100% {value}px"},
    ),
    "seam": (r"height to (.*)", lambda value: {_PAGE("seam", "opening.height"): value}),
    "side-scroll": (
        r"width to (.*)",
        lambda value: {_PAGE("side-scroll", "opening.width"): value},
    ),
    "barely-scrolls": (
        r"page (\d+) px longer",
        lambda value: {
            _PAGE("barely-scrolls", "more"): f"{{height: {value}px}}",
        },
    ),
    "crowded-header": (
        r"at least (\d+) px wide",
        lambda value: {"viewports.laptop.size": f"{int(value) + 15}x800"},
    ),
    "crowds-screen": (
        r"at most (\d+) px high",
        lambda value: {_HEADER("towering", "height"): f"{value}px"},
    ),
    "slit": (
        r"'top' to (\S+),",
        lambda value: {_HEADER("floating", "top"): value, _HEADER("floating", "height"): "96px"},
    ),
    "runs-under": (
        r"at least (\d+)% opaque",
        lambda value: {_HEADER("see-through", "background"): f"rgb(11 16 38 / {value}%)"},
    ),
    "off-centre": (
        r"position to (.*)",
        lambda value: {_PAGE("off-centre", "reeds.layers.0.position"): value},
    ),
    "cut-off": (
        r"section (\d+) px high",
        lambda value: {_PAGE("cut-off", "words.height"): f"{value}px"},
    ),
    "restless": (
        r"'after' to (\S+) or more",
        lambda value: {_HEADER("returning", "looks.back.after"): value},
    ),
    "covered-content": (
        r"overlap it by (\d+) px less",
        lambda value: {_PAGE("covered-content", "band.overlap"): f"{96 - int(value)}px"},
    ),
    "focus-lost": (
        r"position to (.*)",
        lambda value: {_PAGE("focus-lost", "strip.layers.0.position"): value},
    ),
}
# Remedies whose number is for a picture that somebody has to prepare.
_ELSEWHERE = {"soft-picture"}


@pytest.mark.parametrize("rule", REMEDIES)
def test_the_number_of_a_remedy_is_enough(site: Path, rule: str) -> None:
    plan = rl.read(site / TRAPS)
    pattern, change = REMEDIES[rule]
    remedies = [item.remedy for item in rl.check(plan, (rule,)) if item.rule == rule]
    found = next(match for remedy in remedies if (match := re.search(pattern, remedy)))
    better = plan.replace(change(found[1]))
    assert [item for item in rl.check(better, (rule,)) if item.rule == rule] == []


def test_every_number_in_the_remedies_of_the_traps_is_tried(site: Path) -> None:
    numbered = {
        item.rule
        for item in rl.check(rl.read(site / TRAPS))
        if item.page == item.rule and re.search(r"\d", item.remedy)
    }
    assert numbered - _ELSEWHERE == set(REMEDIES)
