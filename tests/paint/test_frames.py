"""Frames, against plain pictures painted pixel by pixel another way."""

from __future__ import annotations

import base64
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from PIL import Image, ImageCms

import rising_lantern as rl
from plans import MakePlan, plan_text
from rising_lantern.api.views import View
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.compositing import lay_over
from rising_lantern.paint.patches import patches_of
from rising_lantern.paint.pictures import premultiplied, scaled
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import Picture, find_picture

Pixels = NDArray[np.uint8]


def rows(frame: Pixels) -> list[tuple[str, int]]:
    """A frame as runs of rows of one colour: its first column in hexadecimal."""
    runs: list[tuple[str, int]] = []
    for pixel in frame[:, 0]:
        name = bytes(pixel).hex()
        if runs and runs[-1][0] == name:
            runs[-1] = (name, runs[-1][1] + 1)
        else:
            runs.append((name, 1))
    return runs


def test_sections_are_painted_in_their_places(make_plan: MakePlan) -> None:
    sections = "a: {height: 250px, background: red}, b: {height: 300px}, c: {height: 100px, background: '#00f8'}"
    view = make_plan(plan_text(sections=sections, background="#00ff00")).view()
    assert rows(view.pixels(0)) == [("ff0000", 250), ("00ff00", 300), ("007788", 50)]
    assert rows(view.pixels(50)) == [("ff0000", 200), ("00ff00", 300), ("007788", 100)]


def test_a_short_page_shows_its_own_colour_below(make_plan: MakePlan) -> None:
    view = make_plan(
        plan_text(sections="a: {height: 9px, background: red}", background="#0f0")
    ).view()
    assert rows(view.pixels(0)) == [("ff0000", 9), ("00ff00", 591)]


def test_a_header_with_alpha_lies_over_the_page(make_plan: MakePlan) -> None:
    """rgba(0, 0, 0, .4) over #808080 is 77, as browsers paint it."""
    header = "height: 40px, top: 10px, background: rgb(0 0 0 / .4)"
    view = make_plan(plan_text(header=header, background="#808080")).view()
    assert rows(view.pixels(0)) == [("808080", 10), ("4d4d4d", 40), ("808080", 550)]


def test_a_header_s_shadow_falls_below_it_only(make_plan: MakePlan) -> None:
    header = "height: 40px, background: rgb(255 255 255 / .5), shadow: 0 6px 20px black"
    frame = make_plan(plan_text(header=header)).view().pixels(0)[:, 500, 0].astype(int)
    assert (frame[:40] == 255).all()
    assert frame[40] < 130
    assert (np.diff(frame[40:80]) >= 0).all()
    assert frame[90] == 255


@pytest.mark.parametrize("position", ["50% 50%", "20px 0", "100% 30%"])
@pytest.mark.parametrize("size", ["cover", "contain", "300px auto", "auto"])
def test_speed_0_and_a_fixed_attachment_are_the_same_picture(
    make_plan: MakePlan, position: str, size: str
) -> None:
    def view(motion: str) -> View:
        layer = f"{{image: photo.png, size: {size}, position: {position}, {motion}}}"
        sections = (
            f"x: {{height: 400px}}, a: {{height: 700px, layers: [{layer}]}}, y: {{height: 500px}}"
        )
        return make_plan(plan_text(sections=sections)).view()

    fixed, still = view("attachment: fixed"), view("speed: 0")
    for scroll in range(0, fixed.max_scroll, 111):
        assert (fixed.pixels(scroll) == still.pixels(scroll)).all()
        boxes = [view.at(scroll).layers[0].box for view in (fixed, still)]
        assert boxes[0] == boxes[1]


def test_a_fixed_picture_stays_while_its_section_moves(make_plan: MakePlan) -> None:
    layer = "{image: noise.png, attachment: fixed}"
    view = make_plan(plan_text(sections=f"a: {{height: 1400px, layers: [{layer}]}}")).view()
    assert (view.pixels(0) == view.pixels(800)).all()


