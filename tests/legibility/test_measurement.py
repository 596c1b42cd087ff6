"""How well parts can be read along the scroll, against brute force on what is painted."""

from __future__ import annotations

from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from findings import found, order
from plans import MakePlan, plan_text
from random_plans import write_random_plan
from rising_lantern.api.views import View
from rising_lantern.css.contrast import ratio
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.backdrops import Stain
from rising_lantern.legibility.bounds import least_contrast, least_text_contrast
from rising_lantern.legibility.contrast import ink_of, luminance, ratios
from rising_lantern.legibility.curves import worst_of
from rising_lantern.legibility.parts import measure_parts
from rising_lantern.legibility.texts import measure_texts
from rising_lantern.legibility.windows import Strip, Windows, bins_of, order_statistics
from rising_lantern.report.charts import chart_of
from thorough import examples, some


@given(
    st.integers(1, 60),
    st.integers(1, 9),
    st.integers(0, 1000),
    st.booleans(),
    st.data(),
)
def test_windows_know_the_order_of_what_is_in_them(
    rows: int,
    width: int,
    seed: int,
    even: bool,
    data: Any,
) -> None:
    """Against sorting, for windows over two strips at once; never on a limit's other side."""
    rng = np.random.default_rng(seed)
    pixels = [1 + 20 * rng.random((rows, width)) ** 3 for _ in range(2)]
    columns = 1 if even else width
    pixels[0] = np.repeat(pixels[0][:, :columns], width // columns, axis=1)
    held = pixels[0][:, :columns], pixels[1]
    edges = st.tuples(st.integers(0, rows), st.integers(0, rows)).map(sorted)
    spans = [[data.draw(edges) for _ in range(3)] for _ in range(2)]
    every = np.arange(3)
    parts = [
        Windows(
            Strip(bins_of(item), width),
            every,
            *(np.array([span[side] for span in own]) for side in (0, 1)),
        )
        for item, own in zip(held, spans, strict=True)
    ]
    shares = (0.05, 0.5)
    for share, result in zip(shares, order_statistics(parts, 3, shares), strict=True):
        for index, got in enumerate(result):
            inside = np.concatenate(
                [item[slice(*own[index])].ravel() for item, own in zip(pixels, spans, strict=True)]
            )
            if not inside.size:
                assert np.isnan(got)
                continue
            expected = order(inside, share)
            assert got <= expected <= got * 1.0008
            assert all((got >= limit) == (expected >= limit) for limit in (3, 4.5, 7))


def by_force(view: View, scroll: float) -> dict[str, tuple[float, float]]:
    """Contrast and median of each part at one position, on the frame without the parts."""
    swept = view.scene.sweep([scroll])
    assert swept.header is not None
    top = float(swept.header.top[0])
    bottom = top + float(swept.header.height[0])
    high, low = (
        min(max(whole_px(edge), 0), view.scene.box.screen.height) for edge in (top, bottom)
    )
    region = high, low, 0, view.scene.box.screen.client_width
    rows = view.scene.painter.behind_header(swept, 0, region)
    lost = min(top, 0.0)
    result = {}
    for name, part in swept.header.states[0].parts.items():
        above, below = part.box.top, part.box.bottom
        if part.row is not None and part.row.style is not None and part.row.style.clips:
            above, below = max(above, part.row.top), min(below, part.row.top + part.row.height)
        edges = (above + lost, below + lost, part.box.left, part.box.right)
        first, last, left, right = (max(int(np.floor(edge + 0.5)), 0) for edge in edges)
        pixels = rows[first:last, left:right]
        if pixels.size:
            ink = ink_of(part, view.plan.file.files.pictures)
            values = ratios(pixels, ink).ravel()
            result[name] = (order(values, 0.05), order(values, 0.5))
    return result


_HEADERS = [
    "height: 70px, color: '#fff8'",
    "height: 60.5px, background: rgb(20 30 60 / .6), color: white, looks: {a: {}, b: {from: past a, background: white, color: '#333'}}",
    # Off the screen all along its blend.
    "position: absolute, height: 90px, background: '#fff3', looks: {a: {}, b: {from: 300px, background: '#fff8', change: blend 90px}}",
    "position: sticky, height: 80px, background: '#8884', looks: {a: {}, b: {from: 300px, height: 40px, change: blend 90px}}",
    "position: absolute, height: 90px, background: '#fff3', color: '#226'",
    "height: 70px, background: 'linear-gradient(to right, #fff8, #0008)', blur: 4px",
    "height: 70px, top: 30px, width: 700px, z: 0, background: '#fffa'",
    (
        "height: 70px, layers: [{fill: 'linear-gradient(to right, #fff8, #0008)'}, {image: noise.png, opacity: 0.4}], "
        "looks: {a: {}, b: {from: 300px, height: 50px, layers: [], change: blend 120px}}"
    ),
    (
        "rows: {upper: {height: 30px, background: '#1238', color: white}, lower: {height: 50px, border: 2px solid red}}, "
        "background: '#fff6', looks: {a: {}, b: {from: 300px, rows: {upper: {hidden: true}, lower: {background: '#fd8c'}}, "
        "change: blend 120px}}"
    ),
]
_SECTIONS = {
    "moving": "a: {height: 433px, layers: [{image: noise.png, speed: 0.4}]}, b: {height: 500px, background: '#456'}, c: {height: 700px}",
    "texts and tints": (
        "a: {height: 33.3vh, background: '#222', content: [{text: The river carries the light, size: 60px, color: white}]}, "
        "b: {height: 900px, layers: [{fill: 'linear-gradient(#0008, #0000)'}, {image: noise.png, speed: 1.3}]}, c: {height: 620px}"
    ),
    "boxed and blended": (
        "a: {height: 500px, layers: [{image: photo.png, attachment: fixed}], content: [{text: Afloat, at: 90% 50%, size: 50px}]}, "
        "b: {height: 600px, width: 70%, border: 20px solid red, layers: [{image: noise.png, blend: screen, drift: .2}]}, "
        "c: {height: 700px, z: 30}"
    ),
}


@pytest.mark.parametrize(("header", "sections"), some(product(_HEADERS, _SECTIONS.values()), 7))
def test_readings_are_those_of_painted_frames(
    make_plan: MakePlan, header: str, sections: str
) -> None:
    """At random positions, and at every one beside a switch or a section's edge."""
    parts = "parts: {brand: {image: logo-dark.png}, menu: {text: [Programme, Visit], side: end}}"
    view = make_plan(plan_text(header=f"{header}, {parts}", sections=sections)).view()
    table = view.contrast()
    result = {(row.part, row.scroll_px): row for row in table.itertuples()}
    rng = np.random.default_rng(3)
    places = {*rng.integers(0, view.max_scroll + 1, 20).tolist(), 0, view.max_scroll}
    places |= {min(s + d, view.max_scroll) for s in (299, 363, 389, 432) for d in range(3)}
    for scroll in places:
        for part, (contrast, median) in by_force(view, float(scroll)).items():
            row: Any = result[part, float(scroll)]
            assert row.contrast == pytest.approx(contrast, abs=0.0101), scroll
            assert row.median == pytest.approx(median, abs=0.0101), scroll


def test_a_part_that_cannot_be_read_is_found_wherever_that_is(make_plan: MakePlan) -> None:
    """White letters over 40 px of white, between places that are looked at by eye."""
    sections = (
        "a: {height: 400px, background: '#123'}, b: {height: 40px, background: white}, "
        "c: {height: 1200px, background: '#123'}"
    )
    part = "menu: {{text: Programme, size: {}, color: '#fff'{}}}"
    header = "height: 60px, parts: {{{}}}"
    plain = plan_text(header=header.format(part.format("16px", "")), sections=sections)
    (finding,) = found(make_plan(plain), "unreadable-part")
    assert (str(finding.subject), finding.level) == ("main, menu in plain", "error")
    # The letters' box has 22 rows of px, from 19 on: two of them are more than 5 %.
    assert finding.scroll == (400 - 41 + 2, 440 - 19 - 2)
    assert finding.measured == pytest.approx(1, abs=0.003)
    assert finding.limit == 4.5
    dark = plain.replace("background: white", "background: '#456'")
    assert found(make_plan(dark), "unreadable-part") == []
    noted = plain.replace("color: '#fff'", "color: '#fff', logo: true")
    assert [item.level for item in found(make_plan(noted), "unreadable-part")] == ["note"]
    asked = dark.replace("color: '#fff'", "color: '#fff', contrast: 12")
    assert [item.limit for item in found(make_plan(asked), "unreadable-part")] == [12]


_TEXTS = {
    "over what moves": (
        "a: {height: 520px, layers: [{fill: 'linear-gradient(#000a, #0000)'}, {image: noise.png, speed: 0.4}], content: [{text: The river, size: 40px, color: '#ffe', at: 30% 60%}, {text: carries, size: 30px, color: '#8cf', at: 70% 20%, speed: 0.7}]}, "
        "b: {height: 700px}, c: {height: 500px, layers: [{image: photo.png, attachment: fixed}], content: [{text: the light, size: 50px, color: '#fff9', at: 80% 80%}]}"
    ),
    "panels, shadows and blends": (
        "a: {height: 400px, background: '#246', content: [{text: Lanterns, size: 30px, color: white, shadow: '2px 2px 6px #000', panel: {color: '#a238', padding: 12px, radius: 8px}}]}, "
        "b: {height: 600px, layers: [{image: noise.png, speed: 1.3}, {image: photo.png, attachment: fixed}], content: [{text: Afloat, size: 70px, color: '#fa8', blend: screen, at: 40% 30%}, {text: over it, size: 60px, color: '#012', at: 45% 34%}]}, "
        "c: {height: 800px, z: 3, width: 70%, layers: [{image: noise.png, blend: screen}], content: [{text: Boxed, size: 40px, z: -1}]}"
    ),
    "panels over what moves": (
        "a: {height: 620px, layers: [{image: noise.png, attachment: fixed}], content: [{text: The river, size: 44px, color: '#ffe', at: 30% 60%, panel: {color: '#1238', padding: 14px, radius: 9px}}, {text: carries, size: 30px, color: '#8cf', at: 80% 20%, panel: {color: '#0404', padding: 0px, radius: 30px}}]}, "
        "b: {height: 700px, layers: [{image: photo.png, speed: 0.3}], content: [{text: the light, size: 50px, color: '#fffc', at: 40% 40%, panel: {color: '#a236', padding: 40px}}, {text: all night, size: 30px, color: '#ffd', at: 61% 47%, shadow: '1px 1px 3px #000'}, {text: and on, size: 24px, color: '#ffd', at: 20% 90%, speed: 0.6, panel: {color: '#0235', padding: 10px}}]}, "
        "c: {height: 500px, layers: [{image: noise.png, speed: 1.4, opacity: .7}, {fill: '#334'}], content: [{text: Ashore, size: 36px, color: white, at: 50% 2%, panel: {color: '#246', padding: 16px}}]}"
    ),
}


@pytest.mark.parametrize("sections", _TEXTS.values(), ids=_TEXTS.keys())
def test_texts_are_read_as_on_painted_frames_without_their_letters(
    make_plan: MakePlan, sections: str
) -> None:
    plan = make_plan(plan_text(sections=sections))
    view = plan.view()
    table = view.contrast(of="content")
    assert list(table.columns) == ["section", "content", "scroll_px", "contrast", "median"]
    rng = np.random.default_rng(5)
    for index, section in enumerate(view.scene.box.sections):
        for position, box in enumerate(section.content):
            rows = table[(table.section == section.name) & (table.content == position)]
            seen = rows[rows.contrast.notna()]
            # The frame without its letters, and without the texts over it.
            clear: dict[str, str] = {}
            for other in range(position, len(section.content)):
                key = f"pages.page.sections.{section.name}.content.{other}"
                clear |= {f"{key}.color": "'#0000'", f"{key}.blend": "normal"}
            below = plan.replace(clear).view()
            for result in seen.iloc[rng.integers(0, len(seen), 12)].itertuples():
                scroll = float(str(result.scroll_px))
                top = float(view.scene.sweep([scroll]).top_of(view.scene.box.sections[index])[0])
                x, y = (int(np.floor(edge + 0.5)) for edge in box.motion.origin(top, scroll))
                letters = box.text.box
                first, height = round(letters.top), round(letters.height)
                low = np.clip(y + first, max(top, 0), min(top + section.height, 600))
                high = np.clip(y + first + height, max(top, 0), min(top + section.height, 600))
                left = x + round(letters.left)
                right = min(left + round(letters.width), 1000)
                behind = below.pixels(scroll)[int(low) : int(high), max(left, 0) : right]
                values = ratios(behind, box.color).ravel()
                if box.blend == "screen":
                    ink, under = np.array(box.color.bytes[:3]) / 255, behind / 255
                    mixed = ((under + ink - under * ink) * 255 + 0.5).astype(np.uint8)
                    values = ratio(luminance(mixed), luminance(behind)).ravel()
                assert result.contrast == pytest.approx(order(values, 0.05), abs=0.012)
                assert result.median == pytest.approx(order(values, 0.5), abs=0.012)


_LAYERS = st.sampled_from(
    [
        "{image: noise.png}",
        "{image: noise.png, speed: 0.37}",
        "{image: photo.png, speed: 1.4, opacity: .8}",
        "{image: noise.png, attachment: fixed}",
        "{image: photo.png, drift: 0.3}",
        "{image: photo.png, size: 90px auto, position: 30% 10%, repeat: repeat-x}",
        "{slides: [photo.png, noise.png], filter: brightness(.7)}",
        "{image: noise.png, blend: multiply}",
        "{image: flag.svg, path: [{at: 100px}, {at: 900px, y: 140px, opacity: .2, scale: 1.4}]}",
        "{fill: rgb(30 60 90 / .4)}",
        "{fill: 'linear-gradient(60deg, #0008, #fff4)'}",
        "{fill: '#446'}",
    ]
)
_PIECES = st.tuples(
    st.lists(_LAYERS, max_size=3),
    st.integers(120, 700),
    st.sampled_from(
        ["", ", width: 80%", ", z: 2", ", border: 9px solid gold", ", background: '#8a6'"]
    ),
    st.sampled_from(
        ["", "{text: Afloat, size: 48px, at: 50% 30%, color: '#f8c'}", "{text: Ashore, speed: 0.6}"]
    ),
)


@settings(max_examples=examples(6), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(_PIECES, min_size=3, max_size=5), st.sampled_from(_HEADERS), st.randoms())
def test_contrasts_of_random_plans_are_those_of_painted_frames(
    make_plan: MakePlan, pieces: list[tuple[list[str], int, str, str]], header: str, random: Any
) -> None:
    """All kinds of layers in any order, at 200 positions of each plan."""
    sections = ", ".join(
        f"{'abcde'[index]}: {{height: {height}px, layers: [{', '.join(layers)}]{more}, content: [{text}]}}"
        for index, (layers, height, more, text) in enumerate(pieces)
    )
    parts = "parts: {brand: {image: logo-dark.png}, menu: {text: [Programme, Visit], side: end}}"
    view = make_plan(plan_text(header=f"{header}, {parts}", sections=sections)).view()
    table = view.contrast()
    result = {(row.part, row.scroll_px): row for row in table.itertuples()}
    for _ in range(200):
        scroll = float(random.randint(0, view.max_scroll))
        for part, (contrast, median) in by_force(view, scroll).items():
            row: Any = result[part, scroll]
            assert row.contrast == pytest.approx(contrast, abs=0.0101, rel=1e-3), scroll
            assert row.median == pytest.approx(median, abs=0.0101, rel=1e-3), scroll


@pytest.mark.parametrize("seed", some(range(8), 4))
def test_no_contrast_is_below_what_is_said_to_be_the_least(folder: Path, seed: int) -> None:
    """On random plans: positions are left out where a header or a panel makes them readable."""
    write_random_plan(folder, seed)
    view = rl.read(folder / "plan.json").view()
    swept = view.scene.sweep(np.linspace(0, view.max_scroll, 60).round())
    painter = view.scene.painter
    if swept.header is not None:
        measured = measure_parts(swept, painter, view.plan.file.files.pictures)
        for index, state in enumerate(swept.header.states):
            for name, part in state.parts.items():
                bound = least_contrast(
                    state, part, Stain(ink_of(part, view.plan.file.files.pictures))
                )
                here = measured[name].contrast[swept.header.state == index]
                assert bound == 1 or not (here < bound - 0.01).any(), (name, bound, here)
    for (name, position), _, item in measure_texts(swept, painter):
        section = view.scene.box.section(name)
        assert section is not None
        place = view.scene.box.sections.index(section)
        sheets = painter.sheets_below(place, position)
        bound = least_text_contrast(section, section.content[position], sheets)
        assert bound == 1 or not (item.contrast < bound - 0.01).any(), (name, position, bound)


@pytest.mark.parametrize("position", ["fixed", "sticky", "absolute"])
def test_where_no_section_is_the_page_s_own_picture_counts(
    make_plan: MakePlan, position: str
) -> None:
    """In the room above the first section, at rest, on the way between two looks, and near limits."""
    header = (
        f"position: {position}, over: false, height: 190px, background: '#0003', color: white, "
        "parts: {menu: {text: [Programme, Visit], side: end}}, "
        "looks: {a: {}, b: {from: 70px, background: '#fff8', color: black, change: blend 120px}}"
    )
    sections = "a: {height: 500px, background: '#456'}, b: {height: 900px, background: '#123'}"
    under = "{image: photo.png, attachment: fixed}"
    text = plan_text(header=header, sections=sections, background="#000", under=under)
    view = make_plan(text).view()
    swept = view.scene.sweep(np.arange(170.0))
    painter, pictures = view.scene.painter, view.plan.file.files.pictures
    exact = measure_parts(swept, painter, pictures)["menu"].contrast
    for scroll in range(0, 170, 10):
        forced = by_force(view, float(scroll)).get("menu", (np.nan,))
        assert exact[scroll] == pytest.approx(forced[0], abs=0.0101, nan_ok=True)
    for limit in (2.0, 3.0, 4.5, 7.0, 12.0):
        needed = {"menu": np.full(len(swept), limit)}
        near = measure_parts(swept, painter, pictures, needed)["menu"].contrast
        low = exact < limit
        assert np.array_equal(near[low], exact[low])


@pytest.mark.parametrize(
    ("header", "sections"),
    some([*product([header for header in _HEADERS if "blend" in header], _SECTIONS)], 2),
)
def test_no_px_of_a_blend_below_a_limit_is_left_out(
    make_plan: MakePlan, header: str, sections: str
) -> None:
    """What is behind a part bounds its contrast; what may be lower has to be measured."""
    parts = "color: white, parts: {brand: {image: logo-dark.png}, menu: {text: [Visit], side: end}}"
    view = make_plan(plan_text(header=f"{parts}, {header}", sections=_SECTIONS[sections])).view()
    swept = view.scene.sweep(np.arange(290.0, 400.0))
    assert swept.header is not None
    mixed = [state.complete is None for state in swept.header.states]
    places = np.array(mixed)[swept.header.state]
    assert places.sum() > 80
    painter, pictures = view.scene.painter, view.plan.file.files.pictures
    exact = measure_parts(swept, painter, pictures)
    left_out = 0
    for limit in (1.2, 3.0, 7.0):
        needed = {name: np.full(len(swept), limit) for name in exact}
        for name, item in measure_parts(swept, painter, pictures, needed).items():
            low = places & (exact[name].contrast < limit)
            assert np.array_equal(item.contrast[low], exact[name].contrast[low])
            left_out += int(np.isnan(item.contrast[places]).sum())
    assert left_out > 0 or "layers" in header  # pictures in a header are always measured


@pytest.mark.parametrize("header", some(_HEADERS[:-2], 6))
def test_a_chart_is_exact_below_the_limits_and_close_elsewhere(
    make_plan: MakePlan, header: str
) -> None:
    parts = "color: white, parts: {menu: {text: [Programme, Visit], side: end}}"
    sections = (
        f"{_SECTIONS['moving']}, d: {{height: 1900px, layers: [{{image: noise.png, speed: .2}}]}}"
    )
    view = make_plan(
        plan_text(header=f"{parts}, {header.split(', color', maxsplit=1)[0]}", sections=sections)
    ).view()
    (curve,) = chart_of(view.scene).contrasts
    positions = chart_of(view.scene).scroll
    assert len(positions) < view.max_scroll
    table = view.contrast()
    exact = table.set_index("scroll_px").contrast.reindex(positions).to_numpy()
    low = exact < 4.5
    assert curve.contrast[low] == pytest.approx(exact[low], abs=0.01)
    assert np.isnan(curve.contrast).tolist() == np.isnan(exact).tolist()
    seen = np.isfinite(exact)
    assert np.abs(np.log(curve.contrast[seen] / exact[seen])).mean() < 0.05


def test_curves_say_nothing_of_what_is_not_on_the_screen(make_plan: MakePlan) -> None:
    """At few positions: neither a text further down, nor a header that has gone."""
    header = "position: absolute, height: 60px, parts: {menu: {text: Programme}}"
    far = "content: [{text: Afloat, color: white}]"
    sections = f"a: {{height: 2000px, background: '#123'}}, b: {{height: 900px, background: '#456', {far}}}"
    view = make_plan(plan_text(header=header, sections=sections)).view()
    top = [curve.contrast.tolist() for curve in view.scene.curves([0.0])]
    end = [curve.contrast.tolist() for curve in view.scene.curves([float(view.max_scroll)])]
    assert np.isfinite(top).tolist() == [[True], [False]]
    assert np.isfinite(end).tolist() == [[False], [True]]


@pytest.mark.parametrize("sections", some(_TEXTS.values(), 2))
@pytest.mark.parametrize("header", some(_HEADERS[:-2], 3))
def test_the_worst_contrast_of_a_page_is_that_of_every_px(
    make_plan: MakePlan, header: str, sections: str
) -> None:
    parts = "parts: {menu: {text: [Programme, Visit], side: end}}"
    scene = make_plan(plan_text(header=f"{header}, {parts}", sections=sections)).view().scene
    scroll = scene.positions(1.0)
    curves = [*scene.curves(scroll.tolist())]
    every = worst_of("every px", len(scroll), curves)
    worst = scene.worst(scroll)
    least = np.nanmin(every.contrast / every.limit)
    assert np.nanmin(worst.contrast / worst.limit) == pytest.approx(least, rel=0.003)
    assert (worst.contrast < worst.limit).sum() == (every.contrast < every.limit).sum()
