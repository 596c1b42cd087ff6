"""Headers: their parts, and their looks along the scroll."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import BeforeValidator, Field, model_validator

from rising_lantern.css.colors import BLACK, TRANSPARENT
from rising_lantern.css.insets import Insets
from rising_lantern.css.length_parsing import parse_length
from rising_lantern.css.lengths import Length, percent, px
from rising_lantern.errors import listed, quoted
from rising_lantern.plan.models.addresses import AddressValue
from rising_lantern.plan.models.base import (
    AnyLength,
    Auto,
    BorderValue,
    ColorValue,
    Entry,
    EvenInsetsValue,
    Extent,
    Flag,
    FontSize,
    HeightValue,
    Name,
    Number,
    SelectorValue,
    ShadowValue,
    Tone,
    Weight,
    Whole,
    key,
    like,
    nearest,
    read_css,
    wrong,
)
from rising_lantern.plan.models.changes import Blend, Change, ChangeValue, Cut
from rising_lantern.plan.models.content import ButtonState
from rising_lantern.plan.models.fills import FillValue
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.show import Show
from rising_lantern.plan.models.thresholds import ThresholdValue

_MOST_LAYERS = 20
# A header moves as a whole, and shows no slides or videos.
_LAYER_KEYS = frozenset({"image", "fill", "size", "position", "repeat", "opacity", "filter"})


def _one_or_many(value: Any) -> Any:
    return [value] if isinstance(value, str) else value


Words = Annotated[
    tuple[Annotated[str, Field(max_length=200)], ...],
    BeforeValidator(_one_or_many, json_schema_input_type=str | list[str]),
]


class LinkState(ButtonState):
    """What the links of a part change while something is done with them."""

    underline: Flag | None = key("Whether they are underlined.", True, None)


class LinkStates(Entry):
    """The states of the links of a part; the last of them that holds counts."""

    current: LinkState | None = key("On the page that it leads to.", {"underline": True}, None)
    focus: LinkState | None = key("While it has the focus.", {"color": "#0b1026"}, None)
    hover: LinkState | None = key("While the pointer is over it.", {"color": "#f7b97c"}, None)
    pressed: LinkState | None = key("While it is pressed.", {"color": "#0b1026"}, None)

    @property
    def known(self) -> dict[str, LinkState]:
        """Those that are given, by their names, each before those that count in its place."""
        found = {name: getattr(self, name) for name in type(self).model_fields}
        return {name: state for name, state in found.items() if state is not None}


class Part(Entry):
    """Something that stands in a header: a text or row of texts, or a picture."""

    text: Words | None = key("A text, or several side by side.", ["Programme", "Visit"], None)
    image: str | None = key("A picture file in the plan's folder.", "logo-dark.png", None)
    alt: str = key("Text alternative of the picture.", "Saltmere", "", max_length=500)
    width: Extent | None = key("Width of the picture; by default its own.", "168px", None)
    size: FontSize = key("Font size of the text.", "17px", px(16))
    font: Name = key("A font of the plan, or sans or serif.", "serif", "sans")
    weight: Weight = key("As CSS font-weight.", 600, 400)
    leading: Number = key("Line height, as a multiple of the font size.", 1.2, 1.4, gt=0, le=10)
    color: ColorValue | None = key("Its own colour; by default the look's.", "#a00", None)
    gap: Extent = key("Space between several texts.", "20px", px(28))
    tint: Literal["current"] | None = key(
        "'current' paints the picture's shape in the colour that a text would have here, so that "
        "it changes with the looks. The picture needs transparency.",
        "current",
        None,
    )
    side: Literal["start", "center", "end"] = key(
        "The side of the header that it is on.", "end", "start"
    )
    row: Name | None = key(
        "The row of the header that it is in; by default the first.", "upper", None
    )
    hidden: Flag = key("Whether it is hidden.", True, default_factory=bool)
    selector: SelectorValue | None = key("Its CSS selector on your own site.", ".brand", None)
    links: dict[str, AddressValue] = key(
        "Where its words lead, or its picture, by its 'alt': a page of the plan, a path or an "
        "address; by default to the page of that name or title, and a telephone number calls it.",
        {"Programme": "/programme"},
        {},
        max_length=50,
    )
    states: LinkStates | None = key(
        "What its links change under the pointer, with the focus, while they are pressed, and on "
        "the page that they lead to.",
        {"hover": {"color": "#f7b97c"}, "current": {"underline": True}},
        None,
    )
    logo: Flag = key(
        "Whether it is a logo: WCAG sets no limit for logos, so low contrast is only noted.",
        True,
        default_factory=bool,
    )
    least_contrast: Number | None = key(
        "The contrast that it needs; by default 4.5 for a text, 3 for a large one and a picture.",
        7,
        None,
        ge=1,
        le=21,
        alias="contrast",
    )

    @model_validator(mode="after")
    def _check(self) -> Self:
        if (self.image is None) == (self.text is None):
            both = self.text is not None
            problem = "has both a text and an image" if both else "has neither a text nor an image"
            raise wrong(f"the part {problem}", "give it exactly one of them")
        if self.tint and self.image is None:
            raise wrong("a text has a 'tint'", "remove it: a text has the look's colour as it is")
        if self.states and self.text is None and not self.tint:
            raise wrong("a picture of its own colours has 'states'", "remove them, or tint it")
        words = (self.alt,) if self.text is None else self.text
        for linked in self.links:
            if linked not in words:
                own = "its 'alt'" if self.text is None else "one of its texts"
                raise wrong(f"{quoted(linked)} is not {own}", nearest(linked, words))
        return self


class HeaderRow(Entry):
    """A horizontal part of a header, as wide as it; the first row is on top."""

    hidden: Flag = key("Whether it is left out, with its parts.", True, default_factory=bool)
    height: HeightValue = key(
        "Its height, or 'auto' for that of its parts and padding; the header is as high as all of "
        "its rows.",
        "36px",
    )
    background: ColorValue | None = key("Its colour, over the header's.", "#16213e", None)
    layers: tuple[Layer, ...] = key(
        "Pictures and fills over its colour, topmost first, as a header has them.",
        [{"fill": "#0008"}],
        (),
        max_length=_MOST_LAYERS,
    )
    color: ColorValue | None = key("Colour of its texts; by default the header's.", "#fdf6e3", None)
    border: BorderValue | None = key("As CSS border.", "1px solid #16213e", None)
    padding: EvenInsetsValue | None = key("Its padding; by default the header's.", "20px", None)


class RowLook(Entry):
    """What a look changes in one row."""

    hidden: Flag | None = key("Whether it is left out, with its parts.", True, None)
    height: HeightValue | None = key("Another height.", "28px", None)
    background: ColorValue | None = key("Another colour.", "#fdf6e3", None)
    layers: tuple[Layer, ...] | None = key(
        "Other pictures and fills, in place of the row's.",
        [{"fill": "#0008"}],
        None,
        max_length=_MOST_LAYERS,
    )
    color: ColorValue | None = key("Another colour of its texts.", "#16213e", None)
    border: BorderValue | None = key("Another border.", "1px solid #fdf6e3", None)
    padding: EvenInsetsValue | None = key("Another padding.", "12px", None)


class PartLook(Entry):
    """What a look changes in one part."""

    image: str | None = key("Another picture.", "logo-light.png", None)
    width: Extent | None = key("Another width of the picture.", "132px", None)
    size: FontSize | None = key("Another font size.", "15px", None)
    color: ColorValue | None = key("Another colour.", "#fff", None)
    hidden: Flag | None = key("Whether it is hidden.", True, None)
    states: LinkStates | None = key(
        "Other states of its links; those that are not named are as in the part.",
        {"hover": {"color": "#7b3f00"}},
        None,
    )


def states_in(part: Part, change: PartLook) -> dict[str, LinkState]:
    """The states of a part's links in a look, each before those that count in its place."""
    found = part.states.known if part.states else {}
    if change.states:
        found = found | change.states.known
    return {name: found[name] for name in LinkStates.model_fields if name in found}


