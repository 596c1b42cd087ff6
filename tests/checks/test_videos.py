"""Videos that are checked: the frame in which something is hardest to read, and its second."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from findings import found
from plans import MakePlan, plan_text
from thorough import some
from videos import write_video

TEXT = "{{text: Afloat at last, size: 40px, color: white, at: {}}}"
HEADER = "position: fixed, height: 60px, color: white, parts: {menu: {text: Boats, side: start}}"


def plan_of(make_plan: MakePlan, layers: str, text: str = TEXT.format("50% 50%")) -> rl.Plan:
    """A plan with a video behind a text and a header."""
    sections = f"a: {{height: 600px, layers: [{layers}], content: [{text}]}}, b: {{height: 900px, background: '#123'}}"
    return make_plan(plan_text(header=HEADER, sections=sections))


def flash(at: int) -> object:
    """Dark water, and one frame of light."""
    return lambda index: 190 if index == at else 40


@pytest.mark.parametrize(
    "layers",
    some(
        [
            "{video: river.webm}",
            "{fill: rgb(0 0 0 / .25)}, {video: river.webm, speed: 0.4}",
            "{video: river.webm, poster: logo-dark.png, filter: brightness(1.2)}",
            "{video: river.webm, blend: difference}, {fill: '#fff'}",
        ],
        4,
    ),
)
def test_the_worst_frame_is_that_of_all_frames(
    make_plan: MakePlan, folder: Path, layers: str
) -> None:
    """Against every frame, checked by itself."""
    write_video(folder / "river.webm", 12, rate=10, level=flash(7))  # type: ignore[arg-type]
    plan = plan_of(make_plan, layers)
    (finding,) = [
        item for item in found(plan, "unreadable-content") if "poster" not in item.message
    ]
    assert finding.message.endswith(" s of river.webm")
    first = plan.file.files.pictures["logo-dark.png"].frames if "poster" in layers else 0
    every = [
        item.measured
        for frame in range(first, first + 12)
        for item in plan.view().showing(frame).check(("unreadable-content",))
    ]
    assert finding.measured == pytest.approx(min(every), abs=0.02)


def test_a_flash_behind_text_and_header_is_named_with_its_second(
    make_plan: MakePlan, folder: Path
) -> None:
    write_video(folder / "river.webm", 40, rate=10, level=flash(31))  # type: ignore[arg-type]
    plan = plan_of(make_plan, "{video: river.webm}")
    (text,) = found(plan, "unreadable-content")
    (part,) = found(plan, "unreadable-part")
    assert text.message.endswith("at 3.1 s of river.webm")
    # The light square is behind the menu at first, and lighter than the flash.
    assert part.message.endswith(" s of river.webm")


def test_dark_water_hides_nothing(make_plan: MakePlan, folder: Path) -> None:
    write_video(folder / "river.webm", 20, level=lambda index: 20 + index)
    plan = plan_of(make_plan, "{video: river.webm}", TEXT.format("50% 90%"))
    assert found(plan, "unreadable-content") == []


def test_a_video_can_be_paused_unless_the_plan_leaves_that_out(
    make_plan: MakePlan, folder: Path
) -> None:
    write_video(folder / "river.webm", 20)
    sections = "a: {height: 600px, layers: [{video: river.webm}]}, b: {height: 900px}"
    assert found(make_plan(plan_text(sections=sections)), "cannot-pause") == []
    assert found(make_plan(plan_text(sections=sections)), "less-motion") == []
    (finding,) = found(
        make_plan(plan_text(sections=sections, before="pause: false")), "cannot-pause"
    )
    assert finding.message == "its video runs without an end, and nothing stops it"
    assert finding.measured == pytest.approx(1, abs=0.01)


def test_what_is_found_without_a_video_is_found_once(make_plan: MakePlan, folder: Path) -> None:
    write_video(folder / "river.webm", 20, rate=10, level=flash(9))  # type: ignore[arg-type]
    text = TEXT.format("50% 50%")
    sections = (
        f"a: {{height: 600px, layers: [{{video: river.webm}}], content: [{text}]}}, "
        f"b: {{height: 900px, background: '#eee', content: [{text}]}}"
    )
    findings = found(make_plan(plan_text(sections=sections)), "unreadable-content")
    messages = {item.subject.section: item.message for item in findings}
    assert len(findings) == len(messages) == 2
    assert "at 0.9 s of river.webm" in messages["a"]
    assert "river.webm" not in messages["b"]


def test_contrast_over_a_second_is_that_of_its_frame(make_plan: MakePlan, folder: Path) -> None:
    write_video(folder / "river.webm", 40, rate=10, level=flash(31))  # type: ignore[arg-type]
    view = plan_of(make_plan, "{video: river.webm}").view()
    tables = [view.showing(second=s).contrast(of="content").contrast for s in (3.05, 3.15)]
    assert np.nanmin(tables[0]) > 4.5 > np.nanmin(tables[1])
