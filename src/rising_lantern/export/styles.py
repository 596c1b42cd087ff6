"""A view as CSS rules. Every value is written from what was parsed, never copied from the plan."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.export.flow import FlowLengths
from rising_lantern.export.headers import header_rules
from rising_lantern.export.rules import Urls, family, rule
from rising_lantern.export.sections import section_rules
from rising_lantern.export.sources import PageSource
from rising_lantern.export.stillness import still_rules
from rising_lantern.plan.files.pictures import Picture

_BASE = """\
*, *::before, *::after { box-sizing: border-box; margin: 0; }
html {
  text-rendering: geometricPrecision; font-variant-ligatures: none; -webkit-text-size-adjust: none;
}
header > .side {
  position: absolute; inset: 0; display: flex; align-items: center; pointer-events: none;
}
header > .start { justify-content: flex-start; }
header > .center { justify-content: center; }
header > .end { justify-content: flex-end; }
.fills { position: absolute; inset: 0; isolation: isolate; }
.fill { position: absolute; inset: 0; opacity: 0; mix-blend-mode: plus-lighter; }
.part {
  display: flex; flex: none; isolation: isolate; line-height: 1.4; white-space: nowrap;
  pointer-events: auto;
}
.part img { flex: none; width: 100%; height: auto; opacity: 0; mix-blend-mode: plus-lighter; }
.part img + img { margin-left: -100%; }
main { position: relative; }
section { position: relative; overflow: clip; }
.layer { position: absolute; left: 0; right: 0; top: 0; height: 100%; }
.clip, .border { position: absolute; inset: 0; overflow: clip; }
.ground { position: absolute; left: 0; right: 0; top: 0; overflow: clip; z-index: -1000001; }
.place { position: absolute; inset: 0; display: grid; }
.text { grid-area: 2 / 2; white-space: pre-line; }"""


def page_css(
    page: PageSource,
    faces: dict[tuple[str, int], str],
    urls: Urls,
    pictures: dict[str, Picture],
    *,
    stills: bool = True,
) -> str:
    """The style sheet of a page.

    Args:
        page: The page as it is laid out.
        faces: Addresses of the font files in use, by font and weight.
        urls: Gives the address of a picture.
        pictures: The plan's pictures.
        stills: Whether what moves stands still for readers who ask for less motion.
    """
    rules = [_BASE, *_font_faces(faces)]
    canvas = {"background-color": page.box.background.css()}
    rules.append(rule("body", canvas))
    if page.ground:
        ground = canvas | {"height": FlowLengths(page).height(page.ground)}
        rules += [rule(".ground", ground), *section_rules(page.ground, ".ground", page, urls)]
    if page.header:
        rules += header_rules(page.header, pictures)
    for section in page.sections:
        rules += section_rules(section, f"#{section.box.name}", page, urls)
    if stills:
        rules += still_rules(page)
    return "\n".join(text for text in rules if text)


def _font_faces(faces: dict[tuple[str, int], str]) -> Iterator[str]:
    for (font, weight), url in sorted(faces.items()):
        yield rule(
            "@font-face",
            {
                "font-family": family(font),
                "font-weight": str(weight),
                "src": f'url("{url}")',
            },
        )
