"""The preview page as one file: markup, style, script and data, with nothing beside it."""

from __future__ import annotations

import base64
import json
from collections.abc import Iterable, Mapping
from functools import cache
from importlib.resources import files
from typing import Any

import jinja2
from markupsafe import Markup

from rising_lantern.exports.fonts import subset_font
from rising_lantern.layout.fonts import FontBook
from rising_lantern.plan.files.source_files import SourceFile

_FOLDER = "interface"
_MAIN = "main.js"
_FACES = (("sans", 400), ("sans", 600), ("serif", 600))
_SETTERS = "".join(map(chr, [*range(0x20, 0x7F), *range(0xA0, 0x180)])) + "–—‘’“”…×→"

# Machado, Oliveira and Fernandes: A Physiologically-based Model for Simulation of Color Vision
# Deficiency (2009), at severity 1, on linear RGB.
_SIGHTS = {
    "protan": "0.152286 1.052583 -0.204868 0.114503 0.786281 0.099216 -0.003882 -0.048116 1.051998",
    "deutan": "0.367322 0.860646 -0.227968 0.280085 0.672501 0.047413 -0.011820 0.042940 0.968881",
    "tritan": "1.255528 -0.076749 -0.178779 -0.078411 0.930809 0.147602 0.004733 0.691367 0.303900",
}


def preview_html(title: str, data: Mapping[str, Any] | None, nonce: str = "") -> str:
    """The preview page.

    Args:
        title: The plan's title.
        data: What it shows, as plain data; None for a page that asks a server for it.
        nonce: The nonce of a Content-Security-Policy that its style and script are allowed by.
    """
    environment = jinja2.Environment(autoescape=True, undefined=jinja2.StrictUndefined)
    template = environment.from_string(interface_file("preview.html.j2"))
    return template.render(
        title=title or "Untitled plan",
        css=Markup(interface_css()),  # noqa: S704 - our own files
        script=Markup(interface_script()),  # noqa: S704 - as above
        data=Markup(embedded_json(data)) if data is not None else None,  # noqa: S704 - escaped
        sights={name: _matrix(values) for name, values in _SIGHTS.items()},
        nonce=nonce,
    )


def embedded_json(data: Mapping[str, Any]) -> str:
    """Data as JSON that no text in it can leave: no ``<`` is in it as itself."""
    text = json.dumps(data, ensure_ascii=False, separators=(",", ":"), allow_nan=False)
    return text.replace("<", "\\u003c")


def in_base64(items: Mapping[str, SourceFile | bytes]) -> dict[str, str]:
    """Files or bytes as text, by the same names."""
    return {
        name: base64.b64encode(item if isinstance(item, bytes) else item.read_bytes()).decode()
        for name, item in items.items()
    }


@cache
def interface_script() -> str:
    """All modules of the interface as one script, each after those that it needs."""
    bodies: dict[str, str] = {}
    _join(_MAIN, bodies)
    body = "\n".join(bodies.values())
    return f'"use strict";\n(() => {{\n{body}}})();\n'


def _join(name: str, bodies: dict[str, str]) -> None:
    """Put a module behind those that it needs; names that it exports are names of the script."""
    lines: list[str] = []
    for line in interface_file(name).splitlines(keepends=True):
        if line.startswith("import "):
            needed = line.rstrip().removesuffix('";').rpartition('"./')[2]
            if needed not in bodies:
                _join(needed, bodies)
        else:
            lines.append(line.removeprefix("export "))
    bodies.setdefault(name, "".join(lines))


@cache
def interface_css() -> str:
    """The style sheet of the interface, with its fonts in it."""
    return interface_file("preview.css").replace("{{ faces }}", "\n".join(_faces()))


def _faces() -> Iterable[str]:
    for name, weight in _FACES:
        packed = subset_font(FontBook({}).file(name, weight), _SETTERS)
        address = f"data:font/woff2;base64,{base64.b64encode(packed).decode()}"
        yield (
            f'@font-face {{ font-family: "preview {name}"; font-weight: {weight}; '
            f'src: url("{address}") format("woff2"); }}'
        )


def interface_file(name: str) -> str:
    """A file of the interface."""
    return files(__package__).joinpath(_FOLDER, name).read_text("utf-8")


def _matrix(values: str) -> str:
    """A matrix of three rows as that of ``feColorMatrix``, which has alpha as well."""
    numbers = values.split()
    rows = (numbers[start : start + 3] for start in (0, 3, 6))
    return " ".join(f"{' '.join(row)} 0 0" for row in rows) + " 0 0 0 1 0"
