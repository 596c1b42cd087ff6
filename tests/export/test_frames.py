"""Frames, against screenshots of pages written by hand."""

from __future__ import annotations

import math
from dataclasses import dataclass
from pathlib import Path
from typing import get_args

import numpy as np
import pytest
from numpy.typing import NDArray

from chromium import Chromium
from pages import write_page
from plans import MakePlan, plan_text
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import parse_color
from rising_lantern.proofs.serving import served
from thorough import some

pytestmark = pytest.mark.browser

WIDTH, HEIGHT = 800, 500
_HEAD = (
    "<!doctype html><style>*{margin:0}div{position:relative;overflow:clip}"
    "i{position:absolute;left:0;right:0;top:0}</style>"
)


@dataclass(frozen=True)
class Reference:
    """A plan and a page that was written by hand to look like it."""

    sections: str
    html: str
    header: str = ""
    script: str = ""
    background: str = "white"
    under: str = ""


def moving(speed: float, picture: str, drift: float = 0.0) -> Reference:
    """A section of 700 px at 300 px whose picture moves at a speed, written with a script.

    The page of 1400 px scrolls from r = -300 to 600. The area is found there by looking at every
    px; for speeds of 0 to 1 it is written down. Where the section is centred, at r = 100, the
    picture is as well.
    """
    if 0 <= speed <= 1 and not drift:
        area = f"height:{speed * 700 + (1 - speed) * HEIGHT}px;background:url({picture}) 50%/cover"
    else:
        r = np.arange(-300, 601)
        high = (np.minimum(HEIGHT, 700 - r) + speed * r).max()
        low = (np.maximum(0, -r) + speed * r).min()
        right, left = (drift * r).max(), (drift * r).min()
        scale = max((WIDTH + right - left) / 600, (high - low) / 400)
        wide, tall = 600 * scale, 400 * scale
        x = min(max((WIDTH - wide) / 2 - 100 * drift, WIDTH - left - wide), -right)
        y = min(max(250 - tall / 2 + 100 * speed, high - tall), low)
        area = (
            f"top:{y}px;height:{tall}px;left:{x}px;right:auto;width:{wide}px;"
            f"background:url({picture}) 0 0/100% 100%"
        )
    return Reference(
        f"x: {{height: 300px, background: '#345'}}, a: {{height: 700px, layers: [{{image: {picture}, "
        f"speed: {speed}, drift: {drift}}}]}}, y: {{height: 400px, background: '#fed'}}",
        f"<div style='height:300px;background:#345'></div><div style='height:700px'><i id=m style='{area}'>"
        "</i></div><div style='height:400px;background:#fed'></div>",
        script=(
            f"onscroll=()=>{{let r=scrollY-300;m.style.transform=`translate(${{{drift}*r}}px,"
            f"${{(1-({speed}))*r}}px)`}};onscroll()"
        ),
    )


def still(style: str, layer: str) -> Reference:
    """A section of 700 px between two others, with one background."""
    return Reference(
        f"x: {{height: 300px, background: '#345'}}, a: {{height: 700px, layers: [{layer}]}}, "
        "y: {height: 400px, background: '#fed'}",
        "<div style='height:300px;background:#345'></div>"
        f"<div style=\"height:700px;{style}\"></div><div style='height:400px;background:#fed'></div>",
    )


