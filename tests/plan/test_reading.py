"""Plans: what is read from them, and what is said where they are wrong."""

from __future__ import annotations

import re
import struct
import zlib
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from plans import TINY, MakePlan, plan_text
from rising_lantern.plan.models.changes import Blend, Cut, Fade, parse_change
from rising_lantern.plan.models.show import Show, ShowViewports
from rising_lantern.plan.models.thresholds import parse_threshold


def faults(make_plan: MakePlan, text: str) -> list[str]:
    """The faults of a plan, without the folder's name, checked for what none may hold."""
    with pytest.raises(rl.PlanError) as caught:
        make_plan(text)
    for fault in caught.value.faults:
        result = f"{fault.problem} {fault.remedy}"
        assert "{" not in result
        assert "pydantic" not in result
        assert not re.search("[a-z]_[a-z]", result), result
    return [
        f"{fault.place.line}:{fault.place.column}: {fault.problem}; {fault.remedy}"
        for fault in caught.value.faults
    ]


def test_a_tiny_plan_has_defaults(make_plan: MakePlan) -> None:
    plan = make_plan(TINY)
    assert plan.pages == ("page",)
    assert plan.viewports == ("laptop",)
    assert plan.view().max_scroll == 300
    assert plan.view().at(0).header is None


def test_a_plan_without_viewports_has_three(make_plan: MakePlan) -> None:
    plan = make_plan("rising-lantern: 1\npages: {page: {sections: {only: {height: 1px}}}}")
    assert plan.viewports == ("laptop", "tablet", "phone")


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("[1, 2]", "1:1: this is not a plan"),
        ("pages: {}", "1:1: the plan has no version"),
        ("rising-lantern: 2", "1:17: only version 1 of the format is supported"),
        ("rising-lantern: true", "1:17: only version 1 of the format is supported"),
        ("rising-lantern: 1", "1:1: the plan has no 'pages'"),
        (
            "rising-lantern: 1\npages: {}",
            "2:8: 'pages' is empty; write at least one entry below it, such as 'home:'",
        ),
        ("rising-lantern: 1\npages: 7", "2:8: 'pages' is a number; write a mapping"),
        ("rising-lantern: 1\npges: {}", "2:1: unknown key 'pges'; did you mean 'pages'?"),
        (plan_text(sections="a: {}"), "5:15: 'a' has no 'height'; add 'height: 100vh'"),
        (plan_text(sections="a: {height: 12}"), "'12' has no unit; write a number with a unit"),
        (plan_text(sections="a: {height: -2px}"), "'-2px' is negative; write zero or more"),
        (
            plan_text(sections="a: {heigth: 2px}"),
            "unknown key 'heigth'; did you mean 'height'?",
        ),
        (plan_text(sections="1a: {height: 2px}"), "is not a valid name"),
        (plan_text(sections="a b: {height: 1px}"), "is not a valid name"),
        (
            plan_text(sections=f"{'a' * 61}: {{height: 1px}}"),
            f"the name '{'a' * 61}' is too long; use up to 60 characters",
        ),
        (
            plan_text(sections="a: {height: 1px, content: [{text: ''}]}"),
            "'' is too short for 'text'; use at least 1 character",
        ),
        (
            plan_text(sections=f"a: {{height: 1px, layers: [{'{fill: red}, ' * 51}]}}"),
            "'layers' has too many entries; use up to 50 entries",
        ),
        (plan_text(sections="a: {height: [1px]}"), "needed here, not a list"),
        (plan_text(background="papr"), "'papr' is not a colour"),
        (plan_text(before="colors: {ink: '#12'}"), "3:15: '#12' is not a colour"),
        (plan_text(viewports="a: 12"), "2:16: a viewport cannot be a number; write WIDTHxHEIGHT"),
        (plan_text(viewports="a: 12x"), "'12x' is not a screen size"),
        (plan_text(viewports="a: 99999x2"), "'99999x2' is not a screen size"),
        (
            plan_text(viewports="a: 10x20@99"),
            "'99.0' is out of range for 'ratio'; write at most 8",
        ),
        (plan_text(viewports="a: {size: 3}"), "'3' is not a screen size"),
        (plan_text(viewports="a: {size: 10x20, colour: red}"), "unknown key 'colour'"),
        (plan_text(page="path: home"), "'home' is not a path; start it with a slash"),
        (plan_text(header="position: floating"), "'floating' is not valid for 'position'"),
        (plan_text(header="z: much"), "'z' is text; write a whole number"),
        (plan_text(header="hold-space: maybe"), "'hold-space' is text; write true or false"),
        (plan_text(header="looks: {a: {from: 2px}}"), "the first look 'a' has a 'from'"),
        (plan_text(header="looks: {a: {}, b: {}}"), "the look 'b' has no 'from'"),
        (
            plan_text(header="looks: {a: {}, b: {from: sometimes}}"),
            "'sometimes' is not a threshold",
        ),
        (plan_text(header="looks: {a: {}, b: {from: past}}"), "'past' needs the name of a section"),
        (plan_text(header="looks: {a: {}, b: {from: past second 3px}}"), "a + or - is needed"),
        (
            plan_text(header="looks: {a: {}, b: {from: past secnd}}"),
            "no page has a section 'secnd'; did you mean 'second'?",
        ),
        (
            plan_text(header="looks: {a: {}, b: {from: 9px, back: 4px}}, change: blend 5px"),
            "has both a blend and a 'back'",
        ),
        (
            plan_text(
                header="looks: {a: {parts: {bred: {color: red}}}}, parts: {bread: {text: x}}"
            ),
            "names a part 'bred' that the header does not have; did you mean 'bread'?",
        ),
        (
            plan_text(header="looks: {a: {parts: {x: {image: photo.png}}}}, parts: {x: {text: x}}"),
            "gives an image to the text 'x'",
        ),
        (plan_text(header="parts: {x: {side: end}}"), "the part has neither a text nor an image"),
        (
            plan_text(header="parts: {x: {text: a, image: b}}"),
            "the part has both a text and an image",
        ),
        (
            plan_text(header="parts: {x: {text: a, font: sams}}"),
            "no font 'sams'; did you mean 'sans'?",
        ),
        (plan_text(header="change: fad 3s"), "'fad 3s' is not a change"),
        (plan_text(header="change: fade 3px"), "'3px' is not a time"),
        (plan_text(header="change: fade 300s"), "'300s' is too long"),
        (plan_text(header="change: fade"), "fade takes a time"),
        (plan_text(header="change: fade -1s"), "a duration cannot be negative"),
        (plan_text(header="change: blend ease"), "blend takes one distance"),
        (plan_text(header="change: blend -4px"), "a blend distance cannot be negative"),
        (plan_text(header="change: ''"), "'' is not a change"),
        (plan_text(header="shadow: 0 2"), "'2' has no unit"),
        (plan_text(header="show: {only: [hom]}"), "there is no page or kind 'hom'"),
        (plan_text(header="show: {viewports: {only: [lptop]}}"), "did you mean 'laptop'?"),
        (
            plan_text(sections="a: {height: 1px, layers: [{}]}"),
            "the layer has none of image, slides, video and fill",
        ),
        (
            plan_text(sections="a: {height: 1px, layers: [{fill: red, speed: 150}]}"),
            "'150' is out of range for 'speed'; write at most 100",
        ),
        (
            plan_text(
                sections="a: {height: 1px, layers: [{fill: red, speed: 1, attachment: fixed}]}"
            ),
            "the layer has both an attachment and a speed",
        ),
        (
            plan_text(sections="a: {height: 1px, layers: [{image: fhoto.png}]}"),
            "there is no file 'fhoto.png' beside the plan; did you mean 'photo.png'?",
        ),
        (
            plan_text(sections="a: {height: 1px, layers: [{image: ../x.png}]}"),
            "is outside the plan's",
        ),
        (
            plan_text(sections="a: {height: 1px, layers: [{image: /etc/passwd}]}"),
            "is outside the plan's",
        ),
        (
            plan_text(sections="a: {height: 1px, layers: [{image: 'http://a/b'}]}"),
            "is a web address",
        ),
        (
            plan_text(sections="a: {height: 1px, layers: [{image: plan.yaml}]}"),
            "cannot be read as a picture",
        ),
        (plan_text(sections="a: {height: 1px, layers: [{image: ''}]}"), "is not a file name"),
        (
            plan_text(sections="a: {height: 1px, content: [{text: ''}]}"),
            "use at least 1 character",
        ),
        (
            plan_text(sections="a: {height: 1px, content: [{text: a, shadow: 0 0 2px 3px red}]}"),
            "a text shadow has no spread",
        ),
        (plan_text(before="fonts: {sans: nowhere.ttf}"), "there is no file 'nowhere.ttf'"),
        (plan_text(sections="a: {height: 1px, for: {fone: {}}}"), "there is no viewport 'fone'"),
        (plan_text(sections="a: {height: 1px, for: 7}"), "'for' needs a mapping from viewports"),
        (plan_text(sections="a: {height: 1px, for: {laptop: 7}}"), "'laptop' has no values in it"),
        (plan_text(sections="a: {height: 1px, for: {laptop: {height: 7}}}"), "'7' has no unit"),
        (plan_text(sections="a: {height: {}}"), "write a value such as 'height: 100vh'"),
        (plan_text(sections="a: {height: 12 px}"), "remove the space: 12px"),
        (
            plan_text(header="padding: 10px 32px 4px 2px"),
            "write up to three lengths: above, left and right, below",
        ),
        (
            plan_text().replace("laptop: 1000x600", "laptop: {ratio: 2}"),
            "'laptop' has no 'size'; add 'size: 1280x800'",
        ),
        (
            plan_text(header="looks: {a: {arrive: slide}, b: {from: 90px}}"),
            "the first look 'a' has an 'arrive'",
        ),
    ],
)
def test_a_fault_is_reported_with_what_would_be_right(
    make_plan: MakePlan, text: str, expected: str
) -> None:
    result = faults(make_plan, text)
    assert any(expected in fault for fault in result), result


