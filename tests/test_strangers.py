"""What strangers send: drawings, pictures, fonts, values and names that are meant to do harm."""

from __future__ import annotations

import base64
import copy
import io
import json
import os
import pickle
import shutil
import signal
import struct
import subprocess
import sys
import time
import zlib
from importlib.resources import files as resources
from itertools import product
from pathlib import Path
from typing import Any, get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.cli.terminal import echo, style
from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.errors import quoted
from rising_lantern.layout.fonts import FontBook
from rising_lantern.paint.pictures import premultiplied
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import Picture, find_picture
from thorough import some
from videos import write_video

PLAIN = plan_text(sections="a: {height: 700px}")
HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {}>{}</svg>'
)
SIZE = 'width="40" height="40"'
RED = '<path fill="red" d="M0 0h40v40H0z"/>'


def svg(folder: Path, data: str | bytes) -> Picture:
    """A drawing beside the plan, looked at as reading a plan does."""
    (folder / "drawn.svg").write_bytes(data if isinstance(data, bytes) else data.encode())
    return find_picture(folder, "drawn.svg")


def _embedded(width: int, height: int) -> str:
    packed = io.BytesIO()
    Image.new("1", (1, 1)).save(packed, "PNG")
    data = bytearray(packed.getvalue())
    # The size in its first chunk, with the checksum of that: nothing else is read.
    struct.pack_into(">II", data, 16, width, height)
    struct.pack_into(">I", data, 29, zlib.crc32(data[12:29]))
    code = base64.b64encode(data).decode()
    return HEAD.format(SIZE, f'<image {SIZE} href="data:image/png;base64,{code}"/>')


def _nested(count: int, opening: str = "<g>", closing: str = "</g>") -> str:
    return HEAD.format(SIZE, opening * count + RED + closing * count)


def _chained(count: int, kind: str, use: str) -> str:
    """Definitions each of which refers to the next one."""
    parts = [
        f'<{kind} id="m{index}" width="4" height="4"><rect {SIZE} {use}="url(#m{index + 1})"/></{kind}>'
        for index in range(count)
    ]
    return HEAD.format(SIZE, "".join(parts) + f'<rect {SIZE} {use}="url(#m0)"/>')


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (_nested(260), "nested more than 80 deep"),
        (_nested(5000), "nested more than 80 deep"),
        (_chained(250, "mask", "mask"), "more than 80 deep"),
        (_chained(250, "pattern", "fill"), "more than 80 deep"),
        (_chained(250, "clipPath", "clip-path"), "more than 80 deep"),
        (HEAD.format(SIZE, '<g id="a"><use href="#a"/></g>'), "more than 80 deep"),
        (HEAD.format(SIZE, '<filter id="f"><feTurbulence numOctaves="2000000000"/></filter>'), "16 is the limit"),
        (HEAD.format(SIZE, '<filter id="f"><feGaussianBlur stdDeviation="1e9"/></filter>'), "1000 is the limit"),
        (_embedded(50_000, 20_000), "a picture in it has more than 200 megapixels"),
        (HEAD.format('width="nan" height="10"', RED), "width is 'nan'"),
        (HEAD.format('viewBox="0 0 inf 1"', RED), "viewBox is 'inf'"),
        (HEAD.format('width="1e999" height="1"', RED), "width is '1e999'"),
        (HEAD.format('width="1e300" height="1e300"', RED), "is 1e[+]300 x 1e[+]300 px; make it smaller"),
        ('<?xml version="1.0" encoding="foo"?>' + HEAD.format(SIZE, RED), "this is not XML"),
        (('<?xml version="1.0" encoding="utf-16"?><!DOCTYPE svg [<!ENTITY a "x">]>' + HEAD.format(SIZE, RED)).encode("utf-16"), "may not define entities"),
        (b"\xff\xfe\x00", "this is not XML"),
    ],
)  # fmt: skip
def test_drawings_that_would_crash_or_never_end_are_refused_at_once(
    folder: Path, data: str | bytes, message: str
) -> None:
    with pytest.raises(FileFault, match=message):
        svg(folder, data)


