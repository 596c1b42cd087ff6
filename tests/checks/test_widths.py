"""Widths between the viewports: against every px of width, laid out by itself."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.readers.widths import WIDTH_RULES, plan_at, stretches_of
from thorough import some

_SECTIONS = (
    "hero: {height: 30vh, content: [{text: The river carries the light to the sea, size: 44px, width: 80%, at: 50% 40%}, "
    "{text: Twelve to fourteen September, size: 22px, width: 80%, at: 50% 66%}]}, "
    "band: {height: 200px, layers: [{image: photo.png}]}, "
    "more: {padding: 30px, content: [{text: Boats lie dry until noon. Walk out to them by the jetty., size: 30px}]}"
)
_HEADER = (
    "height: 80px, parts: {brand: {text: Saltmere Lantern Regatta, size: 24px}, "
    "menu: {text: [Boats, Tides, Visit], side: end}}, looks: {a: {}, b: {from: 62px}}"
)
_SCREENS = "wide: 900x500, middle: {size: 620x500, from: 560}, narrow: 380x500"


def by_force(plan: rl.Plan, low: int, high: int) -> dict[tuple[str, str, str], set[int]]:
    """The widths at which each thing is found that is not found at its viewport's own."""
    result: dict[tuple[str, str, str], set[int]] = {}
    for viewport in plan.viewports:
        own = {item.about for item in plan.view("page", viewport).check(WIDTH_RULES)}
        for first, last in stretches_of(plan, viewport, (low, high)):
            for width in range(first, last + 1):
                view = rl.Plan(plan_at(plan.file, viewport, width)).view("page", viewport)
                for item in view.check(WIDTH_RULES):
                    if item.about not in own:
                        key = item.rule, viewport, str(item.subject)
                        result.setdefault(key, set()).add(width)
    return result


_PLANS = [
    ("rows: {a: {height: 40px}, b: {height: 5vw}}, " + _HEADER.removeprefix("height: 80px, "), _SECTIONS),
    (_HEADER.replace("size: 24px", "size: 3vw"), _SECTIONS.replace("size: 44px", "size: 7vw")),
    (_HEADER, _SECTIONS),
]  # fmt: skip


@pytest.mark.parametrize(("header", "sections"), some(_PLANS, 3))
def test_every_width_that_matters_is_named(make_plan: MakePlan, header: str, sections: str) -> None:
    plan = make_plan(plan_text(header=header, sections=sections, viewports=_SCREENS))
    expected = by_force(plan, 360, 700)
    assert expected
    found: dict[tuple[str, str, str], set[int]] = {}
    for item in rl.check(plan, readers=(rl.Widths(360, 700),), jobs=1):
        if item.reader is None:
            continue
        assert isinstance(item.reader, rl.Widths)
        low, high = item.reader.low or 0, item.reader.high or 0
        key = item.rule, item.viewport, str(item.subject)
        assert not found.get(key, set()) & set(range(low, high + 1))
        found.setdefault(key, set()).update(range(low, high + 1))
    assert found == expected


def test_widths_belong_to_the_viewport_whose_values_hold(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(sections=_SECTIONS, viewports=_SCREENS))
    spans = {name: stretches_of(plan, name, (320, 1600)) for name in plan.viewports}
    assert spans == {"wide": [(900, 1600)], "middle": [(560, 899)], "narrow": [(320, 559)]}
    assert stretches_of(plan, "wide", (320, 600)) == []


def test_the_command_names_the_widths(make_plan: MakePlan, folder: Path) -> None:
    make_plan(
        plan_text(
            header=_HEADER, sections=_SECTIONS, viewports=_SCREENS.replace("380x500", "550x500")
        )
    )
    plain = run("check", folder / "plan.yaml", "--only", "crowded-header")
    assert "px of width" not in plain.stdout
    result = run("check", folder / "plan.yaml", "--widths", "--only", "crowded-header")
    (last,) = re.findall(r"page on narrow at 320 to (\d+) px of width, main, look a", result.stdout)
    view = rl.Plan(plan_at(rl.read(folder / "plan.yaml").file, "narrow", int(last))).view(
        "page", "narrow"
    )
    (finding,) = view.check("crowded-header")
    assert f"at least {int(last) + 1} px wide" in finding.remedy.words
    some = run("check", folder / "plan.yaml", "--widths", "540..550", "--only", "crowded-header")
    assert "px of width" not in some.stdout
    for text, words in (
        ("400", "is not a range of widths"),
        ("900..400", "write two of 1 to 16,384"),
    ):
        wrong = run("check", folder / "plan.yaml", "--widths", text)
        assert wrong.returncode == 2
        assert words in wrong.stderr
