"""The header as CSS: numbers that can be tuned, and one set of rules for each of its looks.

``data-drawn`` says which look a header is drawn in.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import partial

from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.lengths import percent
from rising_lantern.css.numbers import number
from rising_lantern.errors import RequestError, quoted
from rising_lantern.exports.flow import height_of, own_height, sum_of
from rising_lantern.exports.names import Naming, of_site
from rising_lantern.exports.rules import (
    FORCED,
    PRINT,
    SOLID,
    CssRule,
    Declarations,
    Statement,
    family,
)
from rising_lantern.exports.sources import HeaderSource
from rising_lantern.exports.timelines import LookTimelines
from rising_lantern.exports.values import Palette, difference, font_size, placed, threshold
from rising_lantern.layout.header_styles import HeaderLayer, Layers
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.changes import Blend, Fade
from rising_lantern.plan.models.fills import Fill
from rising_lantern.plan.models.headers import Part, PartLook, states_in
from rising_lantern.plan.models.solid import solid_color
from rising_lantern.plan.models.thresholds import Threshold

WHOLE = percent(100)

_LINK_STATES = {
    "current": '[aria-current="page"]',
    "focus": ":focus-visible",
    "hover": ":hover",
    "pressed": ":active",
}

Declared = dict[str, dict[str, str]]
"""What a look declares, by the selector within the header."""


def gradient_fills(header: HeaderBox) -> dict[Fill, list[str]]:
    """The fills of a header that need boxes of their own, with the looks that have them.

    Gradients do not become one another in browsers: boxes are mixed in their place.
    """
    fills: dict[Fill, list[str]] = {}
    for look in header.looks:
        fills.setdefault(look.fill, []).append(look.name)
    plain = all(isinstance(look.fill, Color) for look in header.looks)
    return {} if plain else fills


def stays_at_last(header: HeaderSource) -> bool:
    """Whether a header is on the screen in its last look, wherever the page is scrolled."""
    box = header.box
    return box.looks[-1].arrive is not None or (box.is_pinned and not box.sticks_within)


def covered_by(header: HeaderSource, look: str) -> str:
    """How much of the screen's top a header that stays there covers in a look, as CSS."""
    top, height = header.entry.top.css("vh"), height_of(header, look)
    return height if top in {"0px", "0vh"} else f"calc({top} + {height})"


def images_of(header: HeaderSource, name: str) -> dict[str, list[str]]:
    """The pictures of a part, each with the looks that show it."""
    looks_of: dict[str, list[str]] = {}
    for look in header.box.look_names:
        image = header.entry.image_of(name, look)
        if image:
            looks_of.setdefault(image, []).append(look)
    return looks_of


def backdrops_of(header: HeaderBox) -> dict[str | None, dict[Layers, list[str]]]:
    """The pictures and fills behind the parts of a header, and those of its rows.

    Returns:
        By the name of the row, or None for the header itself: each set of them, with the looks
        that have it. Nothing for what has none.
    """
    found: dict[str | None, dict[Layers, list[str]]] = {}
    for look in header.looks:
        own: dict[str | None, Layers] = {None: look.layers[0]}
        own |= {name: row.layers[0] for name, row in look.rows.items()}
        for row, layers in own.items():
            if layers:
                found.setdefault(row, {}).setdefault(layers, []).append(look.name)
    return found


