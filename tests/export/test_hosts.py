"""Exports pasted into pages of sites that were not made for them."""

from __future__ import annotations

from pathlib import Path

import pytest

import rising_lantern as rl
from hosts import CLASSES, HOSTS, IDS, SHADOW, HostPage
from pictures import paint_pictures
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.hosts import MARK, pasted
from rising_lantern.proofs.results import ViewProof
from thorough import some

pytestmark = pytest.mark.browser


def proved(folder: Path, host: HostPage, engine: str = "chromium") -> ViewProof:
    """What a browser says of an export in a page of a site, by the script where it finds more."""
    paint_pictures(folder)
    (folder / "plan.yaml").write_text(host.plan, "utf-8")
    (folder / "host.html").write_text(host.html, "utf-8")
    plan = rl.read(folder / "plan.yaml")
    proof = rl.prove(plan, engines=engine, into=folder / "host.html", weight=host.weight)  # type: ignore[arg-type]
    return max(proof.views, key=lambda view: len(view.found))


@pytest.mark.usefixtures("needs_chromium")
@pytest.mark.parametrize("name", some(HOSTS, 3))
def test_a_page_of_a_site_agrees_and_nothing_beside_the_plan_changes(
    tmp_path: Path, name: str
) -> None:
    view = proved(tmp_path, HOSTS[name])
    assert view.found == (), view.causes
    assert view.worst is not None  # pictures are compared where the plan says what is behind


@pytest.mark.thorough
@pytest.mark.parametrize("name", HOSTS)
def test_other_engines_agree_on_pages_of_sites(tmp_path: Path, engine: Engine, name: str) -> None:
    view = proved(tmp_path, HOSTS[name], "firefox" if "Firefox" in engine.name else "webkit")
    assert view.found == (), view.causes


SPOILED = {
    "a rule of the site that wins": (
        CLASSES.spoiled("/* spoil */", ".site { background: pink !important; }"),
        "header",
        "background colour",
        ".site declares background-color: pink !important in a <style> of the page",
    ),
    "a ground of its own inside the header": (
        CLASSES.spoiled('<a class="brand', '<b class="absolute inset-0 sheet" style="background: #dde"></b><a class="brand'),
        "page",
        "picture",
        "b.absolute.inset-0 inside the header has a background of its own",
    ),
    "a wrapper that clips": (
        CLASSES.spoiled("<body>", '<body><div class="wrap" style="overflow: hidden">'),
        "header",
        "rectangle",
        "div.wrap has overflow: hidden, in which position: sticky never sticks",
    ),
    "a page that scrolls sideways": (
        CLASSES.spoiled("/* spoil */", ".site { width: 1100px; }"),
        "header",
        "rectangle",
        "header.site.flex is 100 px wider than the window, which scrolls sideways",
    ),
    "links with a colour that insists": (
        CLASSES.spoiled("/* spoil */", "header .links a { color: #ccddff !important; }"),
        "part links",
        "link colour",
        "header .links a declares color: rgb(204, 221, 255) !important",
    ),
    "an icon with a fill": (
        CLASSES.spoiled('<a href="#">Rooms</a>', '<a href="#">Rooms <svg width="9" height="9"><path fill="#fff" d="M0 0h9v9z"/></svg></a>'),
        "part links",
        "icon colour",
        "is an icon with a fill of its own: give it fill: currentColor",
    ),
    "a style that insists": (
        IDS.spoiled('<div id="tide">', '<div id="tide" style="background: #00f !important">'),
        "page",
        "picture",
        "",
    ),
    "a header with a height that insists": (
        IDS.spoiled('<div id="top">', '<div id="top" style="height: 30px !important">'),
        "header",
        "rectangle",
        'style="height: 30px !important" of #top itself',
    ),
    "an ancestor that captures what is fixed": (
        IDS.spoiled('<div id="top">', '<div id="shell" style="transform: translateZ(0)"><div id="top">'),
        "header",
        "rectangle",
        "#shell has transform",
    ),
    "an animation that the site stops": (
        SHADOW.spoiled("/* spoil */", "#weir > .water { animation: none !important; }"),
        "weir, layer 1",
        "rectangle",
        "#weir > .water declares animation-name: none !important",
    ),
    "an element that scrolls, which the plan does not know of": (
        HostPage(SHADOW.html, SHADOW.plan.replace('    scroll-container: "#app"\n', ""), "specific"),
        "page",
        "scroll",
        "div#app scrolls in place of the window: name it as scroll-container of the page",
    ),
    "a header in a shadow root": (
        HostPage(SHADOW.html, "headers: {h: {selector: header, background: red}}\n" + SHADOW.plan, "specific"),
        "header",
        "rectangle",
        "header is in the shadow root of lock-header",
    ),
}  # fmt: skip


@pytest.mark.usefixtures("needs_chromium")
@pytest.mark.parametrize("name", some(SPOILED, 3))
def test_what_a_site_has_against_the_plan_is_found_with_its_cause(
    tmp_path: Path, name: str
) -> None:
    host, what, measure, cause = SPOILED[name]
    view = proved(tmp_path, host)
    found = {(item.what, item.measure) for item in view.found}
    assert any(item[0] == what and measure in item[1] for item in found), view.found
    assert any(cause in item for item in view.causes) or not cause, view.causes