# Pages whose pixels are not resampled: the mean difference is below 1, and nearly all are exact.
EXACT = {
    "colours and alpha": Reference(
        "a: {height: 700px, background: '#1234', layers: [{fill: rgb(200 80 40 / .37)}]}, b: {height: 600px}",
        "<div style='height:700px;background:linear-gradient(#c850285e,#c850285e),#1234'></div>"
        "<div style='height:600px'></div>",
    ),
    "a picture of natural size": still(
        "background:#999 url(photo.png) 20px 30px no-repeat",
        "{image: photo.png, size: auto, position: 20px 30px}, {fill: '#999'}",
    ),
    "copies": still(
        "background:url(logo-dark.png) 7px 11px",
        "{image: logo-dark.png, size: auto, position: 7px 11px, repeat: repeat}",
    ),
    "copies along x": still(
        "background:url(logo-dark.png) 50% 100% repeat-x",
        "{image: logo-dark.png, size: auto, position: 50% 100%, repeat: repeat-x}",
    ),
    "a picture between the px": still(
        "background:url(photo.png) 20.5px 30.3px no-repeat",
        "{image: photo.png, size: auto, position: 20.5px 30.3px}",
    ),
    "a fixed picture between the px": still(
        "background:url(photo.png) 20.5px 30.3px no-repeat fixed",
        "{image: photo.png, size: auto, position: 20.5px 30.3px, attachment: fixed}",
    ),
    "a fixed picture of natural size": still(
        "background:url(photo.png) 50% 40% no-repeat fixed",
        "{image: photo.png, size: auto, position: 50% 40%, attachment: fixed}",
    ),
    "fixed copies": still(
        "background:url(noise.png) 0 0 fixed",
        "{image: noise.png, size: auto, position: 0 0, repeat: repeat, speed: 0}",
    ),
    "a gradient at an angle": still(
        "background:linear-gradient(105deg,#f4a25980,#16213e 40%,teal)",
        "{fill: 'linear-gradient(105deg, #f4a25980, #16213e 40%, teal)'}",
    ),
    "a gradient to a corner with a hint": still(
        "background:linear-gradient(to top right,#fff,20%,#16213e)",
        "{fill: 'linear-gradient(to top right, #fff, 20%, #16213e)'}",
    ),
    "a radial gradient": still(
        "background:radial-gradient(circle at 30% 40%,#f4a259,#16213e80 60%,teal)",
        "{fill: 'radial-gradient(circle at 30% 40%, #f4a259, #16213e80 60%, teal)'}",
    ),
    "an ellipse to the closest corner": still(
        "background:radial-gradient(closest-corner at 70% 20%,#fff,#16213e)",
        "{fill: 'radial-gradient(closest-corner at 70% 20%, #fff, #16213e)'}",
    ),
    "repeating rings": still(
        "background:repeating-radial-gradient(60px 30px,#fdf6e3,#16213e)",
        "{fill: 'repeating-radial-gradient(60px 30px, #fdf6e3, #16213e)'}",
    ),
    "a conic gradient": still(
        "background:conic-gradient(from 40deg at 60% 50%,#f4a259,#16213e 200deg,#f4a259)",
        "{fill: 'conic-gradient(from 40deg at 60% 50%, #f4a259, #16213e 200deg, #f4a259)'}",
    ),
    "a gradient of a width only": still(
        "background:linear-gradient(#f4a259,#16213e) 40px 0/200px auto no-repeat",
        "{fill: 'linear-gradient(#f4a259, #16213e)', size: 200px auto, position: 40px 0}",
    ),
    "a repeating gradient": still(
        "background:repeating-linear-gradient(90deg,#16213e 0 20px,#fdf6e3 20px 50px)",
        "{fill: 'repeating-linear-gradient(90deg, #16213e 0 20px, #fdf6e3 20px 50px)'}",
    ),
    "a tint over a picture": still(
        "background:linear-gradient(#0008,#0000),url(photo.png)",
        "{fill: 'linear-gradient(#0008, #0000)'}, {image: photo.png, size: auto, position: 0 0, repeat: repeat}",
    ),
    "a header with alpha and a shadow": Reference(
        "a: {height: 700px, background: '#8a6'}, b: {height: 600px, background: '#246'}",
        "<header style='position:fixed;left:0;right:0;top:10px;height:60px;z-index:2;"
        "background:rgba(255,255,255,.6);box-shadow:0 4px 16px rgba(0,0,0,.5)'></header>"
        "<div style='height:700px;background:#8a6'></div><div style='height:600px;background:#246'></div>",
        header="height: 60px, top: 10px, background: rgb(255 255 255 / .6), shadow: 0 4px 16px rgb(0 0 0 / .5)",
    ),
    "a narrow header's shadow at its sides": Reference(
        "a: {height: 700px, background: '#8a6'}, b: {height: 600px, background: '#246'}",
        "<header style='position:fixed;left:150px;width:500px;top:30px;height:60px;z-index:2;"
        "background:rgba(255,255,255,.3);box-shadow:0 0 20px 6px rgba(0,0,0,.7)'></header>"
        "<div style='height:700px;background:#8a6'></div><div style='height:600px;background:#246'></div>",
        header="height: 60px, top: 30px, width: 500px, background: rgb(255 255 255 / .3), shadow: 0 0 20px 6px rgb(0 0 0 / .7)",
    ),
    "a logo of natural size": Reference(
        "a: {height: 700px, background: '#8a6'}, b: {height: 600px, background: '#246'}",
        "<header style='position:sticky;top:0;height:80px;z-index:2;background:#fff;display:flex;"
        "align-items:center;padding:0 32px'><img src=logo-dark.png></header>"
        "<div style='height:700px;background:#8a6'></div><div style='height:600px;background:#246'></div>",
        header="position: sticky, height: 80px, background: white, parts: {x: {image: logo-dark.png}}",
    ),
    "a panel with round corners": Reference(
        "a: {height: 700px, background: '#8a6', content: [{text: ' ', size: 20px, width: 200px, at: 50% 50%,"
        "panel: {color: rgb(255 255 255 / .7), padding: 60px, radius: 24px}}]}, b: {height: 600px}",
        "<div style='height:700px;background:#8a6'><i style='left:340px;right:auto;width:120px;top:276px;"
        "height:148px;border-radius:24px;background:rgba(255,255,255,.7)'></i></div><div style='height:600px'></div>",
    ),
}