@pytest.mark.parametrize(
    "data",
    [
        HEAD.format(SIZE, RED),
        _nested(75),
        _nested(70, '<g opacity=".99">'),
        HEAD.format(SIZE, '<image href="file:///etc/passwd" width="40" height="40"/>' + RED),
        HEAD.format(SIZE, "<style>@import url(http://saltmere.invalid/);</style>" + RED),
    ],
)
def test_plain_drawings_are_drawn(folder: Path, data: str) -> None:
    red, green, blue, alpha = premultiplied(svg(folder, data))[20, 20]
    assert red > 100
    assert (green, blue) == (0, 0)
    assert alpha == red


def test_a_drawing_that_takes_too_long_or_too_much_takes_nothing_along(folder: Path) -> None:
    """It is drawn by a process with limits of its own; the plan that shows it gets a message."""
    noise = '<filter id="f" x="-5" y="-5" width="11" height="11"><feTurbulence numOctaves="16" baseFrequency="0.1"/><feGaussianBlur stdDeviation="900"/></filter>'
    heavy = noise + '<rect width="4000" height="4000" filter="url(#f)"/>' * 8
    picture = svg(folder, HEAD.format('width="4000" height="4000"', heavy))
    with pytest.raises(rl.PlanError, match="takes more than 5 s or 1 GB to draw"):
        premultiplied(picture)
    (folder / "plan.yaml").write_text(
        plan_text(sections="a: {height: 700px, layers: [{image: drawn.svg, size: auto}]}"), "utf-8"
    )
    result = run("preview", "plan.yaml", "-o", "out", cwd=folder)
    assert (result.returncode, (folder / "out").exists()) == (2, False)
    assert "drawn.svg: the SVG cannot be drawn: it takes more than" in result.stderr


@pytest.mark.parametrize("form", ["TIFF", "TGA", "BMP", "PPM", "PCX", "ICO", "DDS", "EPS", "XBM"])
def test_only_the_formats_of_the_web_are_opened(folder: Path, form: str) -> None:
    mode = "1" if form == "XBM" else "RGB"
    Image.new(mode, (16, 16)).save(folder / "other.png", form)
    with pytest.raises(FileFault, match="save it as PNG, JPEG, WebP, GIF, AVIF or SVG"):
        find_picture(folder, "other.png")


@pytest.mark.parametrize("form", ["PNG", "JPEG", "WEBP", "GIF", "AVIF", "MPO"])
def test_the_formats_of_the_web_are_opened(folder: Path, form: str) -> None:
    Image.new("RGB", (16, 8), (200, 30, 40)).save(folder / "picture", form)
    found = find_picture(folder, "picture")
    assert (found.width, found.height) == (16, 8)
    assert np.abs(premultiplied(found)[4, 8].astype(int) - [200, 30, 40, 255]).max() <= 6


@pytest.mark.skipif(os.geteuid() == 0 and not shutil.which("setpriv"), reason="all can be read")
def test_what_is_no_readable_file_is_named_as_what_it_is(folder: Path) -> None:
    (folder / "inner.png").mkdir()
    os.mkfifo(folder / "pipe.png")
    for name, what in (
        ("inner.png", "is a folder"),
        ("pipe.png", "is a pipe"),
        ("none.png", "there is no file"),
    ):
        with pytest.raises(FileFault, match=what):
            find_picture(folder, name)
    text = plan_text(sections="a: {height: 700px, layers: [{image: photo.png}]}")
    (folder / "plan.yaml").write_text(text, "utf-8")
    (folder / "photo.png").chmod(0)
    for path in (folder, *folder.parents):
        if path.stat().st_mode & 0o5 != 0o5 and path != Path("/"):
            path.chmod(path.stat().st_mode | 0o5)
    command = [sys.executable, "-m", "rising_lantern", "check", str(folder / "plan.yaml")]
    if os.geteuid() == 0:
        command = ["/usr/bin/setpriv", "--reuid=65534", "--regid=65534", "--clear-groups", *command]
    result = subprocess.run(command, capture_output=True, text=True, check=False, cwd="/")
    if "No module" in result.stderr or "Permission" in result.stderr:
        pytest.skip("the environment is not readable to others")
    assert "'photo.png' cannot be read: permission denied" in result.stderr