@pytest.mark.usefixtures("needs_chromium")
def test_what_an_export_changes_beside_the_plan_is_found(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A style sheet that reaches further than it should, as somebody may have edited it."""
    write = rl.Export.write

    def wrong(self: rl.Export, folder: Path) -> None:
        write(self, folder)
        css = (folder / "lantern.css").read_text("utf-8")
        more = "\nfooter { color: red; } main h2 { padding-top: 9px; }\n"
        (folder / "lantern.css").write_text(css + more, "utf-8")

    monkeypatch.setattr(rl.Export, "write", wrong)
    view = proved(tmp_path, CLASSES)
    found = {(item.what, item.measure) for item in view.found}
    assert ("outside of the plan, footer.p-8", "color") in found
    assert ("outside of the plan, h2", "box") in found
    assert "lantern.css, footer declares color: red" in view.causes


# --- pasting ---------------------------------------------------------------------------------------

OURS = (
    '<html><head><link rel="stylesheet" href="lantern.css">'
    '<link rel="preload" href="a.woff2" as="font"><script type="application/json" '
    'data-lantern="plan">{"a": "</b>"}</script><script type="module" src="lantern.js"></script>'
    '</head><body data-lantern-page="home"><main class="lantern-main">ours</main></body></html>'
)


@pytest.mark.parametrize(
    ("host", "before"),
    [
        ("<html><head><title>x</title></head><body><p>hi</p></body></html>", "<p>hi</p>"),
        ("<!doctype html>\n<title>Quay</title>\n<p>Hello", "<p>Hello"),
        ("<title>a</title>Hello<script>1</script><p>x", "Hello"),
        ("<p>Hello <b>you</b>", "<p>Hello <b>you</b>"),
        (f"<title>a</title><header>x</header><div>{MARK}</div>", "<header>x</header><div>"),
        ("<head><script>let a = '</head><body>'</script></head><body\n id='>'><p>x</body>", "<p>x"),
        ("<body><section class='hero-section card'>x</section></body>", "x</section>"),
        ("<HTML><HEAD></HEAD><BODY CLASS=a><!-- </body> --><p>x</BODY></HTML>", "--><p>x"),
    ],
)
def test_an_export_is_pasted_wherever_a_page_leaves_tags_out(host: str, before: str) -> None:
    text = pasted(host, OURS)
    order = [
        text.index('<link rel="stylesheet"'),
        text.index('<link rel="preload"'),
        text.index('{"a": "</b>"}'),
        text.index('src="lantern.js"'),
        text.index('data-lantern-page="home"'),
        text.index(f"{before}"),
        text.index(">ours<"),
    ]
    assert order == sorted(order)
    # What the site has written stays as it is.
    for added in (
        *_added(OURS),
        ' data-lantern-page="home"',
        '<main class="lantern-main">ours</main>',
    ):
        text = text.replace(added, "", 1)
    assert text.replace("<body>", "").replace("\n", "") == host.replace("<body>", "").replace(
        "\n", ""
    )


def test_markup_that_is_there_already_is_not_pasted_again() -> None:
    host = '<body data-lantern-page="home"><section class="lantern-section lantern-a">x</section>'
    assert ">ours<" not in pasted(host, OURS)


def _added(page: str) -> list[str]:
    head = page[page.index("<link") : page.index("</head>")]
    return head.replace("><", ">\0<").replace(">\0</", "></").split("\0")


PLAIN = HostPage(
    """<!doctype html><title>Saltmere shop</title>
<style>* { box-sizing: border-box; margin: 0 } body { font: 17px/1.5 Georgia } #top { padding: 10px 30px; display: flex; gap: 20px }
.hero { min-height: 600px } .rest { height: 1500px }</style>
<div id="top"><b class="logo">Saltmere</b><a href="/p">Programme</a></div>
<div class="hero"></div><div class="rest"></div>
""",
    """\
rising-lantern: 1
viewports: {laptop: 1280x800}
headers:
  top:
    selector: "#top"
    position: fixed
    height: 60px
    background: "#101830"
    color: white
    parts: {programme: {text: Programme, selector: "#top a", side: end}}
pages: {shop: {sections: {hero: {selector: .hero, height: 600px, background: "#1b2a63"}}}}
""",
    "layer",
)


@pytest.mark.usefixtures("needs_chromium")
def test_a_part_that_the_site_puts_elsewhere_is_said_to_stand_there(tmp_path: Path) -> None:
    view = proved(tmp_path, PLAIN)
    assert {item.what for item in view.found if item.measure == "rectangle"} == {"part programme"}
    assert view.causes[0].startswith("#top a stands where the site puts it: for 'side: end'")
    moved = PLAIN.html.replace(".hero {", "#top a { margin-left: auto } .hero {")
    assert proved(tmp_path, HostPage(moved, PLAIN.plan, PLAIN.weight)).found == ()