def test_all_faults_are_reported_at_once_in_the_order_of_the_file(make_plan: MakePlan) -> None:
    text = """\
rising-lantern: 1
viewports: {laptop: 1280x800}
colors: {ink: "#16213e", paper: "#fdf6e3"}
headers:
  main:
    heigth: 96px
    looks:
      clear: {color: papr}
      solid: {from: past heroo, background: "linear-gradient(ink)"}
    change: fade 300ms eese
pages:
  home:
    sections:
      hero:
        height: 100vhh
        layers: [{fill: "linear-gradient(inkk, paper)"}]
"""
    result = faults(make_plan, text)
    assert [fault.split(": ")[0] for fault in result] == [
        "6:5",
        "8:22",
        "9:45",
        "10:24",
        "15:17",
        "16:42",
    ]
    assert "'eese' is not an easing" in result[3]
    assert "'inkk' is not a colour" in result[5]


def test_a_link_that_leads_out_of_the_folder_is_refused(
    make_plan: MakePlan, folder: Path, tmp_path_factory: pytest.TempPathFactory
) -> None:
    outside = tmp_path_factory.mktemp("outside") / "secret.png"
    Image.new("RGB", (4, 4)).save(outside)
    (folder / "link.png").symlink_to(outside)
    (folder / "loop.png").symlink_to(folder / "loop.png")
    for name, problem in (("link", "a link to a place outside"), ("loop", "loop.png")):
        text = plan_text(sections=f"a: {{height: 1px, layers: [{{image: {name}.png}}]}}")
        assert problem in faults(make_plan, text)[0]