def test_a_picture_that_changes_under_way_is_not_mistaken_for_what_it_was(folder: Path) -> None:
    """Also one of the same size, written at the same time, or of another kind."""
    text = plan_text(sections="a: {height: 700px, layers: [{image: photo.png}]}")
    (folder / "plan.yaml").write_text(text, "utf-8")
    path = folder / "photo.png"
    # Not packed, so that other pixels take up as many bytes.
    Image.open(path).save(path, compress_level=0)
    before = path.stat()
    first = rl.read(folder / "plan.yaml").view().frame(0)
    data = path.read_bytes()
    other = Image.open(path).transpose(Image.Transpose.FLIP_LEFT_RIGHT)
    other.save(path, compress_level=0)
    os.utime(path, ns=(before.st_atime_ns, before.st_mtime_ns))
    assert path.stat().st_mtime_ns == before.st_mtime_ns
    assert path.stat().st_size == before.st_size
    assert rl.read(folder / "plan.yaml").view().frame(0) != first
    for kind, result in (("none", "no longer exists"), ("pipe", "is now a pipe")):
        shutil.copyfile(folder / "noise.png", path)
        view = rl.read(folder / "plan.yaml").view()
        path.unlink()
        if kind == "pipe":
            os.mkfifo(path)
        with pytest.raises(rl.PlanError, match=result):
            view.frame(0)
        path.unlink(missing_ok=True)
    shutil.copyfile(folder / "noise.png", path)
    view = rl.read(folder / "plan.yaml").view()
    path.write_bytes(data)
    with pytest.raises(rl.PlanError, match="has changed since the plan was read"):
        view.frame(0)


