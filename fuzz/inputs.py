"""What is tried: random values, plans, drawings, damaged files and command lines."""

from __future__ import annotations

import io
import random
import re
from importlib.resources import files as resources

import numpy as np
from hypothesis import strategies as st
from PIL import Image

UNITS = ["", "px", "%", "em", "vh", "vw", "deg", "ms", "s", "turn", "fr", "E9", "\\70 x"]


NUMBERS = st.one_of(
    st.integers(-1000, 1000).map(str),
    st.floats().map(repr),
    st.sampled_from(["1e308", "-1e308", "1e999", "0", "-0", ".5", "1e-320", "9" * 60, "+1", "1."]),
)


ATOMS = st.one_of(
    st.builds(str.__add__, NUMBERS, st.sampled_from(UNITS)),
    st.sampled_from(
        [
            "red",
            "#16213e",
            "transparent",
            "currentcolor",
            "auto",
            "none",
            "cover",
            "contain",
            "repeat",
            "round",
            "space",
            "left",
            "top",
            "center",
            "inherit",
            "ease",
            "linear",
            "steps",
            "cut",
            "fade",
            "blend",
            "smooth",
            "past",
            "reach",
            "ink",
            ",",
            "/",
            "+",
            "-",
            "*",
            "(",
            ")",
            ";",
            "}",
            "{",
            "!",
            "@import",
            "/*",
            "*/",
            "\\",
            "url(x)",
            "'a'",
            '"',
            "to",
            "in",
            "hsl",
            "longer",
            "hue",
            "from",
            "at",
            "closest-side",
            "45deg",
            "2px",
        ]
    ),
    st.text(max_size=4),
)


FUNCTIONS = st.sampled_from(
    [
        "calc",
        "min",
        "max",
        "clamp",
        "round",
        "rgb",
        "rgba",
        "hsl",
        "hwb",
        "lab",
        "lch",
        "oklab",
        "oklch",
        "color",
        "linear-gradient",
        "radial-gradient",
        "conic-gradient",
        "repeating-linear-gradient",
        "blur",
        "brightness",
        "hue-rotate",
        "drop-shadow",
        "cubic-bezier",
        "steps",
        "linear",
        "url",
        "var",
        "env",
        "color-mix",
    ]
)


VALUES = st.recursive(
    st.lists(ATOMS, max_size=6).map(" ".join),
    lambda inner: st.builds(
        lambda name, parts, joint: f"{name}({joint.join(parts)})",
        FUNCTIONS, st.lists(inner, max_size=5), st.sampled_from([", ", " ", " + "]),
    ),
    max_leaves=12,
)  # fmt: skip


SEEDS = [
    resources("rising_lantern.demo").joinpath("regatta.yaml").read_text("utf-8"),
    resources("rising_lantern.demo").joinpath("traps.yaml").read_text("utf-8"),
    resources("rising_lantern.start").joinpath("plan.yaml").read_text("utf-8"),
]


SMALL = """
rising-lantern: 1
viewports: {laptop: 300x200, phone: {size: 100x180, ratio: 2, touch: true}}
colors: {ink: "#16213e"}
headers:
  main: {height: 40px, over: true, parts: {brand: {image: logo.png, alt: A, width: 60px}, menu: {text: [One, Two]}},
         looks: {clear: {color: white}, solid: {from: past a, change: blend 50px, background: ink}}}
pages:
  page:
    sections:
      a: {height: 100vh, layers: [{image: photo.png, speed: 0.5}, {fill: "linear-gradient(ink, red)", opacity: 0.4}],
          content: [{text: Saltmere, at: 50% 50%, color: white, enter: {y: 10px}}], for: {phone: {height: 80vh}}}
      b: {height: 300px, background: ink, layers: [{image: drawn.svg, size: 40px auto, repeat: repeat}]}
      c: {height: 200px, width: 80%, border: 2px solid red}
"""