for _filter in (
    "brightness(.6)", "contrast(1.4)", "grayscale(.7)", "hue-rotate(70deg)", "invert(.8)",
    "opacity(.5)", "saturate(1.6)", "sepia(.9)", "brightness(.8) contrast(1.2) saturate(1.3)",
):  # fmt: skip
    EXACT[f"filter {_filter}"] = Reference(
        f"a: {{height: 700px, layers: [{{image: photo.png, size: auto, position: 0 0, filter: {_filter}}}]}}, "
        "b: {height: 400px, background: '#fed'}",
        f"<div style='height:700px'><i style='height:700px;background:url(photo.png) no-repeat;filter:{_filter}'>"
        "</i></div><div style='height:400px;background:#fed'></div>",
    )

_BELOW = "<div style='height:400px;background:#fed'></div>"
for _blend in get_args(BlendMode):
    EXACT[f"blend {_blend}"] = Reference(
        f"a: {{height: 700px, layers: [{{image: noise.png, size: auto, position: 90px 60px, blend: {_blend}}}, "
        "{image: photo.png, size: auto, position: 0 0, repeat: repeat}]}, b: {height: 400px, background: '#fed'}",
        "<div style='height:700px;background:url(photo.png)'><i style='height:700px;"
        f"background:url(noise.png) 90px 60px no-repeat;mix-blend-mode:{_blend}'></i></div>{_BELOW}",
    )