@given(st.integers(0, 12), st.integers(0, 9))
def test_a_layer_moves_by_its_speed(tenths: int, at: int) -> None:
    """A plain picture of rows moves v px for each px scrolled, to the nearest px."""
    from tempfile import TemporaryDirectory  # noqa: PLC0415

    import rising_lantern as rl  # noqa: PLC0415

    speed = min(tenths / 10, 1.0)
    with TemporaryDirectory() as name:
        folder = Path(name)
        ramp = np.zeros((900, 64, 3), dtype=np.uint8)
        ramp[..., 0], ramp[..., 1] = np.arange(900)[:, None] // 256, np.arange(900)[:, None] % 256
        Image.fromarray(ramp).save(folder / "ramp.png")
        layer = f"{{image: ramp.png, size: auto, position: 0 0, repeat: repeat-x, speed: {speed}}}"
        text = plan_text(
            viewports="s: 64x300",
            sections=f"x: {{height: 200px}}, a: {{height: 500px, layers: [{layer}]}}, y: {{height: 300px}}",
        )
        (folder / "plan.yaml").write_text(text, "utf-8")
        view = rl.read(folder / "plan.yaml").view()
        scroll = at * 55
        frame = view.pixels(scroll).astype(int)
        top = np.floor(speed * (200 - scroll) + 0.5)
        high, low = max(200 - scroll, 0), min(700 - scroll, 300)
        seen = frame[high:low, 3, 0] * 256 + frame[high:low, 3, 1]
        expected = np.arange(high, low) - top
        expected = np.where(expected < 900, expected, 65535)  # white where the picture has ended
        assert np.abs(seen - expected).max() == 0


def stacked(view: View, scroll: int) -> NDArray[np.float64]:
    """A frame of gradients and colours, put together in floating point, section by section."""
    screen = view.scene.box.screen
    moment = view.at(scroll)
    frame = np.ones((screen.height, screen.client_width, 3))
    frame *= np.array(view.scene.box.background.rgba[:3])
    for section in view.scene.box.sections:
        top = moment.sections[section.name].top
        for row in range(screen.height):
            if not top <= row < top + section.height:
                continue
            for layer in reversed(section.layers):
                area = round(layer.motion.height)
                origin = np.floor(layer.motion.speed * top + 0.5)
                fill: Any = layer.fill
                colors = np.broadcast_to(
                    fill.pixels(screen.client_width, area, screen.basis()),
                    (area, screen.client_width, 4),
                )[int(min(row - origin, area - 1))]
                colors = colors * layer.opacity
                frame[row] = frame[row] * (1 - colors[:, 3:]) + colors[:, :3]
    return frame * 255


@pytest.mark.parametrize("scroll", [0, 30, 77, 120])
def test_layers_of_several_speeds_are_laid_over_each_other(
    make_plan: MakePlan, scroll: int
) -> None:
    layers = (
        "{fill: 'linear-gradient(rgb(255 0 0 / .5), transparent)'},"
        "{fill: 'linear-gradient(to right, rgb(0 0 255 / .7), rgb(0 255 0 / .2))', speed: 0.5, opacity: 0.8},"
        "{fill: 'repeating-linear-gradient(black, white 30px)', speed: 0}"
    )
    sections = f"x: {{height: 50px}}, a: {{height: 90px, layers: [{layers}]}}, y: {{height: 140px}}"
    view = make_plan(plan_text(viewports="s: 120x100", sections=sections, background="#fa3")).view()
    difference = np.abs(view.pixels(scroll) - stacked(view, scroll))
    assert difference.max() <= 2.5  # each of three layers is rounded to 8 bits