class Look(Entry):
    """One appearance of a header. What it leaves out is as the header has it."""

    like: str | None = like("look of its header, or HEADER.LOOK of another one,", "clear")

    from_: ThresholdValue | None = key(
        "Where it starts: a length, a percentage of the scroll range, or past or reach a section, "
        "plus or minus a length. The first look has none.",
        "180px",
        None,
    )
    back: ThresholdValue | None = key(
        "Where it ends for a reader who scrolls back up; by default where it starts.", "140px", None
    )
    going: Literal["down", "up"] | None = key(
        "The way in which the reader has to scroll for it, in place of any other look. Only the "
        "last look of a header has one, and one in the flow needs 'hold-space: true'.",
        "up",
        None,
    )
    after: Extent = key(
        "With 'going', how far the reader goes that way before it starts, and the other way "
        "before it ends.",
        "24px",
        px(0),
    )
    background: FillValue | None = key("Its colour or gradient.", "#fdf6e3", None)
    layers: tuple[Layer, ...] | None = key(
        "Pictures and fills over its colour, topmost first, in place of the header's.",
        [{"fill": "#0008"}],
        None,
        max_length=_MOST_LAYERS,
    )
    blur: Extent | None = key("Blur of what is behind it.", "12px", None)
    solid: ColorValue | None = key(
        "Its opaque ground for readers who prefer more contrast or less transparency; by default "
        "its own colour made opaque, or another one of the plan that its texts can be read on.",
        "#16213e",
        None,
    )
    color: ColorValue | None = key("Colour of its texts.", "#16213e", None)
    height: HeightValue | None = key("Height of the header.", "64px", None)
    padding: EvenInsetsValue | None = key("Another padding.", "20px", None)
    border: BorderValue | None = key("As CSS border.", "1px solid #16213e", None)
    shadow: ShadowValue | None = key("As CSS box-shadow.", "0 2px 12px #0003", None)
    rows: dict[Name, RowLook] = key("Changes to its rows.", {"upper": {"hidden": True}}, {})
    parts: dict[Name, PartLook] = key("Changes to its parts.", {"brand": {"width": "120px"}}, {})
    change: ChangeValue | None = key(
        "How this look replaces the one before; by default as the header says.",
        "fade 260ms ease-out",
        None,
    )
    arrive: Literal["slide", "fade"] | None = key(
        "Show it as a second header, which slides in from above or fades in over the first "
        "and stays on the screen.",
        "slide",
        None,
    )

    selector: SelectorValue | None = key(
        "The CSS selector that its header has on your own site while this look holds: then the "
        "site switches, and no script of ours is needed.",
        "header.set-off",
        None,
    )

    def row(self, name: str) -> RowLook:
        """What is different in one row: nothing, where the look does not name it."""
        return self.rows.get(name, RowLook())

    def part(self, name: str) -> PartLook:
        """What is different in one part: nothing, where the look does not name it."""
        return self.parts.get(name, PartLook())


