"""Three pages of sites, none of them made for an export, and the plans for them.

One has a reset and many classes of one declaration each; one has ids and ``!important``; one
scrolls in an element, with a header in a shadow root.
"""

from __future__ import annotations

from dataclasses import dataclass

_WORDS = "<p>Lanterns leave the quay at nine. Bring a coat, and something to sit on.</p>" * 6


@dataclass(frozen=True)
class HostPage:
    """A page of a site, and a plan for it.

    Attributes:
        html: The page.
        plan: The plan.
        weight: How the export has to hold its own there.
    """

    html: str
    plan: str
    weight: str

    def spoiled(self, old: str, new: str) -> HostPage:
        """The page with something in it that is against the plan."""
        assert old in self.html
        return HostPage(self.html.replace(old, new, 1), self.plan, self.weight)


CLASSES = HostPage(
    html=f"""\
<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Quay House</title>
<style>
*, ::before, ::after {{ box-sizing: border-box; margin: 0; padding: 0; border: 0 solid; }}
body {{ font: 16px/1.5 serif; color: #222; background: #f7f3ea; }}
a {{ color: #7b3f00; text-decoration: none; }}
.flex {{ display: flex; }} .gap-4 {{ gap: 16px; }} .items-center {{ align-items: center; }}
.px-6 {{ padding-left: 24px; padding-right: 24px; }} .h-20 {{ height: 80px; }}
.ml-auto {{ margin-left: auto; }} .relative {{ position: relative; }} .absolute {{ position: absolute; }}
.inset-0 {{ inset: 0; }} .overflow-clip {{ overflow: clip; }} .container {{ max-width: 800px; margin: 0 auto; }}
.hidden {{ display: none; }} .text-lg {{ font-size: 20px; }} .p-8 {{ padding: 32px; }}
.min-h {{ min-height: 500px; }} .w-full {{ width: 100%; }} /* spoil */
</style></head>
<body>
<header class="site flex items-center px-6 gap-4 h-20 w-full">
  <a class="brand text-lg" href="#">Quay House</a>
  <nav class="links flex gap-4 ml-auto"><a href="#">Rooms</a><a href="#">Table</a></nav>
</header>
<main>
  <div class="p-8 container"><h2>Before the river</h2>{_WORDS}</div>
  <section id="hero" class="relative overflow-clip min-h"><div class="pic absolute inset-0"></div>
    <div class="relative p-8"><h1>Quay House</h1></div></section>
  <div class="p-8 container"><h2>After it</h2>{_WORDS}{_WORDS}</div>
  <p class="hidden">Nobody sees this.</p>
</main>
<footer class="p-8">Quay House, Saltmere</footer>
</body></html>
""",
    plan="""\
rising-lantern: 1
viewports: {laptop: 1000x600}
headers:
  site:
    selector: header.site
    position: sticky
    height: 80px
    hold-space: true
    change: fade 90ms
    parts:
      links: {text: [Rooms, Table], selector: .links, side: end}
    looks:
      clear: {background: "#f7f3ea", color: "#222222"}
      solid: {from: reach hero, background: "#16213e", color: white, height: 60px}
pages:
  home:
    sections:
      hero:
        height: 500px
        selector: "#hero"
        layers: [{image: photo.png, speed: 0.5, selector: .pic}]
""",
    weight="specific",
)

IDS = HostPage(
    html=f"""\
<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Salt Sheds</title>
<style>
body {{ margin: 20px; font: 18px/1.6 sans-serif; background: #fff; }}
#top {{ background: #dddddd !important; height: 120px !important; color: #333333 !important;
  display: flex; align-items: center; padding: 0 32px; box-sizing: border-box; }}
#top #menu a {{ color: #3355ff !important; }}
#page #intro {{ min-height: 400px !important; background: #eeeeee !important; }}
#page #tide {{ height: 700px !important; }} /* spoil */
</style></head>
<body>
<div id="top"><span id="menu"><a href="#">Sheds</a> <a href="#">Salt</a></span></div>
<div id="page">
  <div id="intro"><h1>Salt</h1><div id="glow"></div></div>
  <div id="tide"><p>High water at eight.</p></div>
  <div id="rest">{_WORDS}{_WORDS}</div>
</div>
</body></html>
""",
    plan="""\
rising-lantern: 1
viewports: {laptop: 1000x600}
headers:
  bar:
    selector: "#top"
    height: 90px
    change: blend 120px
    parts: {menu: {text: [Sheds, Salt], selector: "#menu"}}
    looks:
      high: {background: "#fdf6e3", color: "#16213e", shadow: 0 2px 6px rgb(0 0 0 / .3)}
      low: {from: 200px, background: "#16213e", color: "#fdf6e3", height: 50px, shadow: 0 4px 20px rgb(0 0 0 / .6)}
pages:
  home:
    sections:
      intro: {height: 400px, selector: "#intro", background: "#a03020"}
      tide: {height: 700px, selector: "#tide", background: "#f4a259"}
""",
    weight="important",
)

SHADOW = HostPage(
    html=f"""\
<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Lock Cottage</title>
<style>
html, body {{ height: 100%; margin: 0; overflow: hidden; font: 16px/1.5 sans-serif; }}
#app {{ height: 100%; overflow: auto; }}
.band {{ position: relative; overflow: clip; height: 420px; }} .band > i {{ position: absolute; inset: 0; }}
.page {{ padding: 40px; }} /* spoil */
</style></head>
<body>
<lock-header></lock-header>
<div id="app">
  <div class="page">{_WORDS}</div>
  <div class="band" id="weir"><i class="water"></i></div>
  <div class="page">{_WORDS}{_WORDS}</div>
</div>
<script>
customElements.define("lock-header", class extends HTMLElement {{
  connectedCallback() {{
    const root = this.attachShadow({{ mode: "open" }});
    root.innerHTML = "<header style='position: fixed; z-index: 3; inset: 0 0 auto; height: 60px; background: #123'>Lock</header>";
    this.style.cssText = "position: fixed; z-index: 3; inset: 0 0 auto; height: 60px";
  }}
}});
</script>
</body></html>
""",
    plan="""\
rising-lantern: 1
viewports: {laptop: 1000x600}
pages:
  home:
    scroll-container: "#app"
    sections:
      weir:
        height: 420px
        selector: "#weir"
        layers: [{image: photo.png, speed: 0.4, selector: "#weir > .water"}]
""",
    weight="specific",
)

HOSTS = {"classes": CLASSES, "ids": IDS, "shadow": SHADOW}