@given(st.integers(1, 12), st.integers(1, 12), st.integers(0, 2**32 - 1), st.integers(-6, 12))
def test_patches_are_the_pixels_that_they_were_made_of(
    height: int, width: int, seed: int, at: int
) -> None:
    rng = np.random.default_rng(seed)
    alpha = rng.choice([0, 0, 1, 77, 128, 254, 255], (height, width)).astype(np.uint8)
    above = np.zeros((height, width, 4), dtype=np.uint8)
    above[..., 3] = alpha
    above[..., :3] = rng.integers(0, 256, (height, width, 3)) * (alpha[..., None] / 255)
    frame = rng.choice([0, 90, 254, 255], (10, width, 3)).astype(np.uint8)
    expected = frame.copy()
    first, last = max(at, 2), min(at + height, 9)
    if first < last:
        lay_over(expected[first:last], above[first - at : last - at])
    for patch in patches_of(above):
        patch.lay(frame, (0, at), 2, 9)
    assert np.abs(frame.astype(int) - expected).max() <= 1


def test_a_picture_of_natural_size_is_copied(folder: Path) -> None:
    drawn = scaled(find_picture(folder, "photo.png"), Rect(0, 0, 600, 400), (10, 20, 300, 200))
    original = np.asarray(Image.open(folder / "photo.png"))
    assert (drawn[..., :3] == original[20:200, 10:300]).all()


def _kinds(folder: Path) -> dict[str, Path]:
    """One red square in every kind of picture file."""
    red = Image.new("RGB", (8, 4), (200, 30, 40))
    saved = {
        "cmyk": red.convert("CMYK"),
        "palette": red.convert("P", palette=Image.Palette.ADAPTIVE),
        "alpha": red.convert("RGBA"),
    }
    for name, picture in saved.items():
        picture.save(folder / f"{name}.{'jpg' if name == 'cmyk' else 'png'}", quality=100)
    return {path.stem: path for path in folder.iterdir() if path.stem in saved}


def test_pictures_of_every_mode_keep_their_colour(folder: Path) -> None:
    for name, path in _kinds(folder).items():
        assert (
            np.abs(
                premultiplied(find_picture(folder, path.name))[0, 0].astype(int)
                - [200, 30, 40, 255]
            ).max()
            <= 3
        ), name


def test_grey_16_bit_and_transparent_palettes_are_read(folder: Path) -> None:
    Image.fromarray(np.full((4, 8), 40_000, dtype=np.uint16)).save(folder / "deep.png")
    assert (
        np.abs(premultiplied(find_picture(folder, "deep.png"))[0, 0, :3].astype(int) - 156).max()
        <= 1
    )
    Image.new("L", (8, 4), 99).save(folder / "grey.png")
    assert premultiplied(find_picture(folder, "grey.png"))[0, 0].tolist() == [99, 99, 99, 255]
    clear = Image.new("P", (8, 4))
    clear.putpalette([200, 30, 40, 0, 0, 0])
    clear.save(folder / "clear.png", transparency=0)
    assert premultiplied(find_picture(folder, "clear.png"))[0, 0].tolist() == [0, 0, 0, 0]


def test_a_picture_that_lies_on_its_side_is_turned(folder: Path, make_plan: MakePlan) -> None:
    picture = Image.new("RGB", (60, 20), "red")
    exif = picture.getexif()
    exif[0x0112] = 6
    picture.save(folder / "turned.jpg", exif=exif)
    assert premultiplied(find_picture(folder, "turned.jpg")).shape == (60, 20, 4)
    text = plan_text(sections="a: {height: 100px, layers: [{image: turned.jpg, size: auto}]}")
    assert make_plan(text).view().at(0).layers[0].box.height == 60