MUCH = """
rising-lantern: 1
viewports: {laptop: 300x200, phone: {size: 100x180, touch: true, from: 0}}
colors: {from: tokens.json, ink: "#16213e"}
pause: {text: Pause, icon-only: true}
headers:
  rows: {position: sticky, hold-space: true, rows: {top: {height: 20px, background: ink}, main: {height: 30px}}, gap: 4px,
         parts: {top: {text: [One], row: top}, menu: {text: [Two, Three], row: main, side: end}},
         looks: {whole: {}, short: {from: 60px}, gone: {from: 90px, going: down, after: 40px, rows: {top: {height: 0px}}}}}
  again: {like: rows, looks: {whole: {}, short: {from: past a, rows: {main: {background: red}}}}, show: {only: [other]}}
pages:
  page:
    lang: ar
    dir: rtl
    sections:
      a: {height: auto, padding: 9px, gap: 4px, columns: 1fr 2fr, layers: [{slides: [photo.png, {image: logo.png, tone: light}], every: 2s, change: fade 1s}],
          content: [{text: "One *two* here", links: {One: /a}, panel: {color: white, padding: 3px}}, {box: {padding: 4px, radius: 3px, background: ink, content: [{text: In}]}, at: 9% 9%}, {image: photo.png, width: 20px, alt: A}]}
      b: {like: a, height: 50vh, overlap: 20px, z: 1, for: {phone: {height: null}}}
  other: {like: page, title: Other, sections: {c: {height: 300px, background: ink}}}
"""


PIECES = st.one_of(
    VALUES,
    st.sampled_from(
        ["null", "true", "[]", "{}", "&a ", "*a", "!!python/object", "? ", "- ", "for: {phone: {}}", "|", ">-",
         "\t", "\n", "\u2028", "\x85", "{{", "}}", "<script>", "</style>", "../../etc/passwd", "photo.png", "1e9px",
         "speed: -100", "speed: 100", "drift: 90", "z: -9", "position: sticky", "inside: a", "arrive: slide",
         "path: [{at: 0px}, {at: 9px, scale: 20}]", "filter: blur(900px)", "blend: color-dodge", "repeat: round",
         "size: 1px", "size: 0", "like: a", "like: page", "like: rows", "row: none", "rows: {}", "rows: {top: {}}", "going: up",
         "after: 9px", "tone: dark", "slides: [photo.png]", "links: {One: /x}", "columns: 1fr", "icon-only: true", "height: 0px", "height: 900000px", "width: 1px", "under: {dark: clear}"]
    ),
    st.text(max_size=6),
)  # fmt: skip


EDITS = st.lists(
    st.tuples(st.floats(0, 1), st.sampled_from(["cut", "put", "swap", "twice", "value"]), st.integers(1, 60), PIECES),
    min_size=1, max_size=6,
)  # fmt: skip


def edited(text: str, edits: list[tuple[float, str, int, str]]) -> str:
    """A text with pieces taken out, put in, exchanged or doubled."""
    for where, how, size, piece in edits:
        place = int(where * len(text))
        match how:
            case "cut":
                text = text[:place] + text[place + size :]
            case "put":
                text = text[:place] + piece + text[place:]
            case "swap":
                text = text[:place] + piece + text[place + len(piece) :]
            case "twice":
                text = text[: place + size] + text[place : place + size] + text[place + size :]
            case _:
                start = text.find(": ", place) + 2
                stops = (text.find(sign, start) for sign in ",}\n]")
                end = min((stop for stop in stops if stop >= 0), default=len(text))
                text = text[:start] + piece.replace("\n", " ") + text[end:]
    return text


# Values that are allowed or nearly so, at their ends and beyond.
KEYS: dict[str, list[str]] = {
    "height": [
        "0px",
        "1px",
        "39.5px",
        "100vh",
        "calc(50vh + 3px)",
        "2900px",
        "0.1px",
        "min(30vh, 2em)",
    ],
    "speed": ["-100", "-1", "0", "0.001", "1", "1.5", "100"],
    "drift": ["-3", "0.4", "50"],
    "opacity": ["0", "0.003", "1"],
    "size": ["0 0", "1px", "0.3px 0.3px", "contain", "5000px", "auto 1px", "300% 1px", "1e-7px"],
    "repeat": ["round", "space", "repeat space", "no-repeat", "round repeat"],
    "position": ["0 0", "-900px 900px", "right 3px bottom 2px", "1e6px 0"],
    "at": ["0 0", "100% 100%", "-50px 300%", "calc(100% - 9px) 0"],
    "blend": ["multiply", "color-dodge", "luminosity", "hue", "difference", "plus-lighter"],
    "filter": [
        "blur(50px)",
        "blur(.01px) hue-rotate(90deg)",
        "brightness(0)",
        "contrast(99)",
        "drop-shadow(1px 1px red)",
    ],
    "fill": [
        "red",
        "transparent",
        "radial-gradient(circle at 50% 0, red, #0000 1px)",
        "conic-gradient(red, blue)",
        "repeating-linear-gradient(7deg, red 0 .1px, blue .1px .2px)",
        "linear-gradient(in oklch, red, lime)",
    ],
    "from": ["0px", "-5px", "past b", "reach c", "100%", "9999px", "past a - 10px"],
    "back": ["0px", "past a - 90px", "50%"],
    "change": [
        "cut",
        "fade 0s",
        "fade 60s 60s",
        "blend 1px",
        "blend 900px steps(3)",
        "blend 0.1px smooth 9s",
    ],
    "width": ["0px", "1px", "50%", "3000px", "12.5%"],
    "z": ["-9", "0", "99"],
    "border": ["0px solid red", "200px solid rgb(0 0 0 / .1)", "0.4px solid red"],
    "scale": ["0.001", "20", "1.5"],
    "color": [
        "transparent",
        "rgb(255 255 255 / .01)",
        "color(display-p3 1 0 0)",
        "lab(200 900 900)",
    ],
    "weight": ["1", "1000"],
    "leading": ["0.01", "10"],
}


