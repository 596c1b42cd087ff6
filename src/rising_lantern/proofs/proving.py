"""Proving an export: real browsers do what was planned, or it is said what they do instead."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from contextlib import ExitStack
from dataclasses import replace
from itertools import product
from os import PathLike
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rising_lantern.api.plans import Plan, as_plan
from rising_lantern.base.arguments import Names, names
from rising_lantern.checks.running import check_scene
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.lengths import px
from rising_lantern.css.schemes import Scheme
from rising_lantern.errors import LanternError, RequestError, listed, quoted
from rising_lantern.exports.data import needs_moves
from rising_lantern.exports.exporting import export, sheet_writer
from rising_lantern.exports.placing import FILLER, on_site
from rising_lantern.exports.rules import TIMELINES
from rising_lantern.exports.site import ScriptKind
from rising_lantern.exports.sources import PageSource, has_selectors, source_of
from rising_lantern.exports.stylesheet import SheetWriter
from rising_lantern.exports.timelines import follows_by_css
from rising_lantern.exports.weights import Weight
from rising_lantern.jobs.sharing import Progress
from rising_lantern.layout.headers import Going
from rising_lantern.plan.models.changes import Fade
from rising_lantern.proofs.causes import known_causes, overrides, surroundings
from rising_lantern.proofs.comparing import Disagreement, content_box, disagreements
from rising_lantern.proofs.engines import ENGINES, Engine, missing, started
from rising_lantern.proofs.hosts import pasted, read_host
from rising_lantern.proofs.neighbours import Neighbours, neighbours_on, told
from rising_lantern.proofs.proof import Proof
from rising_lantern.proofs.reading import (
    Landmarks,
    fades_at,
    places_of,
    read_state,
    scroll_to,
    start_watching,
    what_was_seen,
)
from rising_lantern.proofs.results import WAYS, Pair, ViewProof, Way
from rising_lantern.proofs.serving import served
from rising_lantern.proofs.spots import (
    MOST_SPOT,
    spots_of,
    squares_in,
    squares_inside,
    squares_within,
)
from rising_lantern.scenes.scene import Scene

POSITIONS = 12
BEFORE = "lantern-before.html"
"""The page of a site as it is without the export."""

Quad = tuple[float, float, float, float]
MOST_DIFFERENCE = 3.0
"""Of 255: how far a picture of the browser may be from the frame, on the average."""

_MOST_SHIFT = 0.001
_FADE_MS = 0.5
_HAS_TIMELINES = f"return CSS.supports('{TIMELINES}')"
_BESIDE_PX = 4.0  # around what a site has in front of what is planned
_LETTERS_PX = 40.0  # around texts that an engine sets in its own way


def prove(  # noqa: PLR0913 - what to prove, and how
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    engines: Names = (),
    into: str | PathLike[str] | None = None,
    weight: Weight | None = None,
    script: ScriptKind = "module",
    progress: Progress | None = None,
) -> Proof:
    """Open the export of a plan in real browsers, and hold it against the prediction.

    Args:
        plan: The plan.
        pages: The pages to prove; by default all.
        viewports: The viewports to prove them at; by default all.
        engines: ``chromium``, ``firefox`` and ``webkit``; by default those that are there.
        into: A page of the site into which the export is pasted first.
        weight: As in :func:`rising_lantern.export`.
        script: As in :func:`rising_lantern.export`.
        progress: Called before each page, viewport and engine, and at the end.

    Raises:
        RequestError: If a browser that is asked for, or every browser, is missing.
    """
    proofs = tuple(
        iter_prove(
            plan,
            pages,
            viewports,
            engines=engines,
            into=into,
            weight=weight,
            script=script,
            progress=progress,
        )
    )
    return Proof(plan.title, proofs, absent(engines))


def absent(engines: Names = ()) -> dict[str, tuple[str, ...]]:
    """The programs that are missing, by the engine that needs them."""
    wanted = names(engines) or ENGINES
    return {name: missing(name) for name in wanted if name in ENGINES and missing(name)}


def iter_prove(  # noqa: PLR0913 - what to prove, and how
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    engines: Names = (),
    into: str | PathLike[str] | None = None,
    weight: Weight | None = None,
    script: ScriptKind = "module",
    progress: Progress | None = None,
) -> Iterator[ViewProof]:
    """Yield what browsers say, page by page; args and errors are those of :func:`prove`."""
    chosen = _engines(engines)
    work = as_plan(plan).view_names(pages, viewports)
    # Frames are painted from pictures as they are.
    made = export(plan, pages, weight=weight, script=script, pictures=False)
    shown = list(dict.fromkeys(page for page, _ in work))
    host = None if into is None else Path(into)
    others = [] if host is None else [host.resolve().parent]
    with ExitStack() as stack:
        addresses: dict[Way, str] = {}
        for way in WAYS:
            folder = Path(stack.enter_context(tempfile.TemporaryDirectory()))
            made.write(folder)
            if way == "script":
                without_timelines(folder)
            (folder / "lantern-frame.html").write_text("<!doctype html><title>.</title>", "utf-8")
            if host is not None:
                _paste(plan, shown, folder, read_host(host), first=weight == "important")
            addresses[way] = stack.enter_context(served(folder, *others))
        writer = sheet_writer(plan, pages)
        both = frozenset(page for page in shown if _has_two_ways(plan, page))
        runs = _runs(chosen, _by_scheme(plan, work), both)
        count = sum(map(len, runs.values()))
        done = 0
        for (name, scheme), own in runs.items():
            with started(name, scheme) as browser:
                planned = without_bars(plan, areas=browser.keeps_areas)
                for page, viewport, way in own:
                    if progress:
                        progress(f"{page} on {viewport} in {browser.name}", done, count)
                    scene = planned.view(page, viewport).scene
                    prover = ViewProver(browser, scene, writer, into=into is not None)
                    proof = prover.proof(addresses[way])
                    used = way if browser.run(_HAS_TIMELINES) else "script"
                    yield replace(proof, way=used) if page in both else proof
                    done += 1
        if progress:
            progress("Proved", count, count)


_Run = tuple[str, str, Way]
"""A page, a viewport, and what switches looks and moves layers."""


def _runs(
    engines: Iterable[str],
    by_scheme: Mapping[Scheme, Sequence[tuple[str, str]]],
    both: Container[str],
) -> dict[tuple[str, Scheme], list[_Run]]:
    """What is opened in each browser; one that has both ways is proved in both.

    Args:
        engines: The browsers.
        by_scheme: Pages at viewports, by the scheme that their readers prefer.
        both: The pages on which there are two ways.
    """
    return {
        (engine, scheme): [
            (page, viewport, way)
            for page, viewport in views
            for way in (WAYS if page in both and engine == "chromium" else WAYS[:1])
        ]
        for engine, (scheme, views) in product(engines, by_scheme.items())
    }


def _paste(plan: Plan, pages: Iterable[str], folder: Path, site: str, *, first: bool) -> None:
    """Put the exported pages in a folder into a page of the site each."""
    for page in pages:
        exported = folder / f"{page}.html"
        attached = any(map(has_selectors, _sources(plan, page)))
        whole = exported.read_text("utf-8")
        exported.write_text(pasted(site, whole, attached=attached, first=first), "utf-8")
    (folder / BEFORE).write_text(site, "utf-8")


def _sources(plan: Plan, page: str) -> list[PageSource]:
    """A page as it is exported, on each of its viewports."""
    return [
        source_of(view.scene.box, plan.file.documents[view.viewport]) for view in plan.views(page)
    ]


def _has_two_ways(plan: Plan, page: str) -> bool:
    """Whether scroll-driven animations do on a page what the script does without them."""
    views = {source.box.viewport: source for source in _sources(plan, page)}
    headers = {view.header.box.name for view in views.values() if view.header}
    by_css = any(follows_by_css(views.values(), name) for name in headers)
    return by_css or needs_moves(views)


def without_timelines(folder: Path) -> None:
    """Change exported files so that a browser takes itself for one without scroll timelines."""
    for path in folder.rglob("*"):
        if path.suffix in {".css", ".js"}:
            text = path.read_text("utf-8")
            path.write_text(text.replace(TIMELINES, "-no-timelines: 1"), "utf-8")


def _by_scheme(plan: Plan, work: list[tuple[str, str]]) -> dict[Scheme, list[tuple[str, str]]]:
    """Pages at viewports, by the scheme that their readers prefer."""
    schemes: dict[Scheme, list[tuple[str, str]]] = {}
    for page, viewport in work:
        scheme = plan.file.viewport(viewport).scheme or "light"
        schemes.setdefault(scheme, []).append((page, viewport))
    return schemes


def without_bars(plan: Plan, *, areas: bool) -> Plan:
    """A plan as browsers without a monitor have it: no bars that come and go.

    Args:
        plan: The plan.
        areas: Whether they keep free what a screen's shape takes.
    """
    file = plan.file
    for name in plan.viewports:
        without = {} if areas else {"safe_area": None}
        file = file.with_viewport(name, bar=px(0), **without)
    return Plan(file)


def _engines(wanted: Names) -> list[str]:
    """The engines to use, all of them there."""
    asked = names(wanted)
    for name in asked:
        if name not in ENGINES:
            raise RequestError(f"there is no engine {quoted(name)}; there are: {listed(ENGINES)}")
        if missing(name):
            raise RequestError(f"{name} is not there: {listed(missing(name))} cannot be found")
    there = [name for name in asked or ENGINES if not missing(name)]
    if not there:
        programs = sorted({item for name in ENGINES for item in missing(name)})
        raise RequestError(f"no browser is there; install one of: {listed(programs)}")
    return there


def _sides(box: Rect) -> Quad:
    return box.left, box.top, box.width, box.height


def _quad(box: list[float]) -> Quad:
    left, top, width, height = box
    return left, top, width, height


class ViewProver:
    """Holds one page in one browser against the prediction.

    Args:
        engine: The browser.
        view: The prediction.
        writer: What wrote the style sheet.
        framed: Whether pictures are compared with frames.
        into: Whether the page is one of a site, beside which :data:`BEFORE` is the same without
            the export.
    """

    def __init__(
        self,
        engine: Engine,
        view: Scene,
        writer: SheetWriter,
        *,
        framed: bool = True,
        into: bool = False,
    ) -> None:
        self.engine = engine
        self.view = view
        source = source_of(view.box, view.plan.documents[view.viewport])
        self.places: Landmarks = places_of(source, writer, into=into)
        self.into = into
        self.neighbours: Neighbours = {}
        self.said: set[str] = set()
        self.shift = 0.0
        self.causes: list[str] = []
        self.framed = framed
        self.found: dict[tuple[str, str], Disagreement] = {}
        self.worst: Pair | None = None

    def proof(self, address: str) -> ViewProof:
        """Open the page and compare it along the scroll, down and up.

        Raises:
            RequestError: If a page of a site cannot be read: it goes elsewhere meanwhile, or
                replaces what scripts are read with.
        """
        try:
            return self._proof(address)
        except (LookupError, TypeError, ValueError, AttributeError) as error:
            if not self.into or isinstance(error, LanternError):
                raise
            raise RequestError(
                "the page of the site cannot be read: it goes to another page meanwhile, or "
                "replaces functions of the browser; prove it without the script that does"
            ) from error

    def _proof(self, address: str) -> ViewProof:
        self.engine.begin()
        self.engine.log()
        if self.into:
            self._look_before(address)
        self.engine.open(f"{address}/{self.view.page}.html", self.view.box.screen)
        start_watching(self.engine)
        if self.into:
            self._settle_in()
        positions = self._positions()
        for going, order in (("down", positions), ("up", positions[::-1])):
            for position in order:
                self._compare(float(position), going)  # type: ignore[arg-type]
        self._compare_fades()
        seen = what_was_seen(self.engine, self.places.data["ours"] if self.into else "header")
        self._judge(seen)
        causes = [*self.causes, *self._causes()]
        counts = "Chromium" in self.engine.name
        return ViewProof(
            self.view.page,
            self.view.viewport,
            self.engine.name,
            2 * len(positions),
            tuple(self.found.values()),
            tuple(dict.fromkeys(causes)),
            float(seen["shift"]) if counts else None,
            float(seen["tasks"]),
            self.worst,
        )

    def _look_before(self, address: str) -> None:
        """Look at the page of the site as it is without the export."""
        self.engine.open(f"{address}/{BEFORE}", self.view.box.screen)
        start_watching(self.engine)
        self.neighbours = neighbours_on(self.engine, self.places)
        for position in (self.view.max_scroll, 0.0):
            scroll_to(self.engine, self.places, position)
        self.shift = float(what_was_seen(self.engine, "body")["shift"])
        self.said = set(self.engine.log())

    def _settle_in(self) -> None:
        """Take over where the site has the sections, and look at what is beside them."""
        scroll_to(self.engine, self.places, 0.0)
        state = read_state(self.engine, self.places)
        for item, causes in told(self.engine, self.places, self.neighbours):
            self._add(item)
            self.causes += causes
        view = self.view
        names, room = (view.page, view.viewport), view.box.flow.room(0)
        plan = on_site(view.plan, names, state["sections"], state["height"], room)
        self.view = Plan(plan).view(view.page, view.viewport).scene

    def _positions(self) -> np.ndarray:
        """Positions along the scroll, and those around every switch."""
        end = self.view.max_scroll
        switches = self.view.switches
        steps = switches.all_steps[1:] if switches else ()
        around = [
            place
            for step in steps
            for edge in (step.start, step.back)
            for place in (math.ceil(edge) - 1, math.ceil(edge))
            if math.isfinite(edge) and 0 <= place <= end
        ]
        if switches and switches.directed and switches.turned_at >= 0:
            turned = math.floor(switches.turned_at)
            around += [turned, min(turned + 1, end)]
        return np.unique([*np.linspace(0, end, POSITIONS).round(), *around])

    @property
    def _is_steady(self) -> bool:
        """Whether the header takes up the same room in all of its looks."""
        header = self.view.box.header
        return header is None or len({header.room(look.flow_height) for look in header.looks}) == 1

    def _compare(self, asked: float, going: Going) -> None:
        came = scroll_to(self.engine, self.places, asked)
        state = read_state(self.engine, self.places)
        if not self._is_steady:
            # Where its header changes its height, the browser itself moves the reader.
            came = float(min(came, self.view.max_scroll))
            if state["look"] != self.view.at(came, going).look:
                return
        elif came != asked:
            self._add(
                Disagreement(
                    "page", "scroll", asked, going, f"{asked:.0f}", f"{came:.0f}",
                    abs(came - asked), 0.0,
                )
            )  # fmt: skip
            return
        exact = not self.engine.rounds_letters
        for item in disagreements(state, self.view, came, going, texts=exact):
            self._add(item)
        same = going == "up" and self.view.at(came, "up") == self.view.at(came)
        # Where a browser has moved the reader by fractions of a px, it rounds in its own way.
        if self.framed and not same and came.is_integer():
            self._compare_picture(came, going, state["foreign"])

    def _compare_picture(self, scroll: float, going: Going, foreign: list[list[float]]) -> None:
        header = self.view.box.header
        blurs = header is not None and any(look.blur for look in header.looks)
        if blurs and not self.engine.paints_backdrops:
            return
        shot, frame = self.engine.screenshot(), self.view.pixels(scroll, going)
        if shot.shape != frame.shape:
            shot = shot[: frame.shape[0], : frame.shape[1]]
        squares = squares_in(frame.shape)
        spots = spots_of(shot, frame, self._squares_to_ignore(scroll, going, squares, foreign))
        if self.worst is None or spots.mean > self.worst.difference:
            self.worst = Pair(scroll, going, spots.mean, shot, frame)
        if spots.mean > MOST_DIFFERENCE:
            words = f"{spots.mean:.1f} of 255 from it"
            self._note_picture("picture", scroll, going, words, spots.mean, MOST_DIFFERENCE)
        elif spots.differ:
            left, top = spots.place
            words = f"{spots.worst:.0f} of 255 from it around {left}, {top}"
            self._note_picture("spot", scroll, going, words, spots.worst, MOST_SPOT)

    def _note_picture(
        self, measure: str, scroll: float, going: Going, words: str, by: float, limit: float
    ) -> None:
        self._add(Disagreement("page", measure, scroll, going, "the frame", words, by, limit))

    def _squares_to_ignore(
        self,
        scroll: float,
        going: Going,
        squares: tuple[int, int],
        foreign: list[list[float]],
    ) -> NDArray[np.bool_] | None:
        """The squares of a picture that are not compared; None for none.

        On a page of a site these are all of which the plan does not say what is behind, and what
        the site has in front of it.
        """
        ignored = np.zeros(squares, dtype=np.bool_)
        moment = self.view.at(scroll, going)
        sections = {section.name: section for section in self.view.box.all_sections}
        for layer in moment.layers:
            picture = sections[layer.section].layers[layer.index].picture
            if picture and picture.frames > 1 and picture.clip is None:
                # An animation shows any of its pictures, and no script can stop it.
                ignored |= squares_within([_sides(layer.box)], squares)
        if self.into:
            planned = [box for name, box in moment.sections.items() if not name.startswith(FILLER)]
            planned += [moment.header.box] if moment.header else []
            ignored |= ~squares_inside([_sides(box) for box in planned], squares)
            ignored |= squares_within([_quad(box) for box in foreign], squares, _BESIDE_PX)
        if self.engine.rounds_letters:
            ignored |= self._squares_with_letters(scroll, going, squares)
        return ignored if ignored.any() else None

    def _squares_with_letters(
        self, scroll: float, going: Going, shape: tuple[int, int]
    ) -> NDArray[np.bool_]:
        """The squares of a frame in which letters stand, with room for other line breaks."""
        moment = self.view.at(scroll, going)
        boxes = list(moment.parts.values())
        for section in self.view.box.sections:
            top = moment.sections[section.name].top
            boxes += [content_box(item, top, scroll) for item in section.content]
        result = np.zeros(shape, dtype=np.bool_)
        for box in boxes:
            room = max(box.height / 4, _LETTERS_PX)
            result |= squares_within([_sides(box)], shape, room)
        return result

    def _compare_fades(self) -> None:
        """Where a look fades in, its transitions take the planned time, in the planned course."""
        switches = self.view.switches
        if switches is None or not self._is_steady:
            return
        for index, step in enumerate(switches.steps[1:], 1):
            look, start = switches.look_of(index), math.ceil(step.start)
            change = look.change
            if not isinstance(change, Fade) or look.arrive or not 0 < start <= self.view.max_scroll:
                continue
            if math.ceil(step.back) < start or switches.after(index - 1, start) != index:
                continue  # crossed by one px it is not the look before that ends
            for duration, delay, easing in fades_at(self.engine, self.places, start):
                planned = (change.duration_ms, change.delay_ms)
                apart = max(abs(duration - planned[0]), abs(delay - planned[1]))
                # A change that is turned round takes less: here none is.
                if apart > _FADE_MS or easing != change.easing.css():
                    words = f"{duration:g} ms {easing} after {delay:g} ms"
                    expected = f"{planned[0]:g} ms {change.easing.css()} after {planned[1]:g} ms"
                    self._add(
                        Disagreement(
                            "header", f"fade to {look.name}", start, "down", expected, words,
                            apart or 1.0, _FADE_MS,
                        )
                    )  # fmt: skip

    def _judge(self, seen: dict[str, Any]) -> None:
        """What must not happen anywhere along the scroll."""
        expected = check_scene(self.view, ("jump", "flicker"), silenced=True)
        if seen["shift"] > _MOST_SHIFT + self.shift and not expected:
            self._whole("layout shift", "0", f"{seen['shift']:.4f}", seen["shift"])
        for address in seen["foreign"]:
            self._whole("request", "none", str(address)[:200], 1.0)
        for element in seen["hidden"]:
            self._whole("focus", "a visible focus", f"none on {element}", 1.0)
        for message in self.engine.log():
            if "favicon.ico" in message or message in self.said:
                continue  # which browsers ask for by themselves
            self._whole("console", "nothing", message[:300], 1.0)

    def _whole(self, measure: str, expected: str, found: str, by: float) -> None:
        self._add(Disagreement("page", measure, 0.0, "down", expected, found, by, 0.0))

    def _add(self, item: Disagreement) -> None:
        """Keep of each thing the position at which it is worst."""
        key = item.what, item.measure
        if key not in self.found or item.by > self.found[key].by:
            self.found[key] = item

    def _causes(self) -> Iterator[str]:
        if self.into and self.found:
            yield from surroundings(self.engine, self.places)
        for item in self.found.values():
            if item.what != "page" and not item.what.startswith("outside"):
                yield from overrides(self.engine, self.places, self.view, item)
            yield from known_causes(self.engine.name, self.view, item)
