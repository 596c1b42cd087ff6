"""The notes beside an export: what goes where, and who gets what."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from hashlib import sha256

from rising_lantern.exports.pages import link_words
from rising_lantern.exports.renditions import Weighed
from rising_lantern.exports.site import Site
from rising_lantern.exports.sources import PageSource
from rising_lantern.exports.support import Support, data_date, support_table


@dataclass(frozen=True, slots=True)
class FirstLook:
    """The look that a header is in until the script starts, or where there is none.

    Attributes:
        page: The page.
        header: The header.
        look: The look.
        passes: Whether every part can be read in it on every position and screen.
        worst: The lowest contrast that is found in it; None where none is too low.
    """

    page: str
    header: str
    look: str
    passes: bool
    worst: float | None = None


_SCRIPTS = {
    "": "switches looks",
    "-layers": "places layers whose place depends on the ends of the page, or that have a path",
    "-moves": "moves layers and texts in browsers without scroll-driven animations",
    "-enters": "lets texts arrive",
    "-direction": "holds a look while the reader scrolls one way",
    "-tones": "lets looks follow the tones of slides",
    "-video": "runs videos, and stops them",
}
"""What each script does, by how its name goes on behind the prefix."""


@dataclass(frozen=True)
class NotesWriter:
    """Writes the notes.

    Attributes:
        site: What is exported.
        first_looks: The looks of headers without a script.
        support: The features that are used, with the browsers that have them.
        weights: What the pictures of each page weigh on each viewport, where they were prepared.
        head: What stands in the head of the first page for this export, line by line.
        early: The pages that have the script which stands behind the header.
    """

    site: Site
    first_looks: Sequence[FirstLook]
    support: Sequence[Support]
    weights: Mapping[tuple[str, str], Weighed] = field(default_factory=dict)
    head: Sequence[str] = ()
    early: Sequence[str] = ()

    def text(self) -> str:
        """The notes as Markdown."""
        title = self.site.document.title or "this plan"
        parts = [
            [f"# {_plain(title)}: how to use this export"],
            self._whole_pages(),
            self._own_site(),
            self._policy(),
            self._swapping(),
            self._screens(),
            self._pages(),
            self._links(),
            self._without_script(),
            self._pictures(),
            self._browsers(),
        ]
        return "\n\n".join("\n".join(lines) for lines in parts if lines) + "\n"

    def _whole_pages(self) -> list[str]:
        lines = [
            "## Whole pages",
            "",
            "Each `PAGE.html` is complete, with the files that it names.",
        ]
        if self.site.options.script == "module":
            lines.append(
                "Scripts are modules, which browsers load from a server and not from a disk: to "
                "open pages from a disk, export with `--script classic`."
            )
        return [*lines, "", *self._scripts()]

    def _scripts(self) -> list[str]:
        """What each script does, and the pages that load it."""
        pages: dict[str, list[str]] = {name: [] for name in self.site.scripts}
        for page, views in self.site.views.items():
            for name in self.site.scripts_of(views):
                pages[name].append(page)
        prefix = self.site.options.prefix
        words = {f"{prefix}{kind}.js": does for kind, does in _SCRIPTS.items()}
        rows = [f"| `{name}` | {words[name]} | {', '.join(on)} |" for name, on in pages.items()]
        return ["| script | what it does | pages |", "| --- | --- | --- |", *rows]

    def _own_site(self) -> list[str]:
        prefix = self.site.options.prefix
        page = next(iter(self.site.views))
        lines = [
            "## In a site that exists",
            "",
            "1. Copy all `.css` and `.js` files and `assets` to the site, into one folder.",
            (
                "2. Put into the `<head>` of each page what stands in that of its `PAGE.html`: "
                "style sheets, preloads, data and scripts, in their order. The scripts read no "
                f"other data; it is long, and left out here. For {page}:"
            ),
            "",
            "   ```html",
            *(f"   {line}" for line in self.head),
            "   ```",
            "",
            (
                f'3. Give the body of each page its name: `<body data-{prefix}-page="NAME">`. '
                "All rules are under it."
            ),
        ]
        if self.site.is_attached:
            lines.append(
                "4. Elements with a `selector` in the plan are styled where they are. Give the "
                f"other elements the classes that the first comment of `{prefix}.css` explains; "
                "the markup stands in `PAGE.html`."
            )
        else:
            lines.append(
                "4. Put what stands between `<body>` and `</body>` of `PAGE.html` into the page "
                "where it belongs. Or give elements of your own the same classes, which the first "
                f"comment of `{prefix}.css` explains, in the same order."
            )
        if any(view.box.pause for views in self.site.views.values() for view in views.values()):
            lines.append(
                "5. What runs by itself needs its control: the "
                f'`<label class="{prefix}-pause">` of `PAGE.html`, in the section in which it '
                "stands there."
            )
        weight = {
            "layer": f"a cascade layer, `@layer {prefix}`: rules of the site outside of layers "
            "beat it. If the site styles the same elements, export with `--weight specific`",
            "specific": "selectors that are more specific than most; if the site still beats "
            "them, export with `--weight important`",
            "important": f"a cascade layer, `@layer {prefix}`, whose values are all `!important`. "
            "Its style sheet has to come before those of the site: of such values, those of the "
            "first layer win, and those of layers win over those outside of them. What still "
            'beats them is `style="… !important"` on an element, a layer with such values that is '
            "declared earlier, and such values inside of a shadow root. What moves is computed "
            "from custom properties that are animated, so that nothing freezes",
        }[self.site.weight]
        return [*lines, "", f"The style sheet holds its own by {weight}.", *self._in_site()]

    def _policy(self) -> list[str]:
        """What a policy on contents has to allow."""
        prefix = self.site.options.prefix
        lines = [
            "## With a Content-Security-Policy",
            "",
            (
                "Everything is loaded from the folder of the page: `'self'` in `style-src`, "
                "`script-src`, `img-src`, `font-src` and `media-src` allows it. The icon of each "
                "`PAGE.html`, which is empty, needs `data:` in `img-src`. Nothing needs "
                "`'unsafe-inline'`."
            ),
        ]
        if self.early:
            digest = b64encode(sha256(f"\n{self.site.early_script}".encode()).digest()).decode()
            lines += [
                "",
                (
                    f"The pages {', '.join(self.early)} have one script of their own, behind their "
                    "header, which runs before the first picture. It is the same in each: allow it "
                    f"by `'sha256-{digest}'` in `script-src`, or give it the `nonce` of your "
                    f"server. Without it those pages work, and may show for a moment what "
                    f"`{prefix}.js` then changes."
                ),
            ]
        return lines

    def _swapping(self) -> list[str]:
        """What a site does that shows another page without loading it."""
        prefix = self.site.options.prefix
        if not self.site.scripts or self.site.options.script == "classic":
            return []
        return [
            "## Pages that change without loading",
            "",
            (
                f"`start()` of `{prefix}.js` runs by itself when a page is loaded, and returns a "
                "function that stops all of our scripts. A site that shows another page in its "
                "place stops it first, and starts it once what stands in the `<head>` of "
                "`PAGE.html` is there: the style sheets of that page, and its data in place of the "
                "other's."
            ),
            "",
            "```js",
            f'import {{ start }} from "./{prefix}.js";',
            "",
            "let stop = start();  // what runs already",
            "function show(page, data) {",
            "  stop();",
            f"  document.querySelector('[data-{prefix}=\"plan\"]').textContent = data;",
            "  document.body.replaceWith(page);",
            "  stop = start(page);",
            "}",
            "```",
        ]

    def _in_site(self) -> list[str]:
        """What else there is to know for pages of a site."""
        prefix = self.site.options.prefix
        lines = [
            "",
            (
                "`rising-lantern prove PLAN --into HOST.html` pastes our markup where the comment "
                "`<!-- lantern -->` stands in a page of the site, holds the page before "
                "and after against each other, and names what is against the plan."
            ),
        ]
        scrollers = {
            source.page.scroll_container.text
            for views in self.site.views.values()
            for source in views.values()
            if source.page.scroll_container
        }
        for text in sorted(scrollers):
            words = (
                f"The page scrolls in `{text}` and not in the window: the script listens to it, "
                f"and sets `--{prefix}-screen` to its height."
            )
            lines += ["", words]
        return lines

    def _screens(self) -> list[str]:
        lines = ["## Screens", "", "| viewport | planned at | applies to |", "| --- | --- | --- |"]
        for item in self.site.ranges:
            viewport = self.site.plan.viewport(item.name)
            lines.append(f"| {item.name} | {viewport.width} x {viewport.height} | `{item.media}` |")
        return lines

    def _pages(self) -> list[str]:
        lines = ["## Pages", "", "| page | path | header |", "| --- | --- | --- |"]
        for page, views in self.site.views.items():
            paths = ", ".join(map(_plain, self.site.document.pages[page].paths_as(page)))
            lines.append(f"| {page} | {paths} | {_headers(views)} |")
        return [
            *lines,
            "",
            (
                f"Which header a page has depends on its `data-{self.site.options.prefix}-page`, "
                "not on its path: a page of the site that the plan does not name takes the name of "
                "the one that it is like."
            ),
        ]

    def _links(self) -> list[str]:
        """Words of headers that lead nowhere yet."""
        known = self.site.links
        words = dict.fromkeys(
            word
            for views in self.site.views.values()
            for view in views.values()
            for word in link_words(view)
            if word.casefold() not in known
        )
        if not words:
            return []
        listed = ", ".join(f"“{_plain(word)}”" for word in words)
        return [
            "## Links",
            "",
            (
                "Words in a header lead to the page of that name or title. These are the name of "
                f"no page, so set their `href`, or what their button does: {listed}."
            ),
        ]

    def _without_script(self) -> list[str]:
        lines = [
            "## Without the script",
            "",
            (
                "The page can be read: sections and texts are in place, layers move where the "
                f"browser has scroll-driven animations. {self._switching()}"
            ),
            "",
        ]
        for first in self.first_looks:
            words = (
                "can be read on every position"
                if first.passes
                else f"**falls to a contrast of {first.worst or 0:.2f}; no look passes everywhere**"
            )
            lines.append(f"- {first.page}, header {first.header}: {first.look}, {words}")
        return lines if self.first_looks else []

    def _switching(self) -> str:
        """Which headers CSS switches where it can, and what the others do."""
        by_css = [
            f"{page}, header {view.header.box.name}"
            for page, views in self.site.views.items()
            for view in list(views.values())[:1]
            if view.header and view.header.by_css
        ]
        if not by_css:
            return "The header stays in one look:"
        prefix = self.site.options.prefix
        return (
            "CSS alone switches the looks there of: "
            f"{'; '.join(by_css)}. An animation of the element of the page does it, which an "
            f"`animation` of the site on the same element would end. `--{prefix}-look` there says "
            f"which look holds; give the header an empty `data-look` and `{prefix}.js` keeps it "
            "there as well. Elsewhere the header stays in one look:"
        )

    def _pictures(self) -> list[str]:
        if not self.weights:
            return []
        lines = [
            "## Pictures",
            "",
            (
                "What backgrounds load on each screen, in kB: as in the plan, and in the sizes "
                "that were prepared, of which browsers take the one for the density of the screen."
            ),
            "",
            "| page | viewport | before | after |",
            "| --- | --- | --- | --- |",
        ]
        lines += [
            f"| {page} | {viewport} | {item.before / 1000:.0f} | {item.after / 1000:.0f} |"
            for (page, viewport), item in self.weights.items()
        ]
        return lines

    def _browsers(self) -> list[str]:
        rows = support_table(self.support)
        lines = ["## Browsers", "", f"First versions with each feature, as of {data_date()}.", ""]
        lines += [_row(rows[0]), _row(["---"] * len(rows[0])), *(_row(row) for row in rows[1:])]
        return lines


def _headers(views: Mapping[str, PageSource]) -> str:
    by_name: dict[str, list[str]] = {}
    for viewport, view in views.items():
        name = view.header.box.name if view.header else "none"
        by_name.setdefault(name, []).append(viewport)
    if len(by_name) == 1:
        return next(iter(by_name))
    return "; ".join(f"{name} on {', '.join(screens)}" for name, screens in by_name.items())


def _row(cells: Sequence[str]) -> str:
    return "| " + " | ".join(cells) + " |"


def _plain(text: str) -> str:
    """A text of the plan in Markdown, where nothing in it means anything."""
    words = " ".join(text.split())
    return "".join(f"\\{sign}" if sign in "\\`*_[]|<>#" else sign for sign in words)