_BOXED = (
    "<div style='height:120px'></div><div style='width:500px;height:600px;margin:0 auto;{}'>{}</div>"
    "<div style='height:500px'></div>"
)
_PAGE = "{image: photo.png, size: auto, position: 30px 20px, attachment: fixed}"
_FIXED = "body{background:#cde url(photo.png) 30px 20px no-repeat fixed}"
EXACT |= {
    "a boxed panel over the page's fixed background": Reference(
        "a: {height: 120px}, b: {height: 600px, width: 500px, background: '#1238'}, c: {height: 500px}",
        f"<style>{_FIXED}</style>" + _BOXED.format("background:#1238", ""),
        background="#cde",
        under=_PAGE,
    ),
    "a blend in a transparent section": Reference(
        "a: {height: 120px}, b: {height: 600px, width: 500px, layers: [{fill: '#c96', blend: multiply}]}, c: {height: 500px}",
        f"<style>{_FIXED}</style>"
        + _BOXED.format("", "<i style='height:600px;background:#c96;mix-blend-mode:multiply'></i>"),
        background="#cde",
        under=_PAGE,
    ),
    "a blend that a stacking context keeps in": Reference(
        "a: {height: 120px}, b: {height: 600px, width: 500px, z: 2, layers: [{image: noise.png, size: auto, position: 0 0, "
        "blend: difference}, {fill: 'linear-gradient(to right, #c968 50%, #0000 50%)'}]}, c: {height: 500px}",
        f"<style>{_FIXED}</style>"
        + _BOXED.format(
            "z-index:2;background:linear-gradient(to right,#c968 50%,#0000 50%)",
            "<i style='height:600px;background:url(noise.png) no-repeat;mix-blend-mode:difference'></i>",
        ),
        background="#cde",
        under=_PAGE,
    ),
    "a border over a pattern": Reference(
        "a: {height: 700px, width: 620px, border: 12.6px solid rgb(200 40 40 / .5), layers: [{image: logo-dark.png, "
        "size: auto, position: 0 0, repeat: repeat}, {fill: '#ee9', clip: padding-box}]}, b: {height: 400px, background: '#fed'}",
        "<div style='box-sizing:border-box;height:700px;width:620px;margin:0 auto;border:12.6px solid rgb(200 40 40/.5);"
        "background:url(logo-dark.png),linear-gradient(#ee9,#ee9) padding-box'></div>" + _BELOW,
    ),
    "a border with the other origin and clip": Reference(
        "a: {height: 700px, border: 20px solid rgb(64 128 128 / .5), layers: [{image: photo.png, size: auto, position: 0 0, "
        "origin: border-box, clip: padding-box}]}, b: {height: 400px, background: '#fed'}",
        "<div style='box-sizing:border-box;height:700px;border:20px solid rgb(64 128 128/.5);"
        "background:url(photo.png) no-repeat border-box;background-clip:padding-box'></div>"
        + _BELOW,
    ),
    "a vector drawn at its own size and larger": Reference(
        "a: {height: 700px, layers: [{image: flag.svg, size: auto, position: 20px 30px}, "
        "{image: flag.svg, size: 400px auto, position: 300px 100px}]}, b: {height: 400px, background: '#fed'}",
        "<div style='height:700px;background:url(flag.svg) 20px 30px no-repeat,"
        f"url(flag.svg) 300px 100px/400px auto no-repeat'></div>{_BELOW}",
    ),
    "a header that blurs what is behind it": Reference(
        "a: {height: 700px, layers: [{image: photo.png, size: auto, position: 0 0, repeat: repeat}]}, b: {height: 600px}",
        "<header style='position:fixed;left:0;right:0;top:20px;height:90px;width:600px;margin:0 auto;z-index:2;"
        "background:rgba(255,255,255,.3);backdrop-filter:blur(8px);border:4px solid #fff8;box-sizing:border-box'></header>"
        "<div style='height:700px;background:url(photo.png)'></div><div style='height:600px'></div>",
        header=(
            "height: 90px, top: 20px, width: 600px, background: rgb(255 255 255 / .3), blur: 8px, border: 4px solid '#fff8'"
        ).replace("'#fff8'", "rgb(255 255 255 / .533)"),
    ),
    "a header with a gradient, above the first section": Reference(
        "a: {height: 700px, background: '#8a6'}, b: {height: 600px, background: '#246'}",
        "<header style='position:fixed;left:0;right:0;top:0;height:90px;z-index:2;"
        "background:linear-gradient(to right,#f4a25980,#16213e)'></header><div style='height:90px'></div>"
        "<div style='height:700px;background:#8a6'></div><div style='height:600px;background:#246'></div>",
        header="height: 90px, over: false, background: 'linear-gradient(to right, #f4a25980, #16213e)'",
    ),
    "a section above the header": Reference(
        "a: {height: 300px, background: '#8a6'}, b: {height: 300px, background: '#246', z: 20, content: "
        "[{text: ' ', width: 100px, at: 0 0, panel: {color: '#f00', padding: 50px}}]}, c: {height: 700px, background: '#fed', "
        "content: [{text: ' ', width: 100px, at: 0 0, panel: {color: '#0f08', padding: 50px}, z: 12}]}",
        "<header style='position:fixed;left:0;right:0;top:0;height:90px;z-index:10;background:#fff'></header>"
        "<div style='height:300px;background:#8a6'></div><div style='height:300px;background:#246;z-index:20'>"
        "<i style='width:100px;height:125px;background:#f00;right:auto'></i></div>"
        "<div style='height:700px;background:#fed'><i style='width:100px;height:125px;background:#0f08;right:auto;"
        "z-index:12'></i></div>",
        header="height: 90px, background: white",
    ),
    "a fixed picture that fades with its section": Reference(
        "a: {height: 700px, background: '#123', layers: [{image: photo.png, size: auto, position: 20px 30px, attachment: fixed, "
        "path: [{at: 100px}, {at: past a, opacity: 0}]}]}, b: {height: 800px, background: '#fed'}",
        "<div style='height:700px;background:#123'><i id=m style='height:700px;background:url(photo.png) 20px 30px "
        "no-repeat fixed'></i></div><div style='height:800px;background:#fed'></div>",
        script="onscroll=()=>{m.style.opacity=1-Math.min(Math.max((scrollY-100)/600,0),1)};onscroll()",
    ),
}