def test_a_font_with_damaged_outlines_is_a_message(folder: Path) -> None:
    """Every outline is overwritten, the tables that place the letters are left."""
    source = resources("rising_lantern.layout").joinpath("typefaces/SourceSansPro-Regular.ttf")
    data = bytearray(source.read_bytes())
    count = int.from_bytes(data[4:6], "big")
    for index in range(12, 12 + 16 * count, 16):
        if data[index : index + 4] == b"glyf":
            start, size = (
                int.from_bytes(data[index + at : index + at + 4], "big") for at in (8, 12)
            )
            data[start : start + size] = b"\x7f\xff" * (size // 2) + b"\0" * (size % 2)
    (folder / "own.ttf").write_bytes(data)
    text = plan_text(sections="a: {height: 700px, content: [{text: Saltmere, font: own}]}")
    (folder / "plan.yaml").write_text(text.replace("\n\n", "\nfonts: {own: own.ttf}\n", 1), "utf-8")
    result = run("preview", "plan.yaml", "-o", "out", cwd=folder)
    assert result.returncode == 2
    assert "font" in result.stderr
    assert len(result.stderr.splitlines()) == 1


@pytest.mark.parametrize(
    "value",
    ["calc(" * 200 + "1px" + ")" * 200, "min(" * 200 + "1px" + ")" * 200, "calc(" + "(" * 5000 + "1px" + ")" * 5000 + ")"],
    ids=["calc", "min", "brackets"],
)  # fmt: skip
def test_values_nested_too_deep_are_a_fault_of_the_plan(make_plan: MakePlan, value: str) -> None:
    with pytest.raises(rl.PlanError, match="brackets are nested more than 24 deep") as result:
        make_plan(plan_text(sections=f"a: {{height: '{value}'}}"))
    assert len(str(result.value)) < 400


@pytest.mark.parametrize("key", ["background", "fill", "filter", "change", "shadow"])
def test_no_kind_of_value_is_read_too_deep(make_plan: MakePlan, key: str) -> None:
    deep = f"rgb({'calc(' * 150}1{')' * 150} 0 0)"
    inner = {
        "fill": f"layers: [{{fill: 'linear-gradient({deep}, red)'}}]",
        "filter": f"layers: [{{fill: red, filter: 'blur({'calc(' * 150}1px{')' * 150})'}}]",
    }.get(key, f"background: '{deep}'")
    header = {
        "change": f"change: 'blend {'calc(' * 150}1px{')' * 150}'",
        "shadow": f"shadow: '0 0 {'calc(' * 150}1px{')' * 150} {deep}'",
    }.get(key, "height: 10px")
    with pytest.raises(rl.PlanError, match=r"24 deep|is not"):
        make_plan(
            plan_text(
                header=f"{header}, looks: {{a: {{}}}}", sections=f"a: {{height: 10px, {inner}}}"
            )
        )


def test_messages_quote_little_of_a_value(folder: Path) -> None:
    long = "x" * 100_000
    cases = (
        plan_text(sections=f"a: {{height: {long}}}"),
        plan_text(sections=f"a: {{height: 10px, background: {long}}}"),
        plan_text(sections=f"a: {{{long}: 10px}}"),
        plan_text(sections=f"{long}: {{height: 10px}}"),
        plan_text(sections=f"a: {{height: 10px, layers: [{{image: {long}}}]}}"),
        plan_text(sections=f"a: {{height: 10px, tone: {long}}}"),
        plan_text(
            sections="a: {height: 10px}", header=f"looks: {{a: {{}}, b: {{from: past {long}}}}}"
        ),
    )
    for text in cases:
        (folder / "plan.yaml").write_text(text, "utf-8")
        result = run("check", "plan.yaml", cwd=folder)
        assert result.returncode == 2
        assert all(len(line) < 500 for line in result.stderr.splitlines()), text[:200]
    result = run("list", "plan.yaml", "--set", f"pages.{long}=1", cwd=folder)
    assert len(result.stderr) < 1000


@given(st.text(max_size=300))
def test_what_is_quoted_is_short_and_on_one_line(text: str) -> None:
    assert len(quoted(text)) <= 162
    assert quoted(text).isprintable()


def test_plans_that_are_no_files_and_steps_without_end_are_refused_in_time(folder: Path) -> None:
    os.mkfifo(folder / "pipe.yaml")
    (folder / "plan.yaml").write_text(plan_text(sections="a: {height: 99000px}"), "utf-8")
    started = time.monotonic()
    for words, result in (
        (("check", "pipe.yaml"), "it is a pipe; name a plan file"),
        (("check", "/dev/zero"), "it is a device; name a plan file"),
        (("check", "."), "it is a folder; name a plan file"),
        (
            ("trace", "plan.yaml", "--every", "1e-9"),
            "the limit is 1,000,000: use a step of 0.1 px or more",
        ),
        (("trace", "plan.yaml", "--every", "1e-300"), "the limit is"),
        (("preview", "plan.yaml", "--play", "pipe.csv"), "cannot be read as a CSV file"),
    ):
        ended = run(*words, cwd=folder)
        assert ended.returncode == 2
        assert result in ended.stderr
    assert time.monotonic() - started < 120


def test_faults_of_the_command_line_are_json_where_they_are_asked_for_so(folder: Path) -> None:
    (folder / "plan.yaml").write_text(PLAIN, "utf-8")
    for words in (
        ["check"],
        ["chek"],
        ["check", "plan.yaml", "--no"],
        ["check", "plan.yaml", "--page", "none"],
    ):
        for option in (["--faults", "json"], ["--faults=json"]):
            result = run(*option, *words, cwd=folder)
            assert (result.returncode, result.stderr) == (2, "")
            (fault,) = json.loads(result.stdout)
            assert fault["problem"]


def test_a_page_that_is_named_twice_counts_once(folder: Path) -> None:
    (folder / "plan.yaml").write_text(PLAIN, "utf-8")
    plan = rl.read(folder / "plan.yaml")
    assert len(list(plan.views(("page", "page"), ("laptop", "laptop")))) == 1
    twice = run(
        "trace", "plan.yaml", "--of", "layers", "--page", "page", "--page", "page", cwd=folder
    )
    assert twice.stdout == run("trace", "plan.yaml", "--of", "layers", cwd=folder).stdout


ENCODINGS = "latin-1", "cp1252", "ascii", "utf-8"
ODD_NAMES = b"caf\xc3\xa9.yaml", b"raw\xff\xfe.yaml", b"\x1b[31mred\x07.yaml"


@pytest.mark.parametrize(("name", "encoding"), some(product(ODD_NAMES, ENCODINGS), 7))
def test_any_name_is_shown_in_any_encoding_and_never_raw(
    folder: Path, encoding: str, name: bytes
) -> None:
    path = Path(os.fsdecode(name))
    (folder / path).write_text(
        plan_text(sections='a: {height: 9px, background: "→ \\e[2J\\x9b ★"}'), "utf-8"
    )
    environment = {**os.environ, "PYTHONIOENCODING": encoding, "LC_ALL": "C"}
    calls = ("check",), ("list", "--set", "title=→ ★ é"), ("--faults", "json", "check")
    for words in calls:
        result = subprocess.run(
            [sys.executable, "-m", "rising_lantern", *words, str(path)],
            cwd=folder, env=environment, capture_output=True, check=False,
        )  # fmt: skip
        text = (result.stdout + result.stderr).decode(encoding)
        assert result.returncode == 2
        assert "Traceback" not in text
        assert "fault of its own" not in text
        assert not {sign for sign in text if not sign.isprintable()} - {"\n", "\t"}


def test_control_characters_of_a_plan_are_a_fault_of_it(make_plan: MakePlan) -> None:
    for escape in (r"\e[31m", r"\x07", r"\x9b", r"\0", r"\x7f"):
        with pytest.raises(rl.PlanError, match="control character"):
            make_plan(
                plan_text(sections=f'a: {{height: 10px, content: [{{text: "Salt{escape}mere"}}]}}')
            )
    assert make_plan(plan_text(sections='a: {height: 10px, content: [{text: "Salt\\nmere"}]}'))


@given(st.text())
def test_nothing_but_our_own_styles_controls_a_terminal(text: str) -> None:
    class Terminal(io.StringIO):
        encoding = "utf-8"

        def isatty(self) -> bool:
            return True

    known, sys.stdout = sys.stdout, Terminal()
    try:
        echo(style("bold", bold=True) + text + style(text, fg="red"))
        shown = sys.stdout.getvalue()
    finally:
        sys.stdout = known
    start = "\x1b[1mbold\x1b[0m"
    assert shown.startswith(start)
    assert shown.endswith("\x1b[0m\n")
    rest = shown.removeprefix(start).replace("\x1b[31m", "", 1).replace("\x1b[0m", "", 1)
    assert not {sign for sign in rest if not sign.isprintable()} - set("\n\t\u200c\u200d")


def sent(thing: Any) -> Any:
    """A thing as another process gets it."""
    return pickle.loads(pickle.dumps(thing))  # noqa: S301 - our own


def test_a_view_can_be_copied_and_sent_to_another_process(regatta: Plan) -> None:
    view = regatta.view("lanterns", "laptop")
    for result in (copy.copy(view), copy.deepcopy(view), sent(view)):
        assert result is not view
        assert result.at(700) == view.at(700)
        assert (result.pixels(700) == view.pixels(700)).all()
    again = sent(view.showing(1))
    assert again.slide == 1
    assert sent(regatta).pages == regatta.pages
    found = rl.check(regatta, "home", "laptop", contrast="AAA")
    assert sent(found) == found != []


@pytest.mark.parametrize("mode", get_args(BlendMode))
def test_no_blend_divides_by_nothing(mode: BlendMode) -> None:
    """Greys at the ends of their range, over and under every alpha; a warning would be an error."""
    levels = np.array([0, 1, 3, 128, 250, 254, 255], dtype=np.uint8)
    above, alpha, below, room = np.meshgrid(levels, levels, levels, levels, indexing="ij")
    source = np.repeat(np.minimum(above, alpha)[..., None], 4, axis=-1).reshape(-1, 1, 4)
    source[..., 3] = alpha.reshape(-1, 1)
    target = np.repeat(np.minimum(below, room)[..., None], 4, axis=-1).reshape(-1, 1, 4)
    target[..., 3] = room.reshape(-1, 1)
    blend_over(target, source, mode)
    assert (target[..., :3] <= target[..., 3:]).all()


@pytest.mark.parametrize(
    ("form", "place", "put", "taken"), [("AVIF", 0.2578125, b"", 1), ("AVIF", 0.5, b"\0", 0)]
)
def test_a_picture_that_is_damaged_within_is_a_message(
    folder: Path, form: str, place: float, put: bytes, taken: int
) -> None:
    rng = np.random.default_rng(2)
    data = io.BytesIO()
    Image.fromarray(rng.integers(0, 255, (16, 24, 4), dtype=np.uint8)).save(data, form)
    whole = data.getvalue()
    at = int(place * len(whole))
    (folder / "damaged.png").write_bytes(whole[:at] + put + whole[at + taken :])
    with pytest.raises((FileFault, rl.PlanError), match=r"can be read|damaged"):
        premultiplied(find_picture(folder, "damaged.png"))


def test_a_layer_so_fast_that_it_never_ends_is_refused(make_plan: MakePlan) -> None:
    sections = "a: {height: 900px, layers: [{fill: red, speed: 100, drift: 50, path: [{at: 0px}, {at: 9px, y: 9px}]}]}, b: {height: 9000px}"
    view = make_plan(plan_text(sections=sections)).view()
    with pytest.raises(rl.RequestError, match="slow it down, or split the section"):
        view.frame(0)


@pytest.mark.parametrize("size", ["0px", "1e-7px", "0.01px", "0.3px", "0.499px", "0.5px", "2000px"])
def test_letters_of_any_size_are_painted_or_left_out(make_plan: MakePlan, size: str) -> None:
    header = f"height: 40px, parts: {{menu: {{text: Menu, size: {size}}}}}, looks: {{clear: {{}}}}"
    text = f"{{text: Saltmere, size: {size}, at: 50% 50%}}"
    sections = f"a: {{height: 700px, content: [{text}]}}"
    assert make_plan(plan_text(header=header, sections=sections)).view().frame(0)


# --- files that are swapped between reading and use -----------------------------------------------

_SWAPPED = {
    "photo.png": "{layers: [{image: photo.png}], height: 600px}",
    "river.webm": "{layers: [{video: river.webm, poster: noise.png}], height: 600px}",
    "own.ttf": "{height: 600px, content: [{text: Lanterns, font: own}]}",
}


def _plan_with(folder: Path, name: str) -> Plan:
    """A plan that uses a file, beside it."""
    write_video(folder / "river.webm", 4)
    shutil.copy(FontBook({}).file("serif", 600).path, folder / "own.ttf")
    fonts = "fonts: {own: {400: own.ttf}}"
    text = plan_text(before=fonts, sections=f"a: {_SWAPPED[name]}, b: {{height: 900px}}")
    (folder / "plan.yaml").write_text(text, "utf-8")
    return rl.read(folder / "plan.yaml")


def _swap(path: Path, kind: str) -> None:
    """Put something else in place of a file."""
    content = path.read_bytes()
    path.unlink()
    if kind == "a link":
        path.symlink_to("/etc/hostname")
    elif kind == "a folder":
        path.mkdir()
    elif kind == "a pipe":
        os.mkfifo(path)
    elif kind == "other content":
        path.write_bytes(content[:40] + b"x" * (len(content) - 40))
    elif kind == "the same content":
        path.write_bytes(content)


@pytest.mark.parametrize("name", _SWAPPED)
@pytest.mark.parametrize("kind", ["a link", "a folder", "a pipe", "nothing", "other content"])
def test_what_was_put_in_place_of_a_file_is_one_message(
    folder: Path, tmp_path: Path, name: str, kind: str
) -> None:
    plan = _plan_with(folder, name)
    _swap(folder / name, kind)
    out = tmp_path / "out"
    for work in (
        lambda: rl.export(plan).save(out),
        lambda: rl.preview(plan).save(tmp_path / "preview.html"),
        lambda: plan.view().frame(0, second=0.1),
    ):
        with pytest.raises(rl.PlanError) as caught:
            work()
        assert len(caught.value.faults) == 1
        assert caught.value.faults[0].place.file == str(folder / name)
        assert "the file " in caught.value.faults[0].problem
    assert not out.exists()
    assert not (tmp_path / "preview.html").exists()


@pytest.mark.parametrize("name", _SWAPPED)
def test_a_file_with_the_same_content_is_the_same(folder: Path, tmp_path: Path, name: str) -> None:
    """Saved again by an editor, or with a new link to it: another state on the disk."""
    plan = _plan_with(folder, name)
    _swap(folder / name, "the same content")
    (folder / "link").hardlink_to(folder / name)
    os.utime(folder / name, (1, 1))
    rl.export(plan).save(tmp_path / "out")
    rl.preview(plan).save(tmp_path / "preview.html")
    assert plan.view().frame(0).size == (1000, 600)


# --- the start and the end of a process -----------------------------------------------------------


@pytest.mark.parametrize("number", [signal.SIGINT, signal.SIGTERM, signal.SIGHUP])
def test_a_signal_that_comes_while_the_program_is_loaded_ends_it_quietly(
    tmp_path: Path, number: signal.Signals
) -> None:
    """It comes in the middle of loading a package that the command line needs."""
    (tmp_path / "click").mkdir()
    (tmp_path / "click" / "__init__.py").write_text(
        f"import os, time\nos.kill(os.getpid(), {int(number)})\ntime.sleep(20)\n", "utf-8"
    )
    result = subprocess.run(
        [sys.executable, "-m", "rising_lantern", "--help"], capture_output=True, text=True,
        check=False, env={**os.environ, "PYTHONPATH": str(tmp_path)},
    )  # fmt: skip
    assert (result.returncode, result.stdout, result.stderr) == (128 + number, "", "")


def test_what_a_process_was_started_to_ignore_stays_ignored(tmp_path: Path) -> None:
    command = f"trap '' HUP; {sys.executable} -m rising_lantern --version"
    (tmp_path / "sitecustomize.py").write_text(
        "import os, signal\nos.kill(os.getpid(), signal.SIGHUP)\n", "utf-8"
    )
    result = subprocess.run(
        ["/bin/sh", "-c", command], capture_output=True, text=True, check=False,
        env={**os.environ, "PYTHONPATH": str(tmp_path)},
    )  # fmt: skip
    assert result.returncode == 0
    assert "version" in result.stdout


def test_a_plan_that_is_not_there_is_a_file_that_is_not_found(tmp_path: Path) -> None:
    with pytest.raises(FileNotFoundError) as caught:
        rl.read(tmp_path / "plan.yaml")
    error = caught.value
    assert isinstance(error, rl.PlanError)
    assert error.filename == str(tmp_path / "plan.yaml")
    assert "no such file" in str(error)
    copied = pickle.loads(pickle.dumps(error))  # noqa: S301 - our own
    assert (type(copied), str(copied)) == (rl.NoPlanError, str(error))
