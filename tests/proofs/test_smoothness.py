"""What loading and scrolling cost, from the browser's own trace."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run
from pictures import paint_pictures
from plans import plan_text
from rising_lantern.proofs.smoothness import (
    Smoothness,
    bare_page,
    iter_smoothness,
    smoothness_lines,
)
from rising_lantern.proofs.tracing import Event, work_in

_PAGE, _OTHER = 7, 8
_SECTIONS = "a: {height: 600px, layers: [{image: photo.png, speed: 0.4}]}, b: {height: 900px, %s}"


def event(name: str, pid: int, tid: int, ms: float, *, wall: float | None = None) -> Event:
    """An event of a trace that took a time of its processor, and on the clock."""
    taken = {"tdur": ms * 1000, "dur": (wall or ms) * 1000}
    return {"ph": "X", "name": name, "pid": pid, "tid": tid, **taken}


def thread(name: str, pid: int, tid: int) -> Event:
    """The event that names a thread."""
    return {"ph": "M", "name": "thread_name", "pid": pid, "tid": tid, "args": {"name": name}}


def test_the_work_of_a_page_is_that_of_its_own_threads() -> None:
    task = "ThreadControllerImpl::RunTask"
    work = work_in(
        [
            thread("CrRendererMain", _PAGE, 1),
            thread("Compositor", _PAGE, 2),
            thread("CrRendererMain", _OTHER, 1),
            thread("VizCompositorThread", _OTHER, 3),
            event(task, _PAGE, 1, 30, wall=400),
            event(task, _PAGE, 1, 12),
            event("Layout", _PAGE, 1, 4),
            event("Paint", _PAGE, 1, 4),
            event("Layout", _OTHER, 1, 4),
            event(task, _OTHER, 1, 90),
            event(task, _PAGE, 2, 5),
            event(task, _OTHER, 3, 7),
            event("RasterTask", _PAGE, 9, 3),
            event("RasterTask", _PAGE, 10, 4),
            event("Display::DrawAndSwap", _OTHER, 3, 1),
            event("Display::DrawAndSwap", _OTHER, 3, 1),
        ]
    )
    assert (work.frames, work.layouts) == (2, 1)
    assert (work.main_ms, work.longest_ms) == (42, 30)
    assert (work.compositor_ms, work.raster_ms, work.painting_ms) == (12, 7, 19)


def test_nothing_done_is_no_work() -> None:
    work = work_in([])
    assert (work.frames, work.main_ms, work.longest_ms) == (0, 0, 0)


def test_a_bare_page_has_the_pictures_and_words_of_the_plan(tmp_path: Path) -> None:
    paint_pictures(tmp_path)
    sections = _SECTIONS % "content: [{text: 'Boats <b>'}]"
    (tmp_path / "plan.yaml").write_text(plan_text(sections=sections), "utf-8")
    plan = rl.read(tmp_path / "plan.yaml")
    page = bare_page(plan.file, plan.view().scene.box)
    (address,) = re.findall(r"url\(&#x27;(assets/[^&]+)&#x27;\)", page)
    assert address in rl.export(plan, pictures=False).files
    assert "<p>Boats &lt;b&gt;</p>" in page
    assert "height: 900" in page
    assert "animation" not in page


def measured(folder: Path, more: str) -> Smoothness:
    """What a small page costs."""
    (folder / "plan.yaml").write_text(plan_text(sections=_SECTIONS % more), "utf-8")
    (item,) = iter_smoothness(rl.read(folder / "plan.yaml"), slower=1, runs=1)
    return item


@pytest.mark.browser
@pytest.mark.usefixtures("needs_chromium")
def test_what_costs_more_is_seen_to(tmp_path: Path) -> None:
    """Layers that blend, and a lag that the script follows, beside none."""
    paint_pictures(tmp_path)
    light = measured(tmp_path, "background: '#fdf6e3'")
    layer = "{image: noise.png, speed: 0.5, blend: multiply}"
    heavy = measured(tmp_path, f"layers: [{', '.join([layer] * 8)}]")
    assert light.px == heavy.px == 900
    assert light.scroll.frames > 5
    assert heavy.scroll.painting_ms > 1.5 * light.scroll.painting_ms
    assert heavy.cost_ms > light.cost_ms
    assert light.load.layouts >= 1


@pytest.mark.browser
@pytest.mark.usefixtures("needs_chromium")
def test_the_command_prints_a_table_for_each_view(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("rising_lantern.proofs.smoothness.RUNS", 1)
    paint_pictures(tmp_path)
    (tmp_path / "plan.yaml").write_text(plan_text(sections=_SECTIONS % "background: red"), "utf-8")
    result = run("prove", tmp_path / "plan.yaml", "--smooth", "-o", tmp_path / "out")
    assert result.returncode == 0, result.stderr
    lines = result.stdout.splitlines()
    assert lines[0] == "page  laptop  900 px"
    assert lines[1].split() == ["this", "page", "bare", "page"]
    assert [line.split("  ")[1] for line in lines[2:]][:2] == [
        "longest task while loading, ms", "layouts while loading",
    ]  # fmt: skip
    (item,) = json.loads((tmp_path / "out/smoothness.json").read_text("utf-8"))
    assert item["page"] == "page"
    whole = sum(item["scroll"][name] for name in ("main_ms", "compositor_ms", "raster_ms"))
    bare = sum(item["bare_scroll"][name] for name in ("main_ms", "compositor_ms", "raster_ms"))
    assert item["cost_ms"] == pytest.approx((whole - bare) / 0.9)
    assert int(lines[-1].split()[-1]) == round(item["cost_ms"])


@pytest.mark.parametrize(
    "option", [("--into", "host.html"), ("--weight", "layer"), ("--engine", "firefox")]
)
def test_what_is_not_measured_is_refused(tmp_path: Path, option: tuple[str, str]) -> None:
    (tmp_path / "plan.yaml").write_text(plan_text(), "utf-8")
    result = run("prove", tmp_path / "plan.yaml", "--smooth", *option)
    assert result.returncode == 2
    assert f"leave out {option[0]}" in result.stderr


def test_a_page_that_does_not_scroll_has_no_gesture() -> None:
    work = work_in([])
    item = Smoothness("page", "laptop", 0, work, work, work, work)
    assert item.cost_ms == 0
    lines = list(smoothness_lines(item))
    assert lines[0] == "page  laptop  does not scroll"
    assert len(lines) == 4


def test_a_number_that_cannot_be_is_refused(tmp_path: Path) -> None:
    (tmp_path / "plan.yaml").write_text(plan_text(), "utf-8")
    plan = rl.read(tmp_path / "plan.yaml")
    for wrong in ({"slower": 0.5}, {"slower": 21}, {"runs": 0}):
        with pytest.raises(rl.RequestError, match=r"1 to 20 times slower|chromium is not there"):
            next(iter_smoothness(plan, **wrong))