# Pages with resampled photographs: the mean difference is below 3.
RESAMPLED = {
    "a blurred picture": Reference(
        "a: {height: 700px, layers: [{image: photo.png, filter: blur(6px)}]}, b: {height: 400px}",
        "<div style='height:700px'><i style='height:700px;background:url(photo.png) 50% 50%/cover;"
        "filter:blur(6px)'></i></div><div style='height:400px'></div>",
    ),
    "spaced copies": still(
        "background:url(logo-dark.png) 0 0 space",
        "{image: logo-dark.png, size: auto, position: 0 0, repeat: space}",
    ),
    "copies between the px": still(
        "background:url(logo-dark.png) 20.5px 30.3px",
        "{image: logo-dark.png, size: auto, position: 20.5px 30.3px, repeat: repeat}",
    ),
    "cover": still("background:url(photo.png) 50% 50%/cover", "{image: photo.png}"),
    "cover, of noise": still(
        "background:url(noise.png) 20% 70%/cover", "{image: noise.png, position: 20% 70%}"
    ),
    "contain": still(
        "background:url(photo.png) 30% 80%/contain no-repeat",
        "{image: photo.png, size: contain, position: 30% 80%}",
    ),
    "a reduced picture": still(
        "background:url(photo.png) 10px 10px/210px auto",
        "{image: photo.png, size: 210px auto, position: 10px 10px, repeat: repeat}",
    ),
    "fixed cover": still(
        "background:url(photo.png) 50% 50%/cover fixed", "{image: photo.png, attachment: fixed}"
    ),
    "fixed contain": still(
        "background:url(photo.png) 100% 0/contain no-repeat fixed",
        "{image: photo.png, size: contain, position: 100% 0, attachment: fixed}",
    ),
    "speed 0": moving(0, "photo.png"),
    "speed 0.25": moving(0.25, "photo.png"),
    "speed 0.5": moving(0.5, "photo.png"),
    "speed 0.8": moving(0.8, "photo.png"),
    "speed 1": moving(1, "photo.png"),
    "speed 1.4": moving(1.4, "photo.png"),
    "speed -0.3": moving(-0.3, "photo.png"),
    "drift": moving(1, "photo.png", 0.25),
    "drift to the left at speed 0.4": moving(0.4, "photo.png", -0.15),
}

