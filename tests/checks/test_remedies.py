"""A number that a finding gives as its remedy is enough: its own rule finds nothing then."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest

import rising_lantern as rl
from plans import MakePlan, plan_text
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
    remedies = [item.remedy.words for item in rl.check(plan, (rule,)) if item.rule == rule]
    found = next(match for remedy in remedies if (match := re.search(pattern, remedy)))
    better = plan.replace(change(found[1]))
    assert [item for item in rl.check(better, (rule,)) if item.rule == rule] == []


def test_every_number_in_the_remedies_of_the_traps_is_tried(site: Path) -> None:
    numbered = {
        item.rule
        for item in rl.check(rl.read(site / TRAPS))
        if item.page == item.rule and re.search(r"\d", item.remedy.words)
    }
    assert numbered - _ELSEWHERE == set(REMEDIES)


# What a finding on the traps can be cleared by, as it stands in data, by its rule.
SETTINGS = {
    "behind-something", "covers-return", "covers-start", "early-switch", "flicker", "focus-lost",
    "gap", "jump", "late-switch", "lets-go-early", "never-reached", "off-centre", "restless", "seam",
    "side-scroll", "slit",
}  # fmt: skip


def test_each_value_of_a_remedy_clears_its_finding(site: Path) -> None:
    plan = rl.read(site / TRAPS)
    tried: set[str] = set()
    for item in rl.check(plan):
        if item.rule in tried:
            continue
        for setting in item.remedy.settings:
            better = plan.apply(setting)
            left = {found.about for found in rl.check(better, item.page, only=item.rule)}
            assert item.about not in left, (item, setting.words)
            tried.add(item.rule)
    assert tried == SETTINGS


def test_a_value_for_one_screen_is_set_where_the_plan_gives_it(make_plan: MakePlan) -> None:
    header = "position: fixed, height: 60px, top: 0px, for: {laptop: {top: 20px}}"
    plan = make_plan(plan_text(header=header, sections="a: {height: 2000px, background: black}"))
    (finding,) = (item for item in rl.check(plan) if item.rule == "slit")
    (setting,) = finding.remedy.settings
    assert (setting.path, setting.key) == (
        ("headers", "main", "top"),
        "headers.main.for.laptop.top",
    )
    assert setting.words == "set headers.main.for.laptop.top to 0px"
    assert not [item for item in rl.check(plan.apply(setting)) if item.rule == "slit"]


def test_what_a_header_takes_over_is_taken_away_where_it_is_written(make_plan: MakePlan) -> None:
    plan = make_plan(
        "rising-lantern: 1\nviewports: {laptop: 1000x600}\nheaders:\n"
        "  base: {position: sticky, inside: a, height: 60px, background: white, show: {only: []}}\n"
        "  main: {like: base, show: {only: [page]}}\n"
        "pages: {page: {sections: {a: {height: 900px}, b: {height: 2000px}}}}\n"
    )
    (finding,) = (item for item in rl.check(plan) if item.rule == "lets-go-early")
    (setting,) = finding.remedy.settings
    assert (setting.path, setting.key) == (("headers", "main", "inside"), "headers.base.inside")
    assert not [item for item in rl.check(plan.apply(setting)) if item.rule == "lets-go-early"]


def test_a_remedy_can_take_an_entry_away(make_plan: MakePlan) -> None:
    layer = "layers: [{slides: [photo.png, noise.png], every: 4s}]"
    plan = make_plan(plan_text(before="pause: false", sections=f"a: {{height: 600px, {layer}}}"))
    (finding,) = (item for item in rl.check(plan) if item.rule == "cannot-pause")
    (setting,) = finding.remedy.settings
    assert (setting.words, setting.data) == ("remove pause", {"key": "pause", "value": None})
    assert not [item for item in rl.check(plan.apply(setting)) if item.rule == "cannot-pause"]
