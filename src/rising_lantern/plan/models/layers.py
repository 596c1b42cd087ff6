"""Layers: the pictures and fills behind a section, and how they move."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BeforeValidator, model_validator

from rising_lantern.css.backgrounds import (
    CENTER,
    COVER,
    Position,
    Repeat,
    Size,
    parse_position,
    parse_repeat,
    parse_size,
)
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import Color
from rising_lantern.css.easings import LINEAR, CubicBezier, Easing, Linear, Steps, parse_easing
from rising_lantern.css.filters import Filter, parse_filters
from rising_lantern.css.lengths import px
from rising_lantern.css.regions import Region, parse_region
from rising_lantern.plan.models.base import (
    AnyLength,
    Entry,
    Number,
    SelectorValue,
    TimeValue,
    Tone,
    css_value,
    key,
    wrong,
)
from rising_lantern.plan.models.changes import Blend, ChangeValue, Cut, Fade
from rising_lantern.plan.models.fills import FillValue
from rising_lantern.plan.models.thresholds import ThresholdValue

SizeValue = Annotated[Size, css_value(parse_size, Size, "cover")]
PositionValue = Annotated[Position, css_value(parse_position, Position, "50% 40%")]
RepeatValue = Annotated[tuple[Repeat, Repeat], css_value(parse_repeat, tuple, "no-repeat")]
FilterValue = Annotated[tuple[Filter, ...], css_value(parse_filters, tuple, "brightness(.8)")]
RegionValue = Annotated[Region, css_value(parse_region, Region, "30% 20% 40% 50%")]
EasingValue = Annotated[Easing, css_value(parse_easing, (CubicBezier, Steps, Linear), "ease-out")]

# CSS Backgrounds 3, 3.7 and 3.8. Sections have no padding: their content box is the padding box.
BoxName = Literal["border-box", "padding-box", "content-box"]


LEAST_EVERY_MS = 500
"""The least time of a slide: what flashes faster can harm (WCAG 2.2, 2.3.1)."""


class PathStop(Entry):
    """A place along the scroll at which a layer is put, faded or scaled."""

    at: ThresholdValue = key("The scroll position of this stop.", "past hero")
    x: AnyLength = key("Distance to the right of its place.", "40px", px(0))
    y: AnyLength = key("Distance below its place.", "-20px", px(0))
    opacity: Number = key("Opacity, 0 to 1.", 0.5, 1.0, ge=0, le=1)
    scale: Number = key("Scale factor.", 1.2, 1.0, gt=0, le=20)
    easing: EasingValue = key("Easing on the way to the next stop.", "ease-in-out", LINEAR)


class Slide(Entry):
    """One of the pictures of a layer: in short its file, or these keys."""

    image: str = key("A picture file in the plan's folder.", "photo.png")
    tone: Tone | None = key(
        "The tone of the section while it shows, or from the middle of its fade on; by default "
        "the section's own.",
        "dark",
        None,
    )


SlideValue = Annotated[
    Slide,
    BeforeValidator(
        lambda value: {"image": value} if isinstance(value, str) else value,
        json_schema_input_type=str | Slide,
    ),
]


class Layer(Entry):
    """One background picture or fill."""

    image: str | None = key("A picture file in the plan's folder.", "photo.png", None)
    slides: tuple[SlideValue, ...] = key(
        "Several pictures, one of which shows at a time.",
        ["photo.png", {"image": "noise.png", "tone": "dark"}],
        (),
    )
    video: str | None = key(
        "A video file in the plan's folder, WebM or MP4; it plays muted, in a loop.",
        "river.webm",
        None,
    )
    poster: str | None = key(
        "With a video: the picture shown until it plays, and to readers who ask for less motion.",
        "photo.png",
        None,
    )
    every: TimeValue | None = key(
        "With slides: how long each is there before the next one; by default they do not run.",
        "6s",
        None,
    )
    change: ChangeValue = key(
        "How one slide becomes the next, in the last part of its time: cut, or a fade.",
        "fade 900ms",
        Cut(),
    )
    fill: FillValue | None = key("A colour or gradient.", "linear-gradient(#0006, #0000)", None)
    size: SizeValue = key("As CSS background-size.", "480px auto", COVER)
    position: PositionValue = key("As CSS background-position.", "50% 40%", CENTER)
    focus: RegionValue | None = key(
        "The part of the picture that must be seen: its left and upper edge, width and height in "
        "shares of the picture's.",
        "30% 20% 40% 50%",
        None,
    )
    repeat: RepeatValue = key("As CSS background-repeat.", "repeat-x", ("no-repeat", "no-repeat"))
    origin: BoxName = key(
        "As CSS background-origin, for a layer that moves with the page.",
        "border-box",
        "padding-box",
    )
    clip: BoxName = key("As CSS background-clip.", "padding-box", "border-box")
    attachment: Literal["scroll", "fixed"] | None = key(
        "As CSS background-attachment; the default is scroll.", "fixed", None
    )
    speed: Number | None = key(
        "Px up the screen per px scrolled: 1 moves with the page, 0 stays, below 0 moves against "
        "the scroll, above 1 runs ahead.",
        0.4,
        None,
        ge=-100,
        le=100,
    )
    drift: Number = key("Px to the right per px scrolled.", 0.1, 0.0, ge=-100, le=100)
    path: tuple[PathStop, ...] = key(
        "Stops along the scroll that move, fade or scale it, in addition to its speed.",
        [{"at": "0px"}, {"at": "500px", "opacity": 0}],
        (),
        max_length=100,
    )
    before: Number | None = key(
        "With a path: the speed before its first stop; by default the layer's own.",
        1,
        None,
        ge=-100,
        le=100,
    )
    after: Number | None = key(
        "With a path: the speed beyond its last stop; by default the layer's own.",
        0.5,
        None,
        ge=-100,
        le=100,
    )
    settle: ThresholdValue | None = key(
        "The scroll position at which it is where 'position' puts it in the section, for speeds "
        "below 0 and above 1, drift and paths; by default where the section is centred on the "
        "screen, or as near to that as the page scrolls.",
        "reach hero",
        None,
    )
    opacity: Number = key("Opacity, 0 to 1.", 0.5, 1.0, ge=0, le=1)
    filter: FilterValue = key("As CSS filter.", "brightness(.8) blur(2px)", ())
    blend: BlendMode = key("As CSS mix-blend-mode.", "multiply", "normal")
    selector: SelectorValue | None = key(
        "The CSS selector of the element that shows it on your own site.", ".hero > .photo", None
    )
    picture: Literal["site"] | None = key(
        "With a selector: the site supplies the picture, and the export sets only its attachment, "
        "size, position and motion.",
        "site",
        None,
    )

    @model_validator(mode="after")
    def _check(self) -> Self:
        shown = (self.image, self.slides, self.video, self.fill)
        given = sum(value not in (None, ()) for value in shown)
        if given != 1:
            raise wrong(
                f"the layer has {'several' if given else 'none'} of image, slides, video and fill",
                "give it exactly one",
            )
        if self.speed is not None and self.attachment is not None:
            raise wrong(
                "the layer has both an attachment and a speed",
                "keep one; fixed is the same as speed 0",
            )
        self._check_run()
        self._check_video()
        if self.focus is not None and self.fill is not None:
            raise wrong("a fill has no 'focus'", "remove it")
        if self.picture and self.selector is None:
            raise wrong("'picture: site' needs a selector", "name the element that shows it")
        if not self.path and (self.before is not None or self.after is not None):
            raise wrong("'before' and 'after' need a path", "add a path, or remove them")
        return self

    def _check_run(self) -> None:
        if self.every is None:
            if not isinstance(self.change, Cut):
                raise wrong("'change' needs 'every'", "say how long each slide is there")
            return
        if len(self.slides) < 2:  # noqa: PLR2004 - what changes is two
            raise wrong("'every' needs several slides", "name them under 'slides'")
        if self.every < LEAST_EVERY_MS:
            raise wrong("the slides change too fast", f"write at least {LEAST_EVERY_MS}ms")
        if isinstance(self.change, Blend) or (
            isinstance(self.change, Fade) and self.change.delay_ms
        ):
            raise wrong("slides cut or fade, without a delay", "write for example fade 900ms")
        if isinstance(self.change, Fade) and self.change.duration_ms > self.every:
            raise wrong("the fade is longer than a slide is there", "make it shorter")

    def _check_video(self) -> None:
        if self.video is None:
            if self.poster is not None:
                raise wrong("'poster' needs a video", "name it under 'video', or remove the poster")
            return
        if self.repeat != ("no-repeat", "no-repeat"):
            raise wrong("a video is not repeated", "remove 'repeat'")
        if self.picture:
            raise wrong("'picture: site' is not for a video", "remove it")

    @property
    def pictures(self) -> tuple[str, ...]:
        """The pictures of which one is showing, a video among them; none where it is a fill."""
        named = (self.image, *(slide.image for slide in self.slides), self.poster, self.video)
        return tuple(name for name in named if name is not None)

    @property
    def rate(self) -> float:
        """Pixels that it moves up the screen per pixel scrolled."""
        if self.speed is not None:
            return self.speed
        return 0.0 if self.attachment == "fixed" else 1.0

    @property
    def is_uniform(self) -> bool:
        """Whether it is one colour all over for good, so that no motion of it can be seen."""
        return isinstance(self.fill, Color) and not self.path
