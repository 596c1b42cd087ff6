"""The ground of a header for readers who prefer more contrast or less transparency.

Source: https://www.w3.org/TR/mediaqueries-5/#prefers-contrast and #prefers-reduced-transparency
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from rising_lantern.css.colors import BLACK, WHITE, Color, laid_over
from rising_lantern.css.contrast import luminance_of, ratio
from rising_lantern.css.gradients import mean_color
from rising_lantern.css.lengths import px
from rising_lantern.plan.models.headers import Header

_ENOUGH, _GOOD = 4.5, 7.0  # contrasts: of a look's own colour, and of another one in its place
_SEEN = 0.5  # the alpha from which on a colour is what readers see of a ground


def solid_color(header: Header, look: str, named: Iterable[Color] = ()) -> Color | None:
    """The opaque ground that a look has for such readers; None where it has one for everybody.

    It is what the plan says, else the look's own colour made opaque, else that of another look or
    one that has a name, whichever comes first that its texts can be read on.

    Args:
        header: The header.
        look: The name of the look.
        named: The plan's colours.
    """
    own = header.look(look)
    ground = mean_color(own.background or header.background)
    blur = header.blur if own.blur is None else own.blur
    if ground.alpha == 1 and not header.layers_in(look) and blur.css() == "0px":
        return None
    if own.solid or header.solid:
        return own.solid or header.solid
    inks = list(_inks(header, look))
    flat = _flat(header, look)
    if flat and _least(inks, flat) >= _ENOUGH:
        return flat
    # Of the next look sooner than of another one, so that little changes on the way.
    others = (_flat(header, name) for name in header.looks)
    known = [color for color in (*others, *named) if color and color.alpha == 1]
    good = (color for color in known if _least(inks, color) >= _GOOD)
    return next(good, max((BLACK, WHITE), key=lambda color: _least(inks, color)))


def _flat(header: Header, look: str) -> Color | None:
    """The ground of a look made opaque, as its texts are best read on it; None for hardly any."""
    ground = mean_color(header.look(look).background or header.background)
    if ground.alpha < _SEEN:
        return None
    inks = list(_inks(header, look))
    over = [laid_over(below, ground) for below in (BLACK, WHITE)]
    best = max(over, key=lambda color: _least(inks, color))
    red, green, blue = (level / 255 for level in best.bytes[:3])
    return best if best == ground else Color(red, green, blue, 1.0)


def with_solid_grounds(header: Header, named: Sequence[Color]) -> Header:
    """A header as readers have it who prefer more contrast or less transparency.

    Args:
        header: The header.
        named: The plan's colours.
    """
    grounds = {look: solid_color(header, look, named) for look in header.looks or [""]}
    clear = {"blur": px(0), "layers": ()}
    changed = {look: {"background": color} | clear for look, color in grounds.items() if color}
    if not header.looks:
        return header.model_copy(update=changed.get("", {}))
    looks = {
        name: look.model_copy(update=changed.get(name, {})) for name, look in header.looks.items()
    }
    return header.model_copy(update={"looks": looks})


def _inks(header: Header, look: str) -> Iterator[Color]:
    """The colours of the texts in a look."""
    own = header.look(look)
    yield own.color or header.color
    for name, part in header.parts.items():
        color = own.part(name).color or part.color
        if color and part.text is not None and not (own.part(name).hidden or part.hidden):
            yield color


def _least(inks: Sequence[Color], ground: Color) -> float:
    """The lowest contrast of some colours with a ground."""
    return min(float(ratio(luminance_of(ink), luminance_of(ground))) for ink in inks)
