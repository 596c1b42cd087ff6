"""The notes of an export, done by the letter: they are all that the builder of a host reads."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import pytest

import rising_lantern as rl
from pictures import paint_pictures
from plans import plan_text
from rising_lantern.proofs.hosts import pasted

_SECTIONS = (
    "opening: {height: 600px, layers: [{image: photo.png, speed: 0.4}], content: [{text: A river, "
    "size: 40px, color: white}]}, boats: {height: 900px, background: '#fdf6e3', "
    "layers: [{image: noise.png, speed: 1.3}], content: [{text: Late, enter: {y: 40px}}]}"
)
_HEADER = (
    "height: 80px, padding: 30px, color: white, parts: {brand: {image: logo-light.png, width: 120px}, "
    "menu: {text: [Boats, Camp], side: end}}, looks: {clear: {}, solid: {from: past opening, "
    "back: 300px, background: '#fdf6e3', color: '#16213e', change: fade 200ms}}"
)

# Three sites, each with the places that a builder would find in it.
_PLAIN = "<!doctype html><html lang='en'><head><title>Quay</title></head><body></body></html>"
_RESET = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Quay</title>
<style>
*, *::before, *::after { margin: 1px; box-sizing: content-box; }
html, body { margin: 0; }
header, section, main, h1, h2, p, a, img { padding: 3px; border: 1px solid red; font: 9px serif; }
.hidden, .container { display: none; }
ul { list-style: square; padding-left: 40px; }
</style></head><body></body></html>"""
_WRAPPED = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Quay</title>
<style>body { margin: 0 } .app { display: flow-root } footer { height: 300px; background: #234 }</style>
</head><body><div class="app"></div><footer>Saltmere Quay</footer></body></html>"""


@dataclass(frozen=True)
class Site:
    """A site, and what somebody who reads the notes makes of it."""

    html: str
    place: str
    weight: str | None = None
    policy: bool = False


_SITES = {
    "plain": Site(_PLAIN, "</body>", policy=True),
    "styled": Site(_RESET, "</body>", "important"),
    "wrapped": Site(_WRAPPED, "</div>"),
}


def built(notes: str, read: Callable[[str], str], site: Site) -> str:
    """The page of a site, after each numbered step of the notes."""
    steps = re.findall(r"^(\d)\. (.*)$", notes.split("## In a site that exists")[1], re.MULTILINE)
    assert [number for number, _ in steps] == ["1", "2", "3", "4"]
    page = read("page.html")
    # 2: the lines of the example, its data from the page itself.
    (block,) = re.findall(r"```html\n(.*?)```", notes, re.DOTALL)
    (data,) = re.findall(r'<script type="application/json".*?</script>', page, re.DOTALL)
    lines = [line.strip() for line in block.splitlines()]
    head = "\n".join(data if "…" in line else line for line in lines)
    # 3: the attribute of the body.
    (attribute,) = re.findall(r'`<body (data-[\w-]+="NAME")>`', steps[2][1])
    # 4: what stands in the body.
    assert "between `<body>` and `</body>` of `PAGE.html`" in steps[3][1]
    (markup,) = re.findall(r"<body[^>]*>(.*)</body>", page, re.DOTALL)
    html = site.html.replace("<body", f"<body {attribute.replace('NAME', 'page')}")
    html = html.replace(site.place, f"{markup}{site.place}")
    if "before those of the site" in notes:
        html = html.replace("<style>", f"{head}\n<style>")
    else:
        html = html.replace("</head>", f"{head}\n</head>")
    if site.policy:
        (digest,) = re.findall(r"`('sha256-[^`]*')` in `script-src`", notes)
        kinds = dict.fromkeys(re.findall(r"`(\w+)-src`", notes))
        own = "; ".join(f"{kind}-src 'self'" for kind in kinds)
        own = own.replace("script-src 'self'", f"script-src 'self' {digest}")
        own = own.replace("img-src 'self'", "img-src 'self' data:")
        meta = f'<meta http-equiv="Content-Security-Policy" content="{own}">'
        html = html.replace("<head>", f"<head>{meta}")
    return html


@pytest.mark.browser
@pytest.mark.usefixtures("needs_chromium")
@pytest.mark.parametrize("name", _SITES)
def test_who_does_what_the_notes_say_is_done(tmp_path: Path, name: str) -> None:
    site = _SITES[name]
    paint_pictures(tmp_path)
    (tmp_path / "plan.yaml").write_text(plan_text(header=_HEADER, sections=_SECTIONS), "utf-8")
    plan = rl.read(tmp_path / "plan.yaml")
    made = rl.export(plan, weight=site.weight, pictures=False)  # type: ignore[arg-type]
    host = tmp_path / "site"
    made.save(host)  # as the first step says, into one folder
    html = built(made.text("notes.md"), made.text, site)
    (host / "host.html").write_text(html, "utf-8")
    # Nothing is missing from it that would be pasted.
    again = pasted(html, made.text("page.html"), first=site.weight == "important")
    assert "".join(again.split()) == "".join(html.split())
    proof = rl.prove(plan, engines="chromium", into=host / "host.html", weight=site.weight)  # type: ignore[arg-type]
    assert [item for view in proof.views for item in view.found] == []


def test_the_data_are_named_where_they_are_left_out(tmp_path: Path) -> None:
    paint_pictures(tmp_path)
    (tmp_path / "plan.yaml").write_text(plan_text(header=_HEADER, sections=_SECTIONS), "utf-8")
    notes = rl.export(rl.read(tmp_path / "plan.yaml")).text("notes.md")
    assert notes.count("…") == 1
    assert "it is long, and left out here" in notes
