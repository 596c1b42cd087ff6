"""Readers who zoom in, or have larger text: what no longer fits, and texts over each other."""

from __future__ import annotations

from pathlib import Path

import pytest

import rising_lantern as rl
from chromium import Chromium
from commands import run
from findings import found
from pages import assert_agrees, read, write_pages
from plans import MakePlan, plan_text
from rising_lantern.proofs.serving import served
from rising_lantern.readers.zooming import as_seen
from rising_lantern.scenes.scene import scene_of

_PARTS = (
    "parts: {menu: {text: [Programme, Lanterns, Visit], size: 18px, for: {phone: {text: Menu}}}}"
)
_TEXT = "At dusk the crews push off from the old salt quay"
_SECTIONS = (
    f"a: {{height: 60vh, content: [{{text: {_TEXT}, size: 40px, at: 10% 20%}}, "
    "{text: Saltmere, size: 20px, at: 10% 60%}], for: {phone: {height: 900px}}}, "
    "b: {padding: 40px, content: [{text: Low tide, size: 2em}]}, c: {height: 1200px}"
)
_SCREENS = "laptop: 1280x800, phone: 390x844"


@pytest.mark.browser
@pytest.mark.parametrize(
    ("viewport", "zoom", "size"),
    [("laptop", 200, (640, 400)), ("laptop", 400, (320, 200)), ("phone", 200, (195, 422))],
)
def test_a_zoomed_page_is_laid_out_as_in_a_browser(
    chromium: Chromium,
    make_plan: MakePlan,
    tmp_path: Path,
    viewport: str,
    zoom: int,
    size: tuple[int, int],
) -> None:
    text = plan_text(header=f"height: 60px, {_PARTS}", sections=_SECTIONS, viewports=_SCREENS)
    plan = make_plan(text)
    write_pages(plan.views(), tmp_path / "out")
    seen, donor = as_seen(plan.file, viewport, rl.Zoom(zoom))
    view = rl.Plan(seen).view("page", donor)
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/pages/page.html", *size)
        for scroll in (0, 120):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, view), view, scroll)


def test_larger_text_is_laid_out_as_a_plan_that_asks_for_it(make_plan: MakePlan) -> None:
    twice = _SECTIONS.replace("40px, at", "80px, at").replace("20px, at", "40px, at")
    twice = twice.replace("2em", "64px").replace("padding: 40px", "padding: 40px")
    plain, large = (
        make_plan(plan_text(sections=text, viewports=_SCREENS)) for text in (_SECTIONS, twice)
    )
    seen, donor = as_seen(plain.file, "laptop", rl.TextSize(200))
    found_ = scene_of(seen, "page", donor).box
    expected = large.view("page", "laptop").scene.box
    assert [s.box for s in found_.sections] == [s.box for s in expected.sections]
    assert [t.box for s in found_.sections for t in s.content] == [
        t.box for s in expected.sections for t in s.content
    ]


def test_what_does_not_fit_a_zoomed_screen_is_found_there_alone(make_plan: MakePlan) -> None:
    text = plan_text(header=f"height: 60px, {_PARTS}", sections=_SECTIONS, viewports=_SCREENS)
    plan = make_plan(text)
    assert found(plan, "overlapping-texts") == []
    plain = rl.check(plan)
    both = rl.check(plan, readers=(rl.Zoom(200), rl.Zoom(400)))
    assert both[: len(plain)] == plain
    others = both[len(plain) :]
    assert all(item.reader in {rl.Zoom(200), rl.Zoom(400)} for item in others)
    result = {(item.rule, item.screen_words, str(item.subject)) for item in others}
    assert ("overlapping-texts", "phone at 400% zoom", 'a, "Saltmere"') in result
    assert {item.viewport for item in both} <= {"laptop", "phone"}
    assert "crowds-screen" not in {item.rule for item in plain}
    assert ("crowds-screen", "laptop at 400% zoom") not in {item[:2] for item in result}
    assert rl.check(plan, readers=rl.Zoom(100)) == plain


@pytest.mark.parametrize(
    ("size", "over"), [("30px", []), ("31px", []), ("60px", ['a, "Saltmere"'])]
)
def test_letters_that_touch_are_found_not_boxes(
    make_plan: MakePlan, size: str, over: list[str]
) -> None:
    """A line of 30 px is 42 px high; its letters are not."""
    content = (
        f"{{text: sea, size: {size}, at: 0 100px}}, {{text: Saltmere, size: 30px, at: 0 130px}}"
    )
    plan = make_plan(plan_text(sections=f"a: {{height: 400px, content: [{content}]}}"))
    assert [str(item.subject) for item in found(plan, "overlapping-texts")] == over
    apart = content.replace("at: 0 130px", "at: 400px 100px")
    plan = make_plan(plan_text(sections=f"a: {{height: 400px, content: [{apart}]}}"))
    assert found(plan, "overlapping-texts") == []


def test_check_takes_zooms_and_a_text_size(folder: Path) -> None:
    text = plan_text(sections=_SECTIONS, viewports=_SCREENS)
    (folder / "plan.yaml").write_text(text, "utf-8")
    asked = ("check", str(folder / "plan.yaml"), "--only", "overlapping-texts")
    assert "nothing found" in run(*asked).stdout
    assert "phone at 400% zoom" in run(*asked, "--zoom", "200,400").stdout
    assert "laptop at 300% text" in run(*asked, "--text-size", "300%").stdout
    for words, message in (
        (("--zoom", "2x"), "'2x' is not a percentage; write 200 or 200,400"),
        (("--zoom", "20"), "20% is not 100% to 500%"),
        (("--text-size", "-5%"), "'-5' is not a percentage"),
    ):
        result = run(*asked, *words)
        assert (result.returncode, message in result.stderr) == (2, True)
