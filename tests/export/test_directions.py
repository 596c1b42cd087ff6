"""Text of both directions: shaped, ordered and placed as in Chromium."""

from __future__ import annotations

import shutil
from pathlib import Path

import matplotlib as mpl
import numpy as np
import pytest
from bidi import get_display
from hypothesis import given
from hypothesis import strategies as st

import rising_lantern as rl
from chromium import Chromium
from findings import found
from pages import assert_agrees, read, write_page
from plans import plan_text
from rising_lantern.api.views import View
from rising_lantern.css.bidi import Direction, visual_runs
from rising_lantern.proofs.serving import served
from thorough import some

ARABIC = "مهرجان الفوانيس (Saltmere) 2026 في النهر"
HEBREW = "פסטיבל העששיות על הנהר בלילה, עם 400 סירות ו-12 להקות שמנגנות עד הבוקר"
HEADER = (
    "height: 80px, background: '#eee', parts: {brand: {image: logo-dark.png, width: 120px}, "
    "menu: {text: [المراكب, المد, الزيارة], font: deja, side: end}, call: {text: Tickets, side: center}}, "
    "looks: {tall: {}, low: {from: 300px, height: 50px, parts: {brand: {image: logo-light.png}}}}"
)
SECTIONS = {
    "placed": (
        f"a: {{height: 500px, content: [{{text: '{ARABIC}', font: deja, size: 34px, at: 20% 30%}}, "
        f"{{text: '{HEBREW}', font: deja, lang: he, size: 26px, width: 420px, at: 80% 80%}}, "
        "{text: 'Office affinity: fifty fluffy waffles', dir: ltr, font: deja, size: 24px}]}, b: {height: 900px}"
    ),
    "flowing": (
        "a: {padding: 40px 60px 20px 10px, gap: 20px, columns: 1fr 2fr, content: ["
        "{text: الزورق الأول, font: deja, size: 24px}, {text: 'حيث تطفو الفوانيس على الماء (وتعود)', font: deja, size: 22px, links: {الفوانيس: /x}}, "
        "{text: قصير, font: deja, align: center, width: 50%}, {image: photo.png, width: 120px, align: end}, "
        "{width: 60%, box: {padding: 20px, background: '#cde', content: [{text: 'في الصندوق: abc 12.5%', font: deja}]}}, "
        "{text: Left to right, dir: ltr, width: 80%}]}, b: {height: 900px}"
    ),
    "placed box": (
        "a: {height: 600px, content: [{at: 70% 50%, width: 400px, box: {padding: 10px, background: '#cde', "
        "columns: 1fr 1fr, content: [{text: شرق, font: deja}, {text: غرب, font: deja, align: end}]}}]}, b: {height: 900px}"
    ),
    "drift": "a: {height: 700px, layers: [{image: photo.png, size: 200px auto, drift: 0.3}]}, b: {height: 900px}",
    "one line": f"a: {{height: 500px, content: [{{text: '{ARABIC}', font: deja, size: one-line 90px, at: 50% 50%}}]}}, b: {{height: 900px}}",
}


@pytest.fixture
def fonts(folder: Path) -> Path:
    """A folder with a font of Latin, Hebrew and Arabic letters."""
    shutil.copy(Path(mpl.get_data_path()) / "fonts/ttf/DejaVuSans.ttf", folder / "deja.ttf")
    return folder


def view_of(folder: Path, sections: str, before: str = "lang: ar\ndir: rtl") -> View:
    """The view of a page from right to left."""
    text = plan_text(
        header=HEADER, sections=sections, before=f"{before}\nfonts: {{deja: deja.ttf}}"
    )
    (folder / "plan.yaml").write_text(text, "utf-8")
    return rl.read(folder / "plan.yaml").view()


@pytest.mark.browser
@pytest.mark.parametrize("name", SECTIONS)
def test_a_page_from_right_to_left_is_as_in_the_browser(
    chromium: Chromium, fonts: Path, tmp_path: Path, name: str
) -> None:
    view = view_of(fonts, SECTIONS[name])
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for scroll in (0, 120, 420):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, view), view, scroll)
            difference = np.abs(chromium.screenshot().astype(int) - view.pixels(scroll))
            assert difference.mean() < 1.2
            assert (difference.max(axis=-1) > 40).mean() < 0.004


