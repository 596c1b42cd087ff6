"""The page of a proof: what browsers say, and the worst pairs of pictures side by side."""

from __future__ import annotations

import base64
import io
from collections.abc import Iterator, Mapping, Sequence
from importlib.resources import files
from typing import Any

import jinja2
import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes
from rising_lantern.exports.fonts import subset_font
from rising_lantern.layout.fonts import FontBook
from rising_lantern.proofs.results import Pair, ViewProof

_MOST_PAIRS = 6
_MOST_SHOWN = 20  # disagreements of one view
_WIDEST = 640  # px of a picture
_LOUDER = 8  # times: differences are small
_TEMPLATE = "proof.html.j2"
_LETTERS = "".join(map(chr, [*range(32, 127), *range(160, 384), 0x2013, 0x2014, 0x2019, 0x201C]))


def proof_page(
    title: str, views: Sequence[ViewProof], missing: Mapping[str, tuple[str, ...]]
) -> str:
    """The page as HTML, complete in one file.

    Args:
        title: The plan's title.
        views: Each page at each viewport in each browser.
        missing: The programs that were not there, by the engine that needs them.
    """
    environment = jinja2.Environment(autoescape=True, undefined=jinja2.StrictUndefined)
    template = environment.from_string(files(__package__).joinpath(_TEMPLATE).read_text("utf-8"))
    return template.render(
        title=title or "Untitled plan",
        verdict=_verdict(views),
        absent=list(_absent(missing)),
        rows=[_row(view) for view in views],
        failing=[_failing(view) for view in views if not view.agrees],
        pairs=[_shown(view, view.worst) for view in _worst(views) if view.worst],
        fonts=_fonts(),
    )


def _verdict(views: Sequence[ViewProof]) -> str:
    """What comes of it in a sentence."""
    count, failing = len(views), sum(not view.agrees for view in views)
    browsers = ", ".join(dict.fromkeys(view.engine for view in views))
    if not failing:
        where = f", in all of {count} views" if count > 1 else ""
        return f"{browsers}: the page does what was planned{where}."
    who = f"{failing} of {count} views" if count > 1 else "the view"
    does = "does" if failing == 1 else "do"
    return f"{browsers}: {who} {does} something else than was planned."


def _absent(missing: Mapping[str, tuple[str, ...]]) -> Iterator[str]:
    """Which browsers were not there."""
    for name, programs in missing.items():
        yield f"{name} was not tried: {', '.join(programs)} cannot be found."


def _row(view: ViewProof) -> dict[str, Any]:
    count = len(view.found)
    result = "agrees" if view.agrees else f"{count} disagreement{'s' * (count != 1)}"
    return {
        "page": view.page,
        "viewport": view.viewport,
        "engine": view.browser,
        "positions": view.positions,
        "shift": "not counted" if view.shift is None else f"{view.shift:.3f}",
        "task": _task_words(view),
        "difference": f"{view.worst.difference:.2f} of 255" if view.worst else "not compared",
        "agrees": view.agrees,
        "result": result,
    }


def _task_words(view: ViewProof) -> str:
    """The longest task; only engines that count layout shift count tasks too."""
    if view.shift is None:
        return "not counted"
    return f"{view.task_ms:.0f} ms" if view.task_ms else "none above 50 ms"


def _name(view: ViewProof) -> str:
    return f"{view.page} on {view.viewport} in {view.browser}"


def _failing(view: ViewProof) -> dict[str, Any]:
    worst = sorted(view.found, key=lambda item: -item.by)[:_MOST_SHOWN]
    return {
        "name": _name(view),
        "causes": view.causes,
        "found": [
            {
                "what": item.what,
                "measure": item.measure,
                "at": f"{item.scroll:.0f} px, going {item.going}",
                "expected": item.expected,
                "found": item.found,
            }
            for item in worst
        ],
    }


def _worst(views: Sequence[ViewProof]) -> list[ViewProof]:
    """The views whose pictures differ most, the worst first."""
    pictured = [view for view in views if view.worst]
    return sorted(pictured, key=_difference, reverse=True)[:_MOST_PAIRS]


def _difference(view: ViewProof) -> float:
    return view.worst.difference if view.worst else 0.0


def _shown(view: ViewProof, pair: Pair) -> dict[str, Any]:
    apart = np.abs(pair.shot.astype(np.int16) - pair.frame)
    louder = np.minimum(apart * _LOUDER, 255).astype(np.uint8)
    pictures = {
        "Browser": pair.shot,
        "Prediction": pair.frame,
        f"Difference, {_LOUDER} times as strong": louder,
    }
    return {
        "name": _name(view),
        "words": f"At {pair.scroll:.0f} px, going {pair.going}: {pair.difference:.2f} of 255 on "
        "the average of all pixels.",
        "pictures": [_picture(words, pixels) for words, pixels in pictures.items()],
    }


def _picture(words: str, pixels: Bytes) -> dict[str, Any]:
    image = Image.fromarray(np.ascontiguousarray(pixels))
    if image.width > _WIDEST:
        image = image.resize((_WIDEST, round(image.height * _WIDEST / image.width)))
    packed = io.BytesIO()
    image.save(packed, "webp", quality=82)
    data = base64.b64encode(packed.getvalue()).decode()
    return {
        "words": words,
        "data": f"data:image/webp;base64,{data}",
        "width": image.width,
        "height": image.height,
    }


def _fonts() -> dict[str, str]:
    book = FontBook({})
    faces = {"sans": ("sans", 400), "bold": ("sans", 600), "serif": ("serif", 600)}
    packed = {name: subset_font(book.file(*face), _LETTERS) for name, face in faces.items()}
    return {
        name: f"data:font/woff2;base64,{base64.b64encode(data).decode()}"
        for name, data in packed.items()
    }