class Header(Entry):
    """A header and its looks."""

    like: str | None = like("header", "main", "'show' is never taken over.")

    position: Literal["static", "absolute", "fixed", "sticky"] = key(
        "As CSS position.", "sticky", "fixed"
    )
    inside: str | None = key(
        "What a sticky header sticks within: a section, or a container of some height from the "
        "top of the page; by default the page.",
        "hero",
        None,
        max_length=200,
    )
    over: Flag | None = key(
        "Whether the first section starts behind it; "
        "by default true for fixed and absolute headers.",
        False,
        None,
    )
    top: AnyLength = key("Distance from the top of the screen.", "10px", px(0))
    z: Whole = key("As CSS z-index.", 20, 10, ge=-1_000_000, le=1_000_000)
    width: Extent = key("Width.", "1100px", percent(100))
    height: HeightValue = key(
        "Height, or 'auto' for that of its parts and padding.", "96px", px(80)
    )
    hold_space: Flag = key(
        "Whether the first look's height stays reserved in the flow, by a margin below.",
        True,
        default_factory=bool,
    )
    padding: EvenInsetsValue = key(
        "As CSS padding, alike on the left and right. Parts stand half-way up between what is "
        "above and below; 'height: auto' is as high as they are, with both.",
        "12px 40px",
        Insets(px(32), px(32), px(32), px(32)),
    )
    gap: Extent = key("Space between its parts.", "20px", px(28))
    background: FillValue = key("Its colour or gradient.", "#fdf6e3", TRANSPARENT)
    layers: tuple[Layer, ...] = key(
        "Pictures and fills over its colour, topmost first: image or fill with size, position, "
        "repeat, opacity and filter.",
        [{"fill": "#0008"}],
        (),
        max_length=_MOST_LAYERS,
    )
    blur: Extent = key("Blur of what is behind it.", "12px", px(0))
    solid: ColorValue | None = key(
        "The opaque ground of all looks for readers who prefer more contrast or less transparency.",
        "#16213e",
        None,
    )
    border: BorderValue | None = key("As CSS border.", "1px solid #16213e", None)
    color: ColorValue = key("Colour of its texts.", "#16213e", BLACK)
    shadow: ShadowValue = key("As CSS box-shadow.", "0 2px 12px #0003", ())
    rows: dict[Name, HeaderRow] = key(
        "Its rows, by name, from top to bottom; parts say in which they are.",
        {"upper": {"height": "36px"}, "lower": {"height": "80px"}},
        {},
    )
    parts: dict[Name, Part] = key("Its parts, by name.", {"brand": {"text": "Saltmere"}}, {})
    looks: dict[Name, Look] = key(
        "Its looks by name, in the order of the scroll.",
        {"clear": {}, "solid": {"from": "200px"}},
        {},
    )
    under: dict[Tone, Name] = key(
        "The look over sections of each tone, instead of scroll positions.",
        {"dark": "clear", "light": "solid"},
        {},
    )
    change: ChangeValue = key("How one look replaces another.", "blend 120px ease-in-out", Cut())
    selector: SelectorValue | None = key(
        "Its CSS selector on your own site.", "body > header", None
    )
    show: Show = key(
        "The pages and viewports that it is shown on.", {"only": ["/journal/*"]}, Show()
    )

    @property
    def starts_under(self) -> bool:
        """Whether the first section starts under it."""
        return self.position in {"fixed", "absolute"} if self.over is None else self.over

    @property
    def container(self) -> Length | None:
        """The height of the container that a sticky header lives in; None for a section or none."""
        if self.inside is None or self.inside[:1].isalpha():
            return None
        return parse_length(self.inside)

    @model_validator(mode="after")
    def _check(self) -> Self:
        self._check_rows()
        self._check_layers()
        for solid in (self.solid, *(look.solid for look in self.looks.values())):
            if solid is not None and solid.alpha < 1:
                raise wrong("a 'solid' ground lets something through", "make it opaque")
        for index, (name, look) in enumerate(self.looks.items()):
            self._check_look(index, name, look)
            self._check_going(index, name, look)
            self._check_parts(name, look)
        for look_name in self.under.values():
            if look_name not in self.looks:
                remedy = nearest(look_name, self.looks)
                raise wrong(
                    f"'under' names a look {quoted(look_name)} that it does not have", remedy
                )
        if self.under and self.position not in {"fixed", "sticky"}:
            raise wrong(
                "'under' needs a header that stays on the screen", "make it fixed or sticky"
            )
        if self.inside is not None and self.position != "sticky":
            raise wrong("'inside' needs a sticky header", "set its position to sticky")
        if self.inside is not None and not self.inside[:1].isalpha():
            read_css(parse_length, self.inside)
        return self

    def _check_layers(self) -> None:
        looks = self.looks.values()
        owners: list[Header | HeaderRow | Look | RowLook] = [self, *self.rows.values(), *looks]
        owners += [row for look in looks for row in look.rows.values()]
        for layer in (item for owner in owners for item in owner.layers or ()):
            extra = sorted(layer.model_fields_set - _LAYER_KEYS)
            if extra:
                problem = f"a layer of a header has {quoted(extra[0].rstrip('_'))}"
                raise wrong(problem, f"it can have {listed(sorted(_LAYER_KEYS))}")

    def _check_rows(self) -> None:
        owners: list[tuple[str, Header | Look]] = [("the header", self)]
        owners += [(f"the look {quoted(name)}", look) for name, look in self.looks.items()]
        for what, owner in owners:
            for own in ("height", "border") if self.rows else ():
                if own in owner.model_fields_set and getattr(owner, own) is not None:
                    raise wrong(f"{what} has a {own}, and the header has rows", "set it on a row")
            for name in owner.rows:
                if name not in self.rows:
                    raise wrong(
                        f"{what} names a row {quoted(name)} that the header does not have",
                        nearest(name, self.rows),
                    )
        for name, part in self.parts.items():
            if part.row is not None and part.row not in self.rows:
                raise wrong(
                    f"the part {quoted(name)} is in a row {quoted(part.row)} "
                    "that the header does not have",
                    nearest(part.row, self.rows),
                )

    def _check_going(self, index: int, name: str, look: Look) -> None:
        if not look.going:
            if "after" in look.model_fields_set:
                raise wrong(
                    f"the look {quoted(name)} has an 'after', and no 'going'",
                    "add 'going: up', or remove it",
                )
            return
        if index != len(self.looks) - 1 or index == 0:
            raise wrong(
                f"the look {quoted(name)} has a 'going', and is not the last of several",
                "put it at the end, with 'from: 0px' where it starts at the top",
            )
        if self.under:
            raise wrong(
                f"the look {quoted(name)} has a 'going', and the header has 'under'",
                "keep one of them",
            )
        if self.position in {"static", "sticky"} and not (self.hold_space or self.starts_under):
            raise wrong(
                f"the look {quoted(name)} has a 'going', and would move the page with it",
                "set 'hold-space: true' on the header, or make it fixed",
            )
        if isinstance(self.change_to(name), Blend):
            raise wrong(
                f"the look {quoted(name)} has both a blend and a 'going'",
                "write 'change: fade 200ms', or cut",
            )

    def _check_look(self, index: int, name: str, look: Look) -> None:
        if index == 0 and look.from_:
            raise wrong(
                f"the first look {quoted(name)} has a 'from'",
                "put a look without 'from' before it, for the top of the page",
            )
        if index == 0 and look.arrive:
            raise wrong(
                f"the first look {quoted(name)} has an 'arrive'",
                "put a look without 'arrive' before it: a second header arrives over a first one",
            )
        if index and not look.from_ and not self.under:
            raise wrong(
                f"the look {quoted(name)} has no 'from'",
                "add 'from' with the position where it starts",
            )
        if look.back and isinstance(self.change_to(name), Blend):
            raise wrong(
                f"the look {quoted(name)} has both a blend and a 'back'",
                "remove 'back': a blend runs back over the same distance",
            )
        if self.under and (look.from_ or look.back):
            raise wrong(
                f"the look {quoted(name)} has a 'from' or 'back', and the header has 'under'",
                "keep one of them",
            )

    def _check_parts(self, name: str, look: Look) -> None:
        for part_name, change in look.parts.items():
            part = self.parts.get(part_name)
            if part is None:
                raise wrong(
                    f"the look {quoted(name)} names a part {quoted(part_name)} "
                    "that the header does not have",
                    nearest(part_name, self.parts),
                )
            if change.image and not part.image:
                raise wrong(
                    f"the look {quoted(name)} gives an image to the text {quoted(part_name)}",
                    "change the part from text to image, or set a colour in the look",
                )

    def look(self, name: str) -> Look:
        """One of its looks; one that changes nothing for a header without looks."""
        return self.looks.get(name, Look())

    def change_to(self, look: str) -> Change:
        """How a look comes."""
        return self.look(look).change or self.change

    def height_in(self, look: str, row: str | None = None) -> Length | Auto:
        """The height of a row in a look, or that of a header without rows."""
        if row is not None:
            return self.row_in(look, row).height
        return self.look(look).height or self.height

    def padding_in(self, look: str, row: str | None = None) -> Insets:
        """The padding of a row in a look, or that of the header."""
        own = self.row_in(look, row).padding if row is not None else None
        return own or self.look(look).padding or self.padding

    def row_in(self, look: str, name: str) -> HeaderRow:
        """A row as it is in a look: what the look changes, over its own values."""
        change = self.look(look).row(name)
        changed = {of: value for of, value in change if value is not None}
        return self.rows[name].model_copy(update=changed)

    def layers_in(self, look: str) -> tuple[Layer, ...]:
        """Its pictures and fills in a look, the topmost first."""
        own = self.look(look).layers
        return self.layers if own is None else own

    def image_of(self, part: str, look: str) -> str | None:
        """The picture of a part in a look; None for a text."""
        return self.look(look).part(part).image or self.parts[part].image