MORE = ["", "position: sticky, ", "position: absolute, ", "position: static, hold-space: true, ", "blur: 30px, ", "top: -20px, ",
        "inside: b, ", "arrive: slide, ", "over: false, ", "width: 50%, ", "shadow: 0 0 90px 90px red, ", "padding: 900px, "]  # fmt: skip


VARIED = st.tuples(
    st.lists(
        st.sampled_from(list(KEYS)).flatmap(lambda key: st.tuples(st.just(key), st.sampled_from(KEYS[key]))),
        min_size=1, max_size=8,
    ),
    st.sampled_from(MORE), st.randoms(use_true_random=False),
)  # fmt: skip


RICH = """
rising-lantern: 1
viewports: {laptop: 300x200@2, phone: {size: 100x180, ratio: 1.5, touch: true}}
headers:
  main: {%s height: 40px, parts: {brand: {image: logo.png, alt: A, width: 60px}, menu: {text: [One, Two], size: 14px, color: white}},
         looks: {clear: {color: white}, solid: {from: past a, change: fade 50ms, background: red, border: 1px solid red}}}
pages:
  page:
    sections:
      a: {height: 100vh, layers: [{image: photo.png, speed: 0.5, drift: 0, size: cover, position: 0 0, repeat: repeat, opacity: 1, filter: blur(1px), blend: normal},
                                  {fill: "red", opacity: 0.4, path: [{at: 0px, scale: 1}, {at: 90px, scale: 2, opacity: 0}], size: 10px, repeat: round}],
          content: [{text: Saltmere, at: 50%% 50%%, size: 20px, color: white, weight: 400, leading: 1, speed: 1, z: 0, blend: normal, enter: {y: 10px, opacity: 0}}]}
      b: {height: 300px, width: 80%%, border: 1px solid red, z: 0, layers: [{image: drawn.svg, size: 40px auto, repeat: repeat, speed: 1}]}
      c: {height: 900px, z: 1, layers: [{image: photo.png, attachment: fixed, size: 50px, repeat: space}]}
"""


def varied(chosen: tuple[list[tuple[str, str]], str, random.Random]) -> str:
    """A plan that says much, with some of its values exchanged for odd ones."""
    values, more, dice = chosen
    text = RICH % more
    for key, odd in values:
        places = [found.span(1) for found in re.finditer(rf"\b{key}: ([^,}}\]]+)", text)]
        start, end = dice.choice(places) if places else (0, 0)
        text = text[:start] + (f'"{odd}"' if "," in odd else odd) * bool(end) + text[end:]
    return text


TAGS = st.sampled_from(
    [
        "g",
        "rect",
        "path",
        "circle",
        "use",
        "mask",
        "pattern",
        "clipPath",
        "filter",
        "feTurbulence",
        "feGaussianBlur",
        "feMorphology",
        "feConvolveMatrix",
        "feImage",
        "feFlood",
        "image",
        "text",
        "tspan",
        "symbol",
        "marker",
        "linearGradient",
        "stop",
        "svg",
        "style",
        "foreignObject",
        "animate",
        "switch",
        "defs",
    ]
)


NAMES = st.sampled_from(
    [
        "id",
        "href",
        "xlink:href",
        "width",
        "height",
        "x",
        "y",
        "r",
        "d",
        "fill",
        "stroke",
        "stroke-width",
        "stroke-dasharray",
        "mask",
        "filter",
        "clip-path",
        "transform",
        "viewBox",
        "numOctaves",
        "baseFrequency",
        "stdDeviation",
        "radius",
        "order",
        "opacity",
        "points",
        "patternUnits",
        "markerWidth",
        "preserveAspectRatio",
        "font-size",
        "style",
    ]
)