@dataclass(frozen=True)
class HeaderWriter:
    """Writes the rules of one header on one page at one viewport.

    Attributes:
        header: The header.
        naming: How everything is named.
        palette: How colours are written.
        pictures: The plan's pictures.
        stills: Whether looks change at once for readers who ask for less motion.
        masks: Gives the picture of a name as a CSS image that may be a mask.
        images: Gives the picture of a name as a CSS image.
    """

    header: HeaderSource
    naming: Naming
    palette: Palette
    pictures: Mapping[str, Picture]
    stills: bool
    masks: Callable[[str], str]
    images: Callable[[str], str]

    @property
    def own(self) -> str:
        """The selector of the header in any of its forms, as we mark it."""
        return self.naming.one("header", self.header.box.name)

    @property
    def here(self) -> str:
        """The selector of the header, without that of what it is under."""
        arrives = any(look.arrive for look in self.header.box.looks)
        own = self.naming.kind("header") * arrives + self.own
        return of_site(self.header.entry.selector, own)

    @property
    def arrivals(self) -> str:
        """The selector of the headers that arrive as second ones."""
        return f"[data-arrival]{self.own}"

    @property
    def both(self) -> str:
        """The selector of the header in any of its forms."""
        if not any(look.arrive for look in self.header.box.looks):
            return self.here
        site = self.header.entry.selector
        return f":is({site.text}, {self.own})" if site else self.own

    def numbers(self, root: str) -> Iterator[Statement]:
        """Every number that a designer may want to tune, as a custom property."""
        # Where the page's element is animated, its animations use them.
        yield CssRule(root if self.header.by_css else f"{root} {self.both}", self._numbers())

    def statements(self, root: str) -> Iterator[Statement]:
        """Its rules.

        Args:
            root: The selector of what everything is under.
        """
        here = f"{root} {self.both}"
        yield CssRule(f"{root} {self.here}", self._base())
        if self.here != self.both:
            yield CssRule(f"{root} {self.arrivals}", self._arrival_base())
        yield CssRule(f"{here}{self.side()}", {"gap": self.naming.use("gap")})
        if self.header.entry.rows:
            # What is higher than its row stands above the rows that follow.
            yield CssRule(f"{here}{self.side()}", {"z-index": "1"})
        for name in self.header.entry.rows:
            yield CssRule(f"{here}{self.row(name)}", self._row_base(name))
        for name, part in self.header.entry.parts.items():
            yield CssRule(f"{here} {self.part(name)}", self._part_base(name, part))
            if part.image and self._has_shapes(name):
                yield CssRule(f"{here} {self.part(name)} img", {"height": "100%"})
            yield from self._masks(f"{here} {self.part(name)}", name, part)
        yield from self._fill_rules(root)
        yield from self._layer_rules(root)
        yield from self._looks(root, self.declared())
        yield from self._solid(root)

    def declared(self) -> dict[str, Declared]:
        """What each look declares, by the selector within the header."""
        return {look: self._look_declarations(look) for look in self.header.box.look_names}

    def printed(self, root: str) -> Iterator[Statement]:
        """On paper the header is there once, at the top of the first page."""
        flows = self.header.box.in_flow
        place = {"position": "relative"} if flows else {"position": "absolute"}
        yield CssRule(f"{root} {self.here}", place | {"top": "0"}, (PRINT,))
        if self.here != self.both:
            yield CssRule(f"{root} {self.arrivals}", {"display": "none"}, (PRINT,))

    def _looks(self, root: str, declared: Mapping[str, Declared]) -> Iterator[Statement]:
        """What most looks declare, and what each declares in its place."""
        # Browsers without style queries show what stands outside of them.
        usual = _usual(declared, self.header.at_first if self.header.by_css else None)
        for inner, declarations in usual.items():
            yield CssRule(f"{root} {self.both}{inner}", declarations)
        for name, rules in declared.items():
            for inner, declarations in rules.items():
                own = _without(declarations, usual.get(inner, {}))
                if self.header.by_css:
                    yield CssRule(f"{root} {self.both}{inner}", own, (self.query({"look": name}),))
                else:
                    yield CssRule(f"{root} {self._selector_when_drawn(name)}{inner}", own)

    def _solid(self, root: str) -> Iterator[Statement]:
        """Opaque grounds for readers who ask for them, also while one look becomes another."""
        named = self.palette.colors.values()
        found = {
            look: color
            for look in self.header.box.look_names
            if self._says("background")
            and (color := solid_color(self.header.entry, look, named)) is not None
        }
        for look, color in found.items():
            declared = {"background-color": f"{self.palette.color(color)} !important"}
            if any(item.blur for item in self.header.box.looks):
                declared["backdrop-filter"] = "none !important"
            by_css = self.header.by_css
            drawn = self.both if by_css else self._selector_when_drawn(look)
            query = (self.query({"look": look}),) if by_css else ()
            yield CssRule(f"{root} {drawn}", declared, (SOLID, *query))
        boxes = [self.naming.kind("fill")] * bool(gradient_fills(self.header.box))
        boxes += [self.naming.kind("backdrop")] * bool(backdrops_of(self.header.box))
        if found and boxes:
            inner = f":is({', '.join(boxes)})" if boxes[1:] else boxes[0]
            yield CssRule(f"{root} {self.both} {inner}", {"display": "none"}, (SOLID,))

    def query(self, states: Mapping[str, str]) -> str:
        """The style query of what the page's element says.

        Args:
            states: Values by what they are of, such as ``look``; empty for any value.
        """
        asked = (
            f"style({self.naming.variable(name)}{f': {value}' if value else ''})"
            for name, value in states.items()
        )
        return f"@container {' and '.join(asked)}"

    @property
    def timelines(self) -> LookTimelines:
        """What writes how the scroll gives it its looks."""
        lower: dict[str, tuple[str, str]] = {}
        for name in self.header.box.look_names if self.header.box.is_pinned else ():
            height = self._number(name, "height", given=self._has_own_height(name))
            lower[name] = self.naming.use("top"), height
        return LookTimelines(self.header, self.naming, lower)

    # --- numbers -----------------------------------------------------------------------------

    def _numbers(self) -> dict[str, str]:
        """The header's numbers by their names.

        Raises:
            RequestError: If names of the plan make one name of two.
        """
        numbers: dict[str, str] = {}
        for key, value in self._named_numbers():
            name = self.naming.variable(key)
            if numbers.setdefault(name, value) != value:
                raise RequestError(
                    f"names of looks and parts of the header {quoted(self.header.box.name)} make "
                    f"{name} of two numbers, as 'slim' with 'logo' and 'slim-logo' do; rename one"
                )
        return numbers

    def _named_numbers(self) -> Iterator[tuple[str, str]]:
        """Each number, with the words of its name put together by hyphens."""
        entry, first = self.header.entry, self.header.box.look_names[0]
        yield from ((f"row-{name}-height", self._own_height(first, name)) for name in entry.rows)
        yield "height", self._height(first)
        yield "top", entry.top.css("vh")
        yield "padding", entry.padding.left.css()
        yield "gap", entry.gap.css()
        for name, part in entry.parts.items():
            for key, value in self._part_numbers(part).items():
                yield f"{name}-{key}", value
        for look_name in self.header.box.look_names:
            look = entry.look(look_name)
            change = entry.change_to(look_name)
            own = {
                "from": self._start(look.from_) if look.from_ else None,
                "back": threshold(look.back) if look.back else None,
                "blend": change.distance.css() if isinstance(change, Blend) else None,
                **self._row_numbers(look_name),
                "height": self._height(look_name) if self._has_own_height(look_name) else None,
                "padding": look.padding.left.css() if look.padding else None,
                "after": look.after.css("vh") if look.going else None,
            }
            if look_name == self.header.box.look_names[0] and not entry.under:
                own["blend"] = None  # it replaces no other
            elif isinstance(change, Fade):
                yield "-".join(self.time(look_name)), f"{number(change.duration_ms)}ms"
            for part_name, changed in look.parts.items():
                own[f"{part_name}-width"] = changed.width.css("vw") if changed.width else None
                own[f"{part_name}-size"] = font_size(changed.size) if changed.size else None
            yield from ((f"{look_name}-{key}", value) for key, value in own.items() if value)

    def time(self, look: str) -> tuple[str, ...]:
        """The words for the time in which a look fades in: one for all looks that CSS switches."""
        return ("time",) if self.header.by_css else (look, "time")

    def _start(self, place: Threshold) -> str:
        """A threshold; of one at an edge, only what is added where CSS knows the edge."""
        return place.offset.css() if self.header.by_css and place.edge else threshold(place)

    def _row_numbers(self, look: str) -> dict[str, str]:
        """The heights of rows that are others in a look than in the first."""
        return {
            f"row-{name}-height": self._own_height(look, name)
            for name in self.header.entry.rows
            if self._has_own_row(look, name)
        }

    def _has_own_height(self, look: str) -> bool:
        """Whether a look sets the header's height to something else than the first look has."""
        first = self.header.box.look_names[0]
        return look != first and self._height(look) != self._height(first)

    def _has_own_row(self, look: str, row: str) -> bool:
        """Whether a look sets a row's height to something else than the first look has."""
        first = self.header.box.look_names[0]
        return look != first and self._own_height(look, row) != self._own_height(first, row)

    def _height(self, look: str) -> str:
        """The height of a header in a look; with rows it is the sum of theirs."""
        entry = self.header.entry
        if not entry.rows:
            return self._own_height(look, None)
        return sum_of(
            self._row_number(look, name)
            for name in entry.rows
            if not entry.row_in(look, name).hidden
        )

    def _row_number(self, look: str, row: str) -> str:
        """The custom property that has the height of a row in a look."""
        given = [look] if self._has_own_row(look, row) else []
        return self.naming.use(*given, "row", row, "height")

    def _own_height(self, look: str, row: str | None) -> str:
        """The height of a row, or of a header without rows, by the numbers of its parts."""
        return own_height(self.header, look, row, partial(self._part_number, look))

    def _part_number(self, look: str, name: str) -> str:
        """The font size of a text or the width of a picture in a look."""
        part, change = self.header.entry.parts[name], self.header.entry.look(look).part(name)
        key = "width" if part.text is None else "size"
        given = getattr(change, key) is not None
        if key == "width" and not (given or part.width):
            return f"{number(self.header.look(look).styles[name].width)}px"
        return self.naming.use(*((look, name) if given else (name,)), key)

    def _part_numbers(self, part: Part) -> dict[str, str]:
        if part.text is not None:
            return {"size": font_size(part.size), "gap": part.gap.css()}
        width = part.width.css("vw") if part.width else None
        return {"width": width or f"{self.pictures[part.image or ''].width}px"}

    # --- what all looks have -------------------------------------------------------------------

    def _base(self) -> dict[str, str]:
        entry = self.header.entry
        position = "relative" if entry.position == "static" else entry.position
        declarations = {"position": position, "z-index": str(entry.z)}
        if entry.position in {"fixed", "absolute"}:
            declarations |= {"left": "0", "right": "0"}
        declarations |= self._width()
        if entry.position != "static":
            declarations["top"] = self.naming.use("top")
        return declarations

    def _width(self) -> dict[str, str]:
        width = self.header.entry.width
        if width == WHOLE:
            return {}
        return {"width": width.css(), "margin-left": "auto", "margin-right": "auto"}

    def _arrival_base(self) -> dict[str, str]:
        top = self.naming.use("top") if self.header.entry.position != "static" else "0"
        place = {"position": "fixed", "top": top, "left": "0", "right": "0"}
        return place | {"z-index": str(self.header.entry.z), "visibility": "hidden"} | self._width()

    def page_rules(self, page: str) -> Iterator[Statement]:
        """What the header does to the page that it is on, whose selector is given."""
        entry, box = self.header.entry, self.header.box
        top, height = entry.top.css("vh"), height_of(self.header, box.look_names[0])
        if not box.in_flow and not entry.starts_under:
            room = height if top in {"0px", "0vh"} else f"max({top} + {height}, 0px)"
            yield CssRule(page, {"padding-top": room})
        if entry.container:
            yield CssRule(page, {"height": entry.container.css("vh")})
        outer = f":root:has({page})"
        document: dict[str, str] = {}
        if stays_at_last(self.header):
            document["scroll-padding-top"] = covered_by(self.header, box.look_names[-1])
        if box.in_flow and (entry.hold_space or entry.starts_under):
            # The flow never moves: a browser that scrolls to keep its place would only push.
            document["overflow-anchor"] = "none"
            inner = f":is({self.naming.kind('main')}, {self.naming.kind('section')})"
            yield CssRule(f"{page}, {page} {inner}", {"overflow-anchor": "none"})
        yield CssRule(outer, document)

    def row(self, name: str) -> str:
        """The selector of a row, within the header."""
        return f" > {self.naming.one('row', name)}"

    def side(self, row: str | None = None) -> str:
        """The selector of the groups of parts, within the header, or of those of one row."""
        rows = f" > {self.naming.kind('row')}" if self.header.entry.rows else ""
        holder = self.row(row) if row else rows
        return f"{holder} > {self.naming.kind('side')}"

    def backdrop(self, row: str | None, number_: int) -> str:
        """The selector of a set of pictures and fills of a row or the header, within the header."""
        boxes = f" > {self.naming.kind('backdrops')} > {self.naming.kind('backdrop')}"
        return f"{self.row(row) if row else ''}{boxes}:nth-child({number_})"

    def part(self, name: str) -> str:
        """The selector of a part, within the header."""
        return of_site(self.header.entry.parts[name].selector, self.naming.one("part", name))

    def _part_base(self, name: str, part: Part) -> dict[str, str]:
        if part.text is None:
            return {}
        declared = {
            "font": ("font-family", family(part.font, self.naming.prefix)),
            "weight": ("font-weight", str(part.weight)),
            "gap": ("gap", self.naming.use(name, "gap")),
            "leading": ("line-height", number(part.leading)),
        }
        if part.selector is None and part.leading == Part.model_fields["leading"].default:
            del declared["leading"]  # as all parts have it
        return dict(pair for key, pair in declared.items() if self._says_of(name, key))

    def _says(self, key: str) -> bool:
        """Whether the plan says something of the header in a look, or the header is our own."""
        entry = self.header.entry
        said = any(key in item.model_fields_set for item in (entry, *entry.looks.values()))
        return said or entry.selector is None

    def _says_of(self, name: str, key: str) -> bool:
        """Whether the plan says something of a part in a look, or the part is our own."""
        part, looks = self.header.entry.parts[name], self.header.entry.looks.values()
        said = any(key in item.model_fields_set for item in (part, *(x.part(name) for x in looks)))
        return said or part.selector is None

    def _masks(self, here: str, name: str, part: Part) -> Iterator[Statement]:
        """The pictures of a tinted part, each the mask of its own box."""
        if not part.tint:
            return
        # The picture itself, which gives the box its shape and its name, is moved out of it.
        shape = {"background-color": "currentcolor", "object-position": "-10000px 0"}
        size = {"mask-size": "100% 100%", "print-color-adjust": "exact"}
        yield CssRule(f"{here} img", shape | size)
        # Text on the page's own ground, whatever picture or gradient is behind the header.
        forced = {"forced-color-adjust": "none"}
        within = (FORCED,)
        yield CssRule(here, forced | {"background-color": "Canvas"}, within)
        inked = {"background-color": "CanvasText", "mix-blend-mode": "normal"}
        yield CssRule(f"{here} img", forced | inked, within)
        for image, looks in images_of(self.header, name).items():
            mask = {"mask-image": self.masks(image)}
            yield CssRule(f'{here} img[data-looks~="{looks[0]}"]', mask)

    def _fill_rules(self, root: str) -> Iterator[Statement]:
        for index, fill in enumerate(gradient_fills(self.header.box), 1):
            kind = "background-color" if isinstance(fill, Color) else "background-image"
            inner = f"{self.naming.kind('fill')}:nth-child({index})"
            yield CssRule(f"{root} {self.both} {inner}", {kind: self.palette.fill(fill)})

    def _layer_rules(self, root: str) -> Iterator[Statement]:
        """The pictures and fills behind the parts, each set of them in a box of its own."""
        for row, sets in backdrops_of(self.header.box).items():
            for index, layers in enumerate(sets, 1):
                inner = self.backdrop(row, index)
                for place, layer in enumerate(layers):
                    here = f"{root} {self.both}{inner} > {self.naming.one('layer', place)}"
                    yield CssRule(here, self._layer(layer))

    def _layer(self, layer: HeaderLayer) -> dict[str, str]:
        """What one picture or fill behind the parts declares."""
        if isinstance(layer.fill, Color):
            declarations = {"background-color": self.palette.color(layer.fill)}
        else:
            extra = f", {self.naming.use('clear')}"
            image = self.palette.fill(layer.fill) if layer.fill else self.images(layer.name or "")
            declarations = {"background-image": image + extra * (layer.fill is None)}
            declarations |= placed(layer)
            declarations["background-repeat"] = " ".join(dict.fromkeys(layer.repeat))
        if layer.filters:
            declarations["filter"] = " ".join(item.css() for item in layer.filters)
        if layer.opacity < 1:
            declarations["opacity"] = number(layer.opacity)
        return declarations

    # --- looks ---------------------------------------------------------------------------------

    def _selector_when_drawn(self, look: str) -> str:
        """The selector of a header that is drawn in a look."""
        site = self.header.entry.look(look).selector
        if is_switched_by_site(self.header) and not site and look == self.header.box.look_names[0]:
            return self.both
        drawn = f'{self.both}[data-drawn="{look}"]'
        return f":is({drawn}, {site.text})" if site else drawn

    def _look_declarations(self, look: str) -> Declared:
        """What one look declares of the header and of what is in it."""
        entry = self.header.entry
        own = entry.look(look)
        declared: Declared = {"": self._look_declared(look)}
        padding = self._number(look, "padding", given=own.padding is not None)
        if not entry.rows:
            sides = {"left": padding, "right": padding}
            declared[self.side()] = sides | self._lean(look, None)
        for name in entry.rows:
            declared[self.row(name)] = self._row_declared(look, name)
            inset = entry.row_in(look, name).padding
            room = inset.left.css() if inset else padding
            sides = {"left": room, "right": room}
            declared[self.side(name)] = sides | self._lean(look, name)
        for name, part in entry.parts.items():
            inner = f" {self.part(name)}"
            declared[inner] = self._part_declared(look, name, part)
            declared |= self._link_states(inner, part, own.part(name))
            if part.selector and "color" in declared[inner]:
                # Links, headings and icons in it may have colours of their own.
                declared[f"{inner} *"] = {"color": "inherit"}
        return declared | self._shown(look)

    def _link_states(self, inner: str, part: Part, change: PartLook) -> Declared:
        """What the links of a part declare in each of their states, of which one counts."""
        states = states_in(part, change)
        declared: Declared = {}
        for index, (name, state) in enumerate(states.items()):
            later = ", ".join(_LINK_STATES[item] for item in list(states)[index + 1 :])
            alone = f":not({later})" if later else ""
            declarations = {}
            if state.color:
                declarations["color"] = self.palette.color(state.color)
            if state.background:
                declarations["background-color"] = self.palette.color(state.background)
            if state.underline is not None:
                declarations["text-decoration"] = "underline" if state.underline else "none"
            declared[f"{inner} :is(a, button){_LINK_STATES[name]}{alone}"] = declarations
        return declared

    def _shown(self, look: str) -> Declared:
        """Which pictures, gradients and sets of layers a look shows, of those that some do not."""
        box, entry = self.header.box, self.header.entry
        found = [
            (f' img[data-looks="{" ".join(looks)}"]', looks)
            for name in entry.parts
            for looks in images_of(self.header, name).values()
        ]
        for index, looks in enumerate(gradient_fills(box).values(), 1):
            found.append((f" {self.naming.kind('fill')}:nth-child({index})", looks))
        for row, sets in backdrops_of(box).items():
            for index, looks in enumerate(sets.values(), 1):
                found.append((self.backdrop(row, index), looks))
        every = len(box.looks)
        return {
            inner: {"opacity": "1" if look in looks else "0"}
            for inner, looks in found
            if len(looks) < every
        }

    def _lean(self, look: str, row: str | None) -> dict[str, str]:
        """What moves parts down that have more room above than below."""
        names = self.header.box.look_names
        paddings = [self.header.entry.padding_in(name, row) for name in names]
        if all(padding.top == padding.bottom for padding in paddings):
            return {}
        own = self.header.entry.padding_in(look, row)
        return {"top": difference(own.top, own.bottom, "vw")}

    def _number(self, look: str, key: str, *, given: bool) -> str:
        return self.naming.use(look, key) if given else self.naming.use(key)

    def _look_declared(self, look_name: str) -> dict[str, str]:
        """What one look declares of the header itself."""
        entry, box = self.header.entry, self.header.box
        look = entry.look(look_name)
        shadow = entry.shadow if look.shadow is None else look.shadow
        height = self._number(look_name, "height", given=self._has_own_height(look_name))
        fill = self.header.look(look_name).fill
        declarations = {"height": height} if entry.rows or self._says("height") else {}
        if not gradient_fills(box) and self._says("background"):
            declarations["background-color"] = self.palette.fill(fill)
        if self._says("color"):
            declarations["color"] = self.palette.color(look.color or entry.color)
        if entry.shadow or any(entry.look(name).shadow for name in box.look_names):
            declarations["box-shadow"] = self.palette.shadows(shadow)
        if any(item.border for item in box.looks):
            declarations["border"] = self.palette.border(look.border or entry.border)
        if any(item.blur for item in box.looks):
            declarations["backdrop-filter"] = f"blur({(look.blur or entry.blur).css()})"
        if box.in_flow and not look.arrive:
            if entry.starts_under and box.home is None:
                declarations["margin-bottom"] = f"calc(-1 * {height})"
            elif entry.hold_space:
                held = self.naming.use("height")
                held_space = "0" if held == height else f"calc({held} - {height})"
                declarations["margin-bottom"] = held_space
        return declarations

    def _row_base(self, name: str) -> dict[str, str]:
        """What all looks have of a row."""
        clips = any(row.rows[name].clips for row in self.header.box.looks)
        return {"position": "relative"} | ({"overflow": "clip"} if clips else {})

    def _row_declared(self, look: str, name: str) -> dict[str, str]:
        """What one look declares of one row."""
        entry, box = self.header.entry, self.header.box
        row, rows = entry.row_in(look, name), [entry.row_in(item, name) for item in box.look_names]
        height = "0px" if row.hidden else self._row_number(look, name)
        declarations = {"height": height}
        if any(item.background for item in rows):
            declarations["background-color"] = self.palette.color(row.background or TRANSPARENT)
        if any(item.color for item in rows):
            text = row.color or entry.look(look).color or entry.color
            declarations["color"] = self.palette.color(text)
        if any(item.border for item in rows):
            declarations["border"] = self.palette.border(row.border)
            if row.hidden and row.border:
                # Its colour stays, so that the border leaves as it is.
                declarations["border"] = f"0px solid {self.palette.color(row.border.color)}"
        if any(item.hidden for item in rows):
            declarations["visibility"] = "hidden" if row.hidden else "inherit"
        return declarations

    def _part_declared(self, look: str, name: str, part: Part) -> dict[str, str]:
        """What one look declares of one part."""
        box, entry = self.header.box, self.header.entry
        style, length = self.header.look(look).styles[name], self._part_number(look, name)
        key, prop = ("width", "width") if part.text is None else ("size", "font-size")
        declarations = {prop: length} if self._says_of(name, key) else {}
        if part.text is None and self._has_shapes(name):
            own = self.pictures[entry.image_of(name, look) or ""]
            declarations["height"] = f"calc({length} * {own.height} / {own.width})"
        is_inked = part.text is not None or part.tint
        if is_inked and (self._has_own_color(name) or (part.selector and self._says_color(part))):
            declarations["color"] = self.palette.color(style.color)
        if any(item.styles[name].hidden for item in box.looks):
            declarations["display"] = "none" if style.hidden else "flex"
        return declarations

    def _has_own_color(self, name: str) -> bool:
        """Whether a part has another colour than its header in any look."""
        return any(look.styles[name].own_color for look in self.header.box.looks)

    def _says_color(self, part: Part) -> bool:
        """Whether the plan says which colour texts have around a part, in any look."""
        entry = self.header.entry
        name = part.row or next(iter(entry.rows), None)
        rows = [entry.row_in(look, name) for look in self.header.box.look_names] if name else []
        return any(row.color for row in rows) or "color" in {
            key for item in (entry, *entry.looks.values()) for key in item.model_fields_set
        }

    def _has_shapes(self, name: str) -> bool:
        """Whether a part has pictures of different proportions."""
        pictures = [self.pictures[image] for image in images_of(self.header, name)]
        return len({Fraction(picture.width, picture.height) for picture in pictures}) > 1