@pytest.mark.browser
@pytest.mark.parametrize(
    ("text", "direction"),
    some(
        [
            ("abc אבג 123 (דה) xyz", "ltr"),
            ("abc אבג 123 (דה) xyz", "rtl"),
            ("السعر 12.50 (شامل) - 3/4", "rtl"),
            ("Lanterns [פנסים] & boats: 5%", "ltr"),
            ("مَرْحَبًا بِكُمْ", "rtl"),
            ("שָׁלוֹם, Saltmere!", "rtl"),
        ],
        2,
    ),
)
def test_letters_are_those_of_the_browser(
    chromium: Chromium, fonts: Path, tmp_path: Path, text: str, direction: str
) -> None:
    content = f"{{text: '{text}', dir: {direction}, font: deja, size: 40px}}"
    view = view_of(fonts, f"a: {{height: 600px, content: [{content}]}}", "lang: he")
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        shot = chromium.screenshot().astype(int)
    difference = np.abs(shot - view.pixels(0))
    assert (difference.max(axis=-1) > 60).mean() < 0.0005


def test_sides_columns_and_drift_are_mirrored_and_places_are_not(fonts: Path) -> None:
    pages = {
        direction: view_of(fonts, SECTIONS["flowing"], f"dir: {direction}").at(0)
        for direction in ("ltr", "rtl")
    }
    left, right = (pages[name].parts for name in ("ltr", "rtl"))
    for name, box in left.items():
        assert right[name].left == pytest.approx(1000 - box.left - box.width)
    tracks = [
        view_of(fonts, SECTIONS["drift"], f"dir: {direction}").trace(100, of="layers").left_px
        for direction in ("ltr", "rtl")
    ]
    steps = [np.diff(track[:5]) for track in tracks]
    assert np.allclose(steps[0], -steps[1])
    placed = [
        view_of(fonts, SECTIONS["placed"], f"dir: {direction}")
        .scene.box.sections[0]
        .content[2]
        .box.left
        for direction in ("ltr", "rtl")
    ]
    assert placed[0] == placed[1]


def test_a_page_and_a_text_have_directions_of_their_own(fonts: Path) -> None:
    text = (
        "rising-lantern: 1\nviewports: {laptop: 1000x600}\nfonts: {deja: deja.ttf}\npages:\n"
        f"  here: {{lang: ar, dir: rtl, sections: {{a: {{padding: 20px, content: [{{text: '{ARABIC}', font: deja}}]}}}}}}\n"
        f"  there: {{sections: {{a: {{padding: 20px, content: [{{text: '{ARABIC}', font: deja, lang: ar, dir: rtl}}]}}}}}}\n"
    )
    (fonts / "plan.yaml").write_text(text, "utf-8")
    plan = rl.read(fonts / "plan.yaml")
    made = rl.export(plan)
    assert '<html lang="ar" dir="rtl">' in made.text("here.html")
    assert '<html lang="en">' in made.text("there.html")
    assert 'lang="ar" dir="rtl"' in made.text("there.html")
    lines = [
        plan.view(page).scene.box.sections[0].content[0].text.lines[0].run
        for page in ("here", "there")
    ]
    assert lines[0] == lines[1]
    assert lines[0].text == ARABIC
    assert found(plan, "cut-off") == []


def test_a_language_has_letters_of_its_own(fonts: Path) -> None:
    """What a font draws otherwise in a language: DejaVu has other letters for Serbian."""
    runs = [
        view_of(fonts, f"a: {{height: 300px, content: [{{text: абгдп, lang: {lang}, font: deja}}]}}", "")
        .scene.box.sections[0].content[0].text.lines[0].run
        for lang in ("ru", "sr")
    ]  # fmt: skip
    assert runs[0].text == runs[1].text == "абгдп"
    assert runs[0] != runs[1]


@pytest.mark.parametrize("value", ["dir: up", "lang: 'ar\"><script>'", "lang: x"])
def test_other_directions_and_languages_are_refused(fonts: Path, value: str) -> None:
    for before, more in ((value, ""), ("", f", {value}")):
        text = plan_text(
            sections=f"a: {{height: 300px, content: [{{text: Afloat{more}}}]}}", before=before
        )
        (fonts / "plan.yaml").write_text(text, "utf-8")
        with pytest.raises(rl.PlanError):
            rl.read(fonts / "plan.yaml")


@given(
    st.text("abcאבגشابمل123٤٥٦ ().,:-+%[]/\u05b0\u064e", min_size=1, max_size=24),
    st.sampled_from(["ltr", "rtl"]),
)
def test_the_order_is_that_of_another_implementation(text: str, base: Direction) -> None:
    shown = "".join(
        text[start:end] if direction == "ltr" else text[start:end][::-1]
        for start, end, direction in visual_runs(text, base)
    )
    assert shown == get_display(text, base_dir="R" if base == "rtl" else "L")