_PATH = (
    "let y=0,x=0,k=1,s=scrollY,p=Math.min(Math.max((s-200)/400,0),1);x=-60*p;y=120*p;k=1+.5*p;"
    "if(s<200)y=.5*(s-200);if(s>600)y+=-.25*(s-600);"
)
RESAMPLED |= {
    "a path of places and sizes": Reference(
        "x: {height: 300px, background: '#345'}, a: {height: 700px, background: '#123', layers: [{image: photo.png, "
        "size: 300px auto, position: 50% 20%, before: .5, after: 1.25, "
        "path: [{at: 200px}, {at: 600px, x: -60px, y: 120px, scale: 1.5}]}]}, y: {height: 400px, background: '#fed'}",
        "<div style='height:300px;background:#345'></div><div style='height:700px;background:#123'><i id=m style="
        "'left:250px;top:100px;width:300px;height:200px;background:url(photo.png) 0 0/cover'></i></div>"
        "<div style='height:400px;background:#fed'></div>",
        # It grows about the middle of its area, which the script of the page asks of the plan.
        script=f"onscroll=()=>{{{_PATH}m.style.transformOrigin='ORIGIN';m.style.transform="
        "`translate(${x}px,${y}px) scale(${k})`};onscroll()",
    ),
}


def differences(
    reference: Reference, chromium: Chromium, make_plan: MakePlan, folder: Path
) -> list[NDArray[np.int_]]:
    """The differences of frames and screenshots at five positions and more."""
    text = plan_text(
        viewports=f"s: {WIDTH}x{HEIGHT}",
        sections=reference.sections,
        header=reference.header,
        background=reference.background,
        under=reference.under,
    )
    view = make_plan(text).view()
    motion = view.scene.box.sections[-2].layers[0].motion if "ORIGIN" in reference.script else None
    script = reference.script
    if motion:
        middle = (motion.left + motion.width / 2 - 250, motion.top + motion.height / 2 - 100)
        script = script.replace("ORIGIN", f"{middle[0]}px {middle[1]}px")
    page = f"{_HEAD}{reference.html}<script>{script}</script>"
    (folder / "reference.html").write_text(page, "utf-8")
    found = []
    with served(folder) as url:
        chromium.open(f"{url}/reference.html", WIDTH, HEIGHT)
        for share in (0, 0.2, 0.35, 0.5, 0.75, 1):
            scroll = math.floor(view.max_scroll * share / 20) * 20
            assert chromium.scroll(scroll) == scroll
            found.append(np.abs(chromium.screenshot().astype(int) - view.pixels(scroll)))
    return found


@pytest.mark.parametrize("name", some(EXACT, 9))
def test_frames_are_screenshots_where_nothing_is_resampled(
    chromium: Chromium, make_plan: MakePlan, folder: Path, name: str
) -> None:
    for difference in differences(EXACT[name], chromium, make_plan, folder):
        assert difference.mean() < 1
        assert (difference.max(axis=-1) <= 2).mean() > 0.99


@pytest.mark.parametrize("name", some(RESAMPLED, 6))
def test_frames_are_near_screenshots_of_resampled_photographs(
    chromium: Chromium, make_plan: MakePlan, folder: Path, name: str
) -> None:
    for difference in differences(RESAMPLED[name], chromium, make_plan, folder):
        assert difference.mean() < 3