def _usual(declared: Mapping[str, Declared], base: str | None = None) -> Declared:
    """What most looks declare, of what every look declares; the others say their own.

    Args:
        declared: What each look declares.
        base: The look that says it in place of most.
    """
    first = next(iter(declared.values()))
    usual: Declared = {}
    for inner, declarations in first.items():
        rules = [look.get(inner, {}) for look in declared.values()]
        names = [name for name in declarations if all(name in rule for rule in rules)]
        if base is not None:
            usual[inner] = {name: declared[base][inner][name] for name in names}
            continue
        values = {name: [rule[name] for rule in rules] for name in names}
        usual[inner] = {name: max(known, key=known.count) for name, known in values.items()}
    return usual


def _without(declarations: Declarations, others: Declarations) -> dict[str, str]:
    return {name: value for name, value in declarations.items() if others.get(name) != value}


def differing(declared: Mapping[str, Declared], inner: str) -> set[str]:
    """The properties that looks declare differently, by the selector within the header."""
    rules = [look.get(inner, {}) for look in declared.values()]
    names = {name for rule in rules for name in rule}
    return {name for name in names if len({rule.get(name) for rule in rules}) > 1}


def is_switched_by_site(header: HeaderSource) -> bool:
    """Whether the site itself says which look its header is in, by selectors."""
    return any(look.selector for look in header.entry.looks.values())