def test_a_huge_picture_is_refused_before_it_is_decoded(make_plan: MakePlan, folder: Path) -> None:
    """A PNG header of 50,000 x 50,000 px with nothing behind it."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        checksum = struct.pack(">I", zlib.crc32(kind + data))
        return struct.pack(">I", len(data)) + kind + data + checksum

    head = struct.pack(">IIBBBBB", 50_000, 50_000, 8, 2, 0, 0, 0)
    data = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", b"")
    (folder / "huge.png").write_bytes(data)
    text = plan_text(sections="a: {height: 1px, layers: [{image: huge.png}]}")
    assert "200 megapixels is the limit" in faults(make_plan, text)[0]


@pytest.mark.parametrize(
    ("data", "problem"),
    [(b"\xff\xfe\x00rising", "this is not text"), (b"a: \x00", "a character here is not text")],
)
def test_what_is_not_text_is_refused(folder: Path, data: bytes, problem: str) -> None:
    (folder / "plan.yaml").write_bytes(data)
    with pytest.raises(rl.PlanError, match=problem):
        rl.read(folder / "plan.yaml")


def test_missing_and_oversized_files_are_refused(folder: Path) -> None:
    with pytest.raises(rl.PlanError, match="cannot be read: no such file"):
        rl.read(folder / "none.yaml")
    with pytest.raises(rl.PlanError, match="cannot be read: it is a folder"):
        rl.read(folder)
    (folder / "plan.yaml").write_bytes(b"# " + b"x" * 17_000_000)
    with pytest.raises(rl.PlanError, match="up to 16 MB"):
        rl.read(folder / "plan.yaml")


def test_values_differ_on_a_viewport(make_plan: MakePlan) -> None:
    plan = make_plan(
        plan_text(
            viewports="laptop: 1000x600, phone: 400x600",
            sections="a: {height: 900px, for: {phone: {height: 1500px}}}",
        )
    )
    assert plan.view(viewport="laptop").max_scroll == 300
    assert plan.view(viewport="phone").max_scroll == 900


def test_unknown_pages_and_viewports_are_refused(make_plan: MakePlan) -> None:
    plan = make_plan(TINY)
    with pytest.raises(rl.RequestError, match="has no page 'hom'; it has: page"):
        plan.view("hom")
    with pytest.raises(rl.RequestError, match="has no viewport 'fone'"):
        plan.view(viewport="fone")


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("cut", Cut),
        ("fade 260ms ease-out", Fade),
        ("fade 0.3s", Fade),
        ("fade 1s 200ms steps(4)", Fade),
        ("blend 120px ease-in-out", Blend),
        ("blend ease calc(10vh + 2px)", Blend),
    ],
)
def test_changes_are_read(text: str, kind: type) -> None:
    change = parse_change(text)
    assert isinstance(change, kind)
    if isinstance(change, Fade):
        assert change.duration_ms in {260, 300, 1000}


names = st.sampled_from(["hero", "section-2", "a", "past", "reach"])


@given(st.sampled_from(["past", "reach"]), names, st.sampled_from(["", " + ", " - "]))
def test_thresholds_of_sections_are_read(edge: str, section: str, sign: str) -> None:
    text = f"{edge} {section}{sign}{'12px' if sign else ''}"
    threshold = parse_threshold(text)
    assert (threshold.edge, threshold.section) == (edge, section)
    expected = {"": 0, " + ": 12, " - ": -12}[sign]
    assert threshold.offset.css() in {f"{expected}px", f"calc(0px + {expected}px)"}


words = st.sampled_from(["home", "visit", "article", "/journal/*", "/**", "/visit"])
lists = st.lists(words, max_size=3).map(tuple)
screens = st.lists(st.sampled_from(["laptop", "phone"]), max_size=2).map(tuple)


@given(st.none() | lists, lists, st.none() | screens, screens)
def test_show_is_read_as_it_says(
    only: tuple[str, ...] | None,
    excepted: tuple[str, ...],
    only_screens: tuple[str, ...] | None,
    except_screens: tuple[str, ...],
) -> None:
    """Against the rule in words: in ``only`` if there is one, and never in ``except``."""
    viewports = ShowViewports.model_validate({"only": only_screens, "except": except_screens})
    show = Show.model_validate({"only": only, "except": excepted, "viewports": viewports})

    def named(patterns: tuple[str, ...], page: tuple[str, str, str]) -> bool:
        name, kind, path = page
        matching = {
            "/journal/*": path.startswith("/journal/") and path.count("/") == 2,
            "/**": True,
        }
        return any(
            matching.get(pattern, path == pattern if "/" in pattern else pattern in {name, kind})
            for pattern in patterns
        )

    for page in (
        ("home", "front", "/"),
        ("post", "article", "/journal/reed"),
        ("visit", "", "/visit"),
    ):
        for screen in ("laptop", "phone"):
            expected = (
                (only is None or named(only, page))
                and not named(excepted, page)
                and (only_screens is None or screen in only_screens)
                and screen not in except_screens
            )
            assert show.applies(page[:2], page[2], screen) == expected


def test_the_first_header_that_applies_wins(make_plan: MakePlan) -> None:
    plan = make_plan(
        "rising-lantern: 1\n"
        "viewports: {laptop: 1000x600, phone: 300x600}\n"
        "headers:\n"
        "  small: {show: {viewports: {only: [phone]}}}\n"
        "  first: {show: {only: [a]}}\n"
        "  second: {}\n"
        "pages: {a: {sections: {x: {height: 1px}}}, b: {sections: {x: {height: 1px}}}}\n"
    )
    current = {
        (v.page, v.viewport): v.scene.box.header.name for v in plan.views() if v.scene.box.header
    }
    assert current == {
        ("a", "laptop"): "first",
        ("b", "laptop"): "second",
        ("a", "phone"): "small",
        ("b", "phone"): "small",
    }


def test_a_plan_may_bring_its_own_fonts(make_plan: MakePlan, folder: Path) -> None:
    from rising_lantern.layout.fonts import FontBook  # noqa: PLC0415

    own = FontBook({}).file("serif", 700)
    (folder / "own.ttf").write_bytes(own.read_bytes())
    text = plan_text(
        before="fonts: {banner: own.ttf, sans: {400: own.ttf, 700: own.ttf}}",
        sections="a: {height: 99px, content: [{text: Saltmere, font: banner}, {text: Saltmere}]}",
    )
    banner, sans = make_plan(text).view().scene.box.sections[0].content
    assert banner.text.face.file.path == sans.text.face.file.path == folder / "own.ttf"


def test_a_damaged_picture_is_a_fault_of_the_plan(make_plan: MakePlan, folder: Path) -> None:
    pixels = np.random.default_rng(1).integers(0, 255, (90, 90, 3), dtype=np.uint8)
    Image.fromarray(pixels).save(folder / "whole.jpg")
    data = (folder / "whole.jpg").read_bytes()
    (folder / "broken.jpg").write_bytes(data[: len(data) // 2])
    view = make_plan(plan_text(sections="a: {height: 9px, layers: [{image: broken.jpg}]}")).view()
    with pytest.raises(rl.PlanError, match=r"broken.jpg: the picture is incomplete or damaged"):
        view.frame(0)


@pytest.mark.parametrize(
    ("data", "problem"),
    [
        (b"no font at all", "'own.ttf' is not a font"),
        (b"\0\1\0\0 and then nothing", "'own.ttf' is not a font"),
        (b"", "'own.ttf' is not a font"),
    ],
)
def test_what_is_no_font_is_refused(
    make_plan: MakePlan, folder: Path, data: bytes, problem: str
) -> None:
    (folder / "own.ttf").write_bytes(data)
    assert problem in faults(make_plan, plan_text(before="fonts: {banner: own.ttf}"))[0]


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        (
            plan_text(header="parts: {x: {text: a, size: 90000px}}"),
            "'90000px' is too large a font size",
        ),
        (plan_text(header="shadow: 0 0 90000px red"), "'90000px' is too much for a shadow"),
        (plan_text(header="height: 1e999px"), "is not finite"),
        (
            plan_text(sections="a: {height: 9px, layers: [{fill: red, drift: 1e9}]}"),
            "out of range",
        ),
    ],
)
def test_absurd_sizes_are_refused(make_plan: MakePlan, text: str, problem: str) -> None:
    assert problem in faults(make_plan, text)[0]


def test_sizes_that_are_absurd_on_a_screen_only_are_cut_down(make_plan: MakePlan) -> None:
    header = "height: 900000vh, shadow: 0 0 900vh red, parts: {x: {text: a, size: 900vh}}"
    view = make_plan(plan_text(header=header)).view()
    style = view.at(0).header
    assert style is not None
    assert style.box.height == 16_384
    assert style.state.styles["x"].size == 2000
    assert view.pixels(0).shape == (600, 1000, 3)


def test_a_page_as_high_as_can_be_is_painted(make_plan: MakePlan) -> None:
    view = make_plan(
        plan_text(sections="a: {height: 900000px}", viewports="laptop: 100x600")
    ).view()
    assert view.max_scroll == 899_400
    assert view.at(500_000).sections["a"].top == -500_000
    assert view.frame(500_000).getextrema() == ((255, 255), (255, 255), (255, 255))
