"""How a style sheet holds its own against the other rules of a site.

Of values that insist (``!important``), those in the layer that is declared first win, whatever the
selectors: CSS Cascade 5, 6.1. Key frames lose to them. So key frames animate registered numbers,
and declarations that insist compute what lies between the values of the first and the last frame.

The values themselves do not stand in the key frames: where they have a ``var()``, Firefox 153 does
not interpolate them.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import CssRule, Declarations, KeyFrames, Statement, split

Weight = Literal["layer", "specific", "important"]

_INSISTS = " !important"
_COLOR = re.compile(r"#|(rgba?|hsla?|hwb|(ok)?lab|(ok)?lch|color|color-mix)\(|[a-z]+\Z")
_LENGTH = re.compile(r"[-+.\d]|(calc|min|max|clamp|round|var|env)\(")
_WORDS = frozenset({"solid", "none", "inset", "hidden", "visible", "inherit", "auto"})
_TIMING = "animation-timing-function"
_ZERO = {"0": "0px"}
_SHARE, _RUNS = ("now", "share"), ("now", "runs")
_OPACITY, _TRANSFORM = ("now", "opacity"), ("now", "transform")
"""Custom properties: the first two of key frames here, the others of those of the script."""


def weighed(
    statements: Iterable[Statement], naming: Naming, weight: Weight, animated: Animated
) -> Iterator[Statement]:
    """Statements that hold their own.

    Args:
        statements: The statements.
        naming: How everything is named.
        weight: In what way.
        animated: What key frames of the style sheet animate.
    """
    root = re.compile(re.escape(naming.any_page[:-1]) + r'(="[^"]*")?\]')
    for item in statements:
        if weight == "layer" or (isinstance(item, CssRule) and item.selector.startswith("@")):
            yield item
        elif weight == "important":
            yield animated.insisting(item)
        elif isinstance(item, CssRule):
            specific = root.sub(lambda found: found[0] + 2 * naming.any_page, item.selector)
            yield replace(item, selector=specific)
        else:
            yield item


@dataclass(frozen=True)
class Animated:
    """What the key frames of a style sheet animate, as declarations that can insist.

    Attributes:
        naming: How everything is named.
        values: By the name of key frames and a property: its value along them.
        plain: Properties of which none can be said for some key frames: they never insist.
    """

    naming: Naming
    values: Mapping[tuple[str, str], str]
    plain: frozenset[str]

    @classmethod
    def of(cls, statements: Iterable[Statement], naming: Naming) -> Animated:
        """What some key frames animate."""
        values: dict[tuple[str, str], str] = {}
        plain: set[str] = set()
        for item in statements:
            if not isinstance(item, KeyFrames):
                continue
            first = next(iter(item.frames.values()))
            for name in first:
                if name == _TIMING or name.startswith("--"):
                    continue
                course = [frame.get(name, "") for frame in item.frames.values()]
                value = _along(course, name, naming)
                if value is None:
                    plain.add(name)
                else:
                    values[item.name, name] = value
        kept = {key: value for key, value in values.items() if key[1] not in plain}
        return cls(naming, kept, frozenset(plain))

    def registered(self) -> Iterator[Statement]:
        """The numbers that are animated, registered so that browsers interpolate them.

        Source: https://www.w3.org/TR/css-properties-values-api-1/#at-property-rule
        """
        number = {"syntax": '"<number>"', "inherits": "false", "initial-value": "0"}
        transform = {"syntax": '"<transform-list>"', "inherits": "false"}
        for name in (_SHARE, _RUNS):
            yield CssRule(f"@property {self.naming.variable(*name)}", number)
        opaque = number | {"initial-value": "1"}
        yield CssRule(f"@property {self.naming.variable(*_OPACITY)}", opaque)
        still = transform | {"initial-value": "translate(0px)"}
        yield CssRule(f"@property {self.naming.variable(*_TRANSFORM)}", still)

    def moved(self, frames: str) -> dict[str, str]:
        """What insists in place of what some key frames animate."""
        return {
            "translate" if prop == "margin" else prop: value
            for (name, prop), value in self.values.items()
            if name == frames
        }

    def insisting(self, item: Statement) -> Statement:
        """A rule whose values insist, or key frames of numbers."""
        if isinstance(item, KeyFrames):
            return replace(item, frames=self._frames(item))
        declared = dict(item.declarations)
        names = set(re.split(r"[\s,]+", declared.get("animation", "")))
        for frames, prop in self.values:
            if frames not in names:
                continue
            if prop == "opacity" and prop in item.declarations:
                # Where the animation does not run, it is as opaque as it is declared.
                declared[self.naming.variable(*_SHARE)] = item.declarations[prop]
            declared |= self.moved(frames)
        weighted = {prop: self._apply_weight(prop, value) for prop, value in declared.items()}
        return item.narrowed(weighted)

    def _apply_weight(self, name: str, value: str) -> str:
        plain = value.removesuffix(_INSISTS)
        return plain if name.startswith("--") or name in self.plain else plain + _INSISTS

    def _frames(self, item: KeyFrames) -> Mapping[str, Declarations]:
        """Key frames with numbers in place of what they make of them."""
        names = {prop for frames, prop in self.values if frames == item.name}
        share, runs = (self.naming.variable(*name) for name in (_SHARE, _RUNS))
        result: dict[str, Declarations] = {}
        for index, (place, declared) in enumerate(item.frames.items()):
            rest = {name: value for name, value in declared.items() if name not in names}
            if names == {"opacity"}:
                rest = {share: declared["opacity"]} | rest
            elif names:
                rest |= {share: str(index), runs: "1"}
            result[place] = rest
        return result


def _along(values: Sequence[str], prop: str, naming: Naming) -> str | None:
    """The value of a property along key frames, by their share; None where it cannot be said."""
    if prop == "opacity":
        return naming.use(*_SHARE)
    if len(values) != 2:  # noqa: PLR2004 - a first and a last frame
        return None
    if prop == "margin":
        # As good as translated, and no shift of the layout: what blends is blended, since its
        # translation is not what is animated.
        return _along([_translation(value) for value in values], "translate", naming)
    first, last = (_tokens(value) for value in values)
    if len(first) != len(last):
        return None
    mixed = [_interpolate(pair, prop, naming) for pair in zip(first, last, strict=True)]
    return None if None in mixed else _join([token for token in mixed if token is not None])


def _translation(margin: str) -> str:
    """The translation in place of a margin above and on the left."""
    down, _, _, across = _tokens(margin)
    return f"{across} {down}"


def _interpolate(pair: tuple[str, str], prop: str, naming: Naming) -> str | None:
    """What lies between two pieces of a value, by the share of the second."""
    first, last = pair
    share = naming.use(*_SHARE)
    if first == last:
        return first
    if any(token in _WORDS for token in pair):
        return None
    colors = [bool(_COLOR.match(token)) or "-color-" in token for token in pair]
    if all(colors):
        return f"color-mix(in srgb, {last} calc(clamp(0, {share}, 1) * 100%), {first})"
    if any(colors) or not all(_LENGTH.match(token) for token in pair):
        return None
    low, high = (_ZERO.get(end, end) for end in pair)
    between = f"{low} + ({high} - {low}) * {share}"
    if prop == "translate":
        # Where the animation does not run, nothing is moved.
        return f"calc({naming.use(*_RUNS)} * ({between}))"
    return f"calc({between})"


def _tokens(value: str) -> list[str]:
    """The pieces of a value: between spaces and commas, and within ``blur()``."""
    tokens: list[str] = []
    for index, item in enumerate(split(value, ", ")):
        tokens += [","] * (index > 0)
        for token in split(item, " "):
            inner = re.fullmatch(r"(blur\()(.*)(\))", token)
            tokens += list(inner.groups()) if inner else [token]
    return tokens


def _join(tokens: Sequence[str]) -> str:
    """The value that some pieces are those of."""
    text = " ".join(tokens)
    return text.replace(" ,", ",").replace("blur( ", "blur(").replace(" )", ")")