def test_an_embedded_profile_is_honoured(folder: Path) -> None:
    """A picture that is saved with a profile looks the same as without it."""
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB"))
    Image.new("RGB", (8, 4), (200, 30, 40)).save(folder / "tagged.png", icc_profile=lab.tobytes())
    assert (
        np.abs(
            premultiplied(find_picture(folder, "tagged.png"))[0, 0, :3].astype(int) - [200, 30, 40]
        ).max()
        <= 1
    )
    Image.new("RGB", (8, 4), (200, 30, 40)).save(folder / "odd.png", icc_profile=b"no profile")
    assert premultiplied(find_picture(folder, "odd.png"))[0, 0, :3].tolist() == [200, 30, 40]


@pytest.mark.parametrize("size", ["0 0", "0.01px", "0.001px 3px", "1px 1px"])
@pytest.mark.parametrize("repeat", ["repeat", "repeat-x", "space", "round"])
def test_pictures_of_next_to_no_size_are_painted_all_the_same(
    make_plan: MakePlan, size: str, repeat: str
) -> None:
    """Billions of copies are not laid one by one."""
    layer = f"{{image: photo.png, size: {size}, repeat: {repeat}, position: 0 0}}"
    view = make_plan(plan_text(sections=f"a: {{height: 700px, layers: [{layer}]}}")).view()
    assert view.pixels(50).shape == (600, 1000, 3)


def test_very_many_copies_are_those_that_are_laid_one_by_one(make_plan: MakePlan) -> None:
    """60,000 copies of a picture of 3 x 3 px, and the same pixels taken from it by arithmetic."""
    layer = "{image: dot.png, size: auto, repeat: repeat, position: 2px 1px}"
    dot = np.arange(27, dtype=np.uint8).reshape(3, 3, 3) * 9
    plan = make_plan(plan_text(viewports="s: 900x600", sections="a: {height: 600px}"))
    Image.fromarray(dot).save(plan.file.files.folder / "dot.png")
    text = plan_text(viewports="s: 900x600", sections=f"a: {{height: 600px, layers: [{layer}]}}")
    frame = make_plan(text).view().pixels(0)
    rows, columns = np.mgrid[0:600, 0:900]
    assert (frame == dot[(rows - 1) % 3, (columns - 2) % 3]).all()


def test_text_has_its_colour_inside_and_none_outside(make_plan: MakePlan) -> None:
    content = "{text: Saltmere, size: 80px, weight: 900, color: '#800000', at: 50% 50%}"
    frame = (
        make_plan(plan_text(sections=f"a: {{height: 600px, content: [{content}]}}"))
        .view()
        .pixels(0)
    )
    inked = (frame == [128, 0, 0]).all(axis=-1)
    box = (
        make_plan(plan_text(sections=f"a: {{height: 600px, content: [{content}]}}"))
        .view()
        .scene.box
    )
    text = box.sections[0].content[0].box
    ys, xs = np.nonzero(inked)
    assert inked.sum() > 3000
    assert text.left <= xs.min() <= xs.max() <= text.right
    assert text.top <= ys.min() <= ys.max() <= text.bottom
    assert (frame[:200] == 255).all()


def test_a_logo_fades_over_the_other_without_a_dip(make_plan: MakePlan) -> None:
    """Half-way, there is half of each, and all of what they share."""
    header = (
        "height: 100px, change: blend 100px, parts: {brand: {image: logo-dark.png}}, looks: {a: {}, "
        "b: {from: 100px, parts: {brand: {image: logo-light.png}}}}"
    )
    view = make_plan(plan_text(header=header)).view()
    middle = [view.pixels(scroll)[50, 60].tolist() for scroll in (100, 150, 200)]
    assert middle[0] == [20, 30, 60]
    assert middle[2] == [250, 245, 230]
    assert middle[1] == pytest.approx([135, 137.5, 145], abs=1.5)
    part = view.at(150).header
    assert part is not None
    assert part.state.styles["brand"].shares == (0.5, 0.5)