SETTINGS = st.one_of(
    NUMBERS,
    st.sampled_from(
        ["#a", "#b", "url(#a)", "url(#b)", "a", "b", "nan", "inf", "100%", "scale(1e9)", "rotate(45)", "0 0 1 1",
         "M0 0L9 9", "M0 0h1e9v1e9z", "M" + "0 0 " * 400, "file:///etc/passwd", "http://saltmere.invalid/a.png",
         "data:image/png;base64,iVBORw0KGgo", "data:image/svg+xml,<svg/>", "userSpaceOnUse", "1e-9", "0.001 0.001"]
    ),
)  # fmt: skip


ATTRIBUTES = st.dictionaries(NAMES, SETTINGS, max_size=5)


def _element(tag: str, attributes: dict[str, str], inner: list[str]) -> str:
    said = "".join(f' {name}="{text.replace(chr(34), "")}"' for name, text in attributes.items())
    return f"<{tag}{said}>{''.join(inner)}</{tag}>"


DRAWINGS = st.builds(
    lambda attributes, inner, deep: (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
        f"{''.join(f' {n}={chr(34)}{t}{chr(34)}' for n, t in attributes.items())}>"
        f"{'<g>' * deep}{''.join(inner)}{'</g>' * deep}</svg>"
    ),
    st.fixed_dictionaries({}, optional={"width": NUMBERS, "height": NUMBERS, "viewBox": SETTINGS}),
    st.lists(
        st.recursive(
            st.builds(_element, TAGS, ATTRIBUTES, st.just([])),
            lambda inner: st.builds(_element, TAGS, ATTRIBUTES, st.lists(inner, max_size=3)),
            max_leaves=10,
        ),
        max_size=6,
    ),
    st.sampled_from([0, 0, 0, 40, 78, 90, 3000]),
)


def _pictures() -> list[bytes]:
    rng = np.random.default_rng(2)
    noise = Image.fromarray(rng.integers(0, 255, (16, 24, 4), dtype=np.uint8))
    result = []
    for form in ("PNG", "JPEG", "WEBP", "GIF", "AVIF", "MPO"):
        data = io.BytesIO()
        noise.convert("RGB" if form in {"JPEG", "MPO"} else "RGBA").save(data, form)
        result.append(data.getvalue())
    moving = io.BytesIO()
    noise.save(moving, "GIF", save_all=True, append_images=[noise.rotate(90)] * 3)
    return [*result, moving.getvalue()]


PICTURES = _pictures()


FONT = (
    resources("rising_lantern.layout").joinpath("typefaces/SourceSansPro-Regular.ttf").read_bytes()
)


DAMAGE = st.lists(
    st.tuples(st.floats(0, 1), st.binary(max_size=8), st.integers(0, 12)), min_size=1, max_size=8
)


def damaged(data: bytes, damage: list[tuple[float, bytes, int]]) -> bytes:
    """Bytes with some of them replaced."""
    for where, put, taken in damage:
        place = int(where * len(data))
        data = data[:place] + put + data[place + taken :]
    return data


WORDS = st.one_of(
    st.sampled_from(
        [
            "check",
            "trace",
            "list",
            "tune",
            "compare",
            "preview",
            "new",
            "schema",
            "demo",
            "plan.yaml",
            "small.yaml",
            "none.yaml",
            ".",
            "out",
            "/dev/null",
            "/dev/full",
            "--page",
            "page",
            "none",
            "--viewport",
            "laptop",
            "--only",
            "gap",
            "--skip",
            "jump",
            "--format",
            "json",
            "sarif",
            "text",
            "-o",
            "x.csv",
            "x.json",
            "x.png",
            "out",
            "--quiet",
            "--force",
            "--set",
            "headers.main.height=10px",
            "pages.page.sections.a.height=1px",
            "a=b",
            "=",
            "--vary",
            "headers.main.height=1px,2px",
            "--every",
            "1e-9",
            "0",
            "nan",
            "10",
            "--of",
            "layers",
            "header",
            "values",
            "switches",
            "pictures",
            "--at",
            "0,100",
            "--going",
            "up",
            "--faults",
            "json",
            "--contrast",
            "AAA",
            "--range",
            "headers.main.height",
            "--write",
            "--take",
            "1",
            "--help",
            "--explain",
            "all",
            "--version",
            "-h",
            "--",
            "-",
        ]
    ),
    VALUES,
    st.text(max_size=5),
)