COLORS = [
    "rebeccapurple", "#16213e80", "rgb(20% 40% 60%)", "hsl(200 40% 50%)", "hwb(90 20% 30%)",
    "lab(50% 40 -30)", "lch(60% 40 120)", "oklab(60% 0.1 -0.1)", "oklch(70% 0.1 80)",
    "color(srgb .2 .4 .6)", "color(srgb-linear .2 .4 .6)", "color(display-p3 .3 .5 .4)",
    "color(a98-rgb .3 .5 .4)", "color(prophoto-rgb .4 .5 .4)", "color(rec2020 .4 .5 .4)",
    "color(xyz .2 .25 .3)", "color(xyz-d50 .2 .25 .2)",
    *(
        f"color-mix(in {space}, #16213e 30%, rgb(244 162 89 / .8))"
        for space in (
            "srgb", "srgb-linear", "lab", "oklab", "xyz", "xyz-d50", "hsl", "hwb", "lch", "oklch",
        )
    ),
    *(f"color-mix(in oklch {way} hue, #c03020, #2040c0)" for way in ("longer", "increasing")),
    *(f"color-mix(in hsl {way} hue, #c03020, #20c040)" for way in ("shorter", "decreasing")),
    "color-mix(in oklch, white, rebeccapurple 60%)", "color-mix(in srgb, red 20%, blue 30%)",
    "color-mix(in oklab, color(display-p3 0 1 0), blue)",
    "color-mix(in lch, color-mix(in srgb, red, blue), hsl(200 40% 50%) 10%)",
    "rgb(from #16213e r g b / .5)", "rgb(from #16213e calc(r * 3) 50% 20)",
    "hsl(from #f4a259 calc(h + 120) s calc(l - 10))", "hwb(from #f4a259 h calc(w / 2) 20%)",
    "lab(from #f4a259 l a calc(b * -1))", "lch(from #f4a259 50 c 1turn)",
    "oklab(from #f4a259 calc(l * .8) a b / alpha)", "oklch(from #f4a259 .5 min(c, .1) h)",
    "color(from #f4a259 display-p3 r g calc(b + .2))", "color(from #f4a259 xyz x y z)",
    "light-dark(#f4a259, black)",
]  # fmt: skip


def test_colours_are_painted_as_in_the_browser(chromium: Chromium, folder: Path) -> None:
    """Every space of CSS Color 4, and colours made from others, on white, at one pixel each."""
    cells = "".join(
        f"<b style='float:left;width:20px;height:20px;background:{c}'></b>" for c in COLORS
    )
    (folder / "colors.html").write_text(f"<style>*{{margin:0}}</style>{cells}", "utf-8")
    with served(folder) as url:
        chromium.open(f"{url}/colors.html", 20 * len(COLORS), 100)
        shot = chromium.screenshot()[10, 10::20].astype(int)
    for text, found in zip(COLORS, shot, strict=True):
        color = parse_color(text)
        painted = [255 * (c * color.alpha + 1 - color.alpha) for c in color.rgba[:3]]
        assert np.abs(found - painted).max() <= 1.5, text


@pytest.mark.parametrize(
    ("color", "background"),
    [("black", "white"), ("white", "black"), ("#16213e", "#fdf6e3"), ("#f4a259", "#0b1026")],
)
def test_letters_are_as_heavy_as_in_the_browser(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, color: str, background: str
) -> None:
    """The ink of a line is the sum of what its letters cover."""
    lines = [(16, "sans"), (18, "serif"), (22, "sans"), (28, "serif"), (40, "sans"), (64, "serif")]
    content = ", ".join(
        f"{{text: Four hundred boats and a lantern, size: {size}px, font: {font}, "
        f"color: '{color}', at: 20px {10 + 90 * place}px}}"
        for place, (size, font) in enumerate(lines)
    )
    section = f"a: {{height: 600px, background: '{background}', content: [{content}]}}"
    view = make_plan(plan_text(sections=section)).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        shot = chromium.screenshot().astype(float)
    text, ground = (np.array(parse_color(item).bytes[:3], float) for item in (color, background))
    drawn = [
        (pixels - ground) @ (text - ground) / ((text - ground) @ (text - ground))
        for pixels in (shot, view.pixels(0).astype(float))
    ]
    for place, _ in enumerate(lines):
        theirs, ours = (item[90 * place : 90 * place + 90] for item in drawn)
        assert ours.sum() == pytest.approx(theirs.sum(), rel=0.03)
        assert np.abs(ours - theirs).sum() < 0.09 * theirs.sum()