def _animation(path: Path, count: int, size: tuple[int, int] = (40, 30)) -> None:
    frames = [Image.new("RGB", size, (index % 256, index // 256, 90)) for index in range(count)]
    frames[0].save(path, save_all=True, append_images=frames[1:], duration=20, lossless=True)


@pytest.mark.parametrize("name", ["lights.gif", "lights.webp", "lights.png"])
def test_the_pictures_of_an_animation_are_slides(
    folder: Path, make_plan: MakePlan, name: str
) -> None:
    _animation(folder / name, 3)
    layers = f"{{slides: [{name}, photo.png], size: auto, position: 0 0}}"
    view = make_plan(plan_text(sections=f"a: {{height: 700px, layers: [{layers}]}}")).view()
    shown = [view.showing(number).pixels(0) for number in range(5)]
    for number in range(3):
        assert np.abs(shown[number][10, 10].astype(int) - [number, 0, 90]).max() <= 4
    photo = np.asarray(Image.open(folder / "photo.png"))
    assert (shown[3][:400, :600] == photo).all()
    assert (shown[4] == shown[0]).all()
    assert [slide.slide for slide in view.slides()] == [0, 3]


def test_an_endless_animation_is_refused_before_it_is_decoded(
    folder: Path, make_plan: MakePlan
) -> None:
    _animation(folder / "endless.gif", 10_000, (3, 2))
    text = plan_text(sections="a: {height: 700px, layers: [{image: endless.gif}]}")
    with pytest.raises(rl.PlanError, match="more than 500 pictures"):
        make_plan(text)


def _svg(folder: Path, text: str) -> Picture:
    (folder / "drawn.svg").write_text(text, "utf-8")
    return find_picture(folder, "drawn.svg")


SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {}>{}</svg>'
)


@pytest.mark.parametrize(
    ("attributes", "size"),
    [
        ('width="160" height="90"', (160, 90)),
        ('width="2in" viewBox="0 0 4 3"', (192, 144)),
        ('height="50" viewBox="0,0,4,2"', (100, 50)),
        ('width="100%" height="100%" viewBox="0 0 48 24"', (48, 24)),
        ("", (300, 150)),
    ],
)
def test_a_vector_has_the_size_that_it_says(
    folder: Path, attributes: str, size: tuple[int, int]
) -> None:
    picture = _svg(folder, SVG.format(attributes, ""))
    assert (picture.width, picture.height) == size


def test_a_vector_fetches_nothing(folder: Path) -> None:
    """Pictures that it names are left out, also those within a picture that it holds."""
    inner = SVG.format('width="40" height="40"', '<image href="photo.png" width="40" height="40"/>')
    data = base64.b64encode(inner.encode()).decode()
    for address in (
        "photo.png",
        (folder / "photo.png").as_posix(),
        (folder / "photo.png").as_uri(),
        f"data:image/svg+xml;base64,{data}",
    ):
        for name in ("href", "xlink:href"):
            drawing = f'<image {name}="{address}" width="40" height="40"/>'
            picture = _svg(folder, SVG.format('width="40" height="40"', drawing))
            assert premultiplied(picture).max() == 0, address


@pytest.mark.parametrize(
    "text",
    [
        '<!DOCTYPE svg [<!ENTITY a "lol">]>' + SVG.format("", "<text>&a;</text>"),
        "<html></html>",
        "no drawing",
        SVG.format('width="90000" height="90000"', ""),
    ],
)
def test_vectors_that_cannot_be_trusted_are_refused(folder: Path, text: str) -> None:
    with pytest.raises(FileFault):
        _svg(folder, text)


def test_a_vector_that_copies_itself_beyond_measure_ends(folder: Path) -> None:
    copies = '<g id="a0"><path d="M0 0h1v1z"/></g>'
    for index in range(1, 12):
        inner = f'<use href="#a{index - 1}"/>' * 10
        copies += f'<g id="a{index}">{inner}</g>'
    with pytest.raises(FileFault, match="expands to more than 500,000 elements"):
        _svg(folder, SVG.format('width="40" height="40"', copies))
