"""Where headers, texts and repeated pictures stand in Chromium, also when the window changes."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from pages import assert_agrees, read, write_page
from pictures import paint_pictures
from plans import MakePlan, plan_text
from random_plans import write_random_plan
from rising_lantern.proofs.proving import without_timelines
from rising_lantern.proofs.serving import served
from thorough import examples, some

pytestmark = pytest.mark.browser

_SECTIONS = (
    "opening: {height: 620px, width: 60%, layers: [{image: photo.png, speed: 0.4}]}, "
    "second: {height: 500px}, third: {height: 900px}"
)
_LOOKS = {
    "shrinking": "b: {from: 90px, height: 50px}",
    "growing, then another arrives": (
        "b: {from: 90px, height: 110px}, c: {from: 260px, height: 60px, arrive: slide}"
    ),
    "one arrives and goes": (
        "b: {from: 90px, height: 44px, arrive: fade}, c: {from: 400px, height: 70px}"
    ),
}


def _pairings() -> Iterator[tuple[str, str]]:
    """Every pairing of a position, what a header takes up, what it lives in, and its looks."""
    for position, over, held, looks in product(
        ("static", "sticky", "fixed", "absolute"), (True, False), (True, False), _LOOKS.values()
    ):
        for inside in ("", "opening", "700px") if position == "sticky" else ("",):
            home = f", inside: {inside}" if inside else ""
            flow = f", hold-space: {held}".lower() if position in {"static", "sticky"} else ""
            if not flow and held:
                continue
            yield (
                f"position: {position}, over: {str(over).lower()}{flow}{home}",
                f"looks: {{a: {{}}, {looks}}}",
            )


@pytest.mark.parametrize(("header", "looks"), some(_pairings(), 8))
def test_headers_and_sections_stand_as_their_moments_say(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, header: str, looks: str
) -> None:
    parts = "parts: {brand: {image: logo-dark.png, width: 90px}}"
    view = make_plan(
        plan_text(sections=_SECTIONS, header=f"height: 80px, top: 10px, {header}, {looks}, {parts}")
    ).view()
    page = write_page(view, tmp_path / "out")
    box = view.scene.box.header
    steady = box is not None and len({box.room(look.flow_height) for look in box.looks}) == 1
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for scroll in (0, 40, 120, 300, 460, 700):
            came = chromium.scroll(scroll)
            # Where the header changes the height of the page, the browser moves the reader.
            assert came == scroll or not steady
            state = read(chromium, view)
            if state["look"] == view.at(came).look:
                assert_agrees(state, view, came)
            else:
                assert not steady


@pytest.mark.parametrize(
    "content",
    [
        "text: Saltmere, size: 300px",
        "text: 'a lantern for everyone', size: 200px, at: 30% 40%",
        "text: Afloat, panel: {color: red, padding: 560px}",
        "text: 'four hundred boats and a lantern for everyone who comes', width: 3000px, size: 60px",
        "text: 'four hundred boats and a lantern for everyone who comes', width: 60px, size: 40px, at: 90% 100%",
        "text: 'so high', size: 90px, panel: {color: red, padding: 400px}, at: right 20px bottom 10px",
        "text: Afloat, at: calc(30% - 40px) -20px",
        "text: Afloat, at: 'calc(120% - 40px) min(40%, 90px)'",
    ],
)
@pytest.mark.parametrize("speed", some([1, 1.3], 2))
def test_texts_that_do_not_fit_start_at_the_upper_left(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, content: str, speed: float
) -> None:
    sections = f"a: {{height: 500px, width: 90%, content: [{{{content}, speed: {speed}}}]}}, b: {{height: 900px}}"
    view = make_plan(plan_text(sections=sections)).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for scroll in (0, 150):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, view), view, scroll)


SIZES = "auto", "contain", "cover", "40% 30%", "200px auto", "auto 130px"
REPEATS = "round", "round no-repeat", "no-repeat round", "round space"


@pytest.mark.parametrize(("size", "repeat"), some(product(SIZES, REPEATS), 5))
def test_pictures_are_repeated_a_whole_number_of_times(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, size: str, repeat: str
) -> None:
    """At three positions each: Chromium counts them in the size before it is rounded."""
    layers = [
        f"{{image: photo.png, size: {size}, repeat: {repeat}, position: {position}}}"
        for position in ("0 0", "50% 50%", "right 69px bottom 1px")
    ]
    sections = ", ".join(
        f"{name}: {{height: 420px, width: 700px, layers: [{layer}]}}"
        for name, layer in zip("abc", layers, strict=True)
    )
    view = make_plan(plan_text(viewports="laptop: 1000x1260", sections=sections)).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 1260)
        chromium.scroll(0)
        difference = np.abs(chromium.screenshot().astype(int) - view.pixels(0))
    assert difference.mean() < 1.5


_RESIZED = (
    "x: {height: 40vh, content: [{text: Afloat, speed: 0.7}]}, a: {height: 110vh, width: 80%, border: 9px solid red, layers: ["
    "{image: photo.png, speed: 1.3}, {image: noise.png, speed: -0.2}, {image: photo.png, drift: 0.2, size: 30vw auto, settle: reach a}, "
    "{fill: 'linear-gradient(red, blue)', speed: 0.5, clip: padding-box}, "
    "{image: photo.png, speed: 0.6, path: [{at: 20vh, easing: ease-in-out}, {at: past a, y: 10vh, x: 8%, scale: 1.3}, {at: 90%, opacity: .4}]}, "
    "{image: noise.png, path: [{at: reach a}, {at: past a, opacity: .3}]}], content: [{text: Ashore, speed: 1.4, at: 20% 70%}]}, y: {height: 90vh}"
)


@pytest.mark.parametrize("by", ["style sheet", "script"])
def test_a_page_follows_the_size_of_its_window(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, by: str
) -> None:
    """Resized, it is the page of a plan for a screen of that size."""
    header = "position: sticky, height: 12vh, hold-space: true, looks: {a: {}, b: {from: past x, height: 7vh}}"
    under = "{image: noise.png, speed: 1.2}, {image: photo.png, speed: 0.5}"
    views = {
        size: make_plan(
            plan_text(viewports=f"s: {size}", sections=_RESIZED, header=header, under=under)
        ).view()
        for size in ("1000x600", "760x820", "1240x500")
    }
    page = write_page(views["1000x600"], tmp_path / "out")
    if by == "script":
        without_timelines(tmp_path)
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for size, view in views.items():
            width, height = (int(side) for side in size.split("x"))
            metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
            chromium.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
            assert chromium.scroll(1e6) == view.max_scroll
            for scroll in np.linspace(0, view.max_scroll, 9).round():
                chromium.scroll(scroll)
                assert_agrees(read(chromium, view), view, scroll)


def test_a_reload_in_the_middle_of_a_page_replays_no_change(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    header = (
        "height: 80px, background: white, change: fade 4s, "
        "looks: {a: {}, b: {from: 200px, background: black, height: 50px}}"
    )
    view = make_plan(plan_text(header=header)).view()
    page = write_page(view, tmp_path / "out")
    ask = """
      return [document.body?.dataset.fades !== undefined, window.scrollY,
        document.getAnimations().filter((one) => one instanceof CSSTransition).length,
        document.querySelector("header")?.getBoundingClientRect().height];
    """
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        chromium.scroll(700)
        chromium.driver.refresh()
        for _ in range(200):
            armed, scroll, running, height = chromium.run(ask)
            assert running == 0
            if armed:
                break
        assert (armed, scroll, height) == (True, 700, 50)


def test_layers_of_one_colour_have_the_motion_of_the_page(make_plan: MakePlan) -> None:
    sections = "a: {height: 700px, layers: [{fill: '#8888', speed: 0.4}]}, b: {height: 900px}"
    view = make_plan(plan_text(sections=sections)).view()
    table = view.trace(step=100, of="layers")
    assert (table.top_px == -table.scroll_px).all()


def test_no_frame_shows_what_was_in_memory_before(
    make_plan: MakePlan, monkeypatch: pytest.MonkeyPatch, folder: Path
) -> None:
    """Fresh memory is filled with noise of two kinds: the frames of random plans are the same."""
    from rising_lantern.paint import frames  # noqa: PLC0415

    sections = "a: {height: 500px}, b: {height: 700px, background: white, content: [{text: Hello, speed: 1.2}]}"
    plans = [make_plan(plan_text(sections=sections, background="#a03020"))]
    for seed in range(examples(12)):
        own = folder / str(seed)
        own.mkdir()
        paint_pictures(own)
        write_random_plan(own, seed)
        plans.append(rl.read(own / "plan.json"))
    assert plans[0].view().check(("unreadable-content",)) == []
    result: list[list[np.ndarray]] = []
    for fill in (0, 255):

        class Noisy:
            """NumPy, but that fresh memory is full of one level."""

            def __getattr__(self, name: str) -> object:
                return getattr(np, name)

            @staticmethod
            def empty(shape: tuple[int, ...], dtype: type = float) -> np.ndarray:
                return np.full(shape, fill, dtype)  # noqa: B023 - used within the round

        monkeypatch.setattr(frames, "np", Noisy())
        shots = []
        for plan in plans:
            view = plan.view()
            shots += [view.pixels(scroll) for scroll in np.linspace(0, view.max_scroll, 6).round()]
        result.append(shots)
    for item, other in zip(*result, strict=True):
        assert (item == other).all()
