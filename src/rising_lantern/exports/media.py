"""Which widths each viewport's values hold for, and one list of statements for all of them.

A viewport's values hold from its width, or its ``from``, up to the next wider one's; those of the
narrowest also below. Media queries for the pointer, the orientation or the
resolution separate viewports that start at one width. Readers who prefer a dark scheme get the
viewports that are dark, and the others where there is none.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from rising_lantern.css.numbers import number
from rising_lantern.css.schemes import Scheme
from rising_lantern.errors import Fault, PlanError, quoted
from rising_lantern.exports.rules import KeyFrames, Rule, Statement
from rising_lantern.plan.models.viewports import Viewport
from rising_lantern.plan.text.reading import PlanFile

_Kind = tuple[bool, bool, float]


@dataclass(frozen=True, slots=True)
class ScreenRange:
    """Screens that one viewport's values hold for; of schemes it can have several.

    Attributes:
        name: The viewport's name.
        low: The least width in CSS px; 0 for none.
        high: The width below which they hold; None for no end.
        feature: Media features that set it apart from others of the same widths, or none.
        scheme: ``light`` or ``dark`` where they hold for readers of one scheme only.
    """

    name: str
    low: int
    high: int | None
    feature: str = ""
    scheme: Scheme | None = None

    @property
    def media(self) -> str:
        """The media query; ``all`` where the values hold everywhere."""
        return _query(self.low, self.high, self.feature, self.scheme)


def screen_ranges(plan: PlanFile, names: Iterable[str]) -> tuple[ScreenRange, ...]:
    """The screens of each of some viewports, the widest first.

    Raises:
        PlanError: If two viewports cannot be told apart by a media query.
    """
    viewports = {name: plan.viewport(name) for name in names}
    dark = {name: item for name, item in viewports.items() if item.scheme == "dark"}
    light = {name: item for name, item in viewports.items() if name not in dark}
    if not dark or not light:
        return _ranges(plan, viewports)
    replaced = {(item.start, _kind(item)) for item in dark.values()}
    others = {
        name: item for name, item in light.items() if (item.start, _kind(item)) not in replaced
    }
    by_day, by_night = _ranges(plan, light), _ranges(plan, others | dark)
    both = [item for item in by_day if item in by_night]
    return (
        *(item if item in both else replace(item, scheme="light") for item in by_day),
        *(replace(item, scheme="dark") for item in by_night if item not in both),
    )


def _ranges(plan: PlanFile, viewports: Mapping[str, Viewport]) -> tuple[ScreenRange, ...]:
    """The screens of each viewport, for readers of one scheme."""
    starts = {name: viewport.start for name, viewport in viewports.items()}
    widths = sorted(set(starts.values()), reverse=True)
    if viewports[min(starts, key=lambda name: starts[name])].from_ is None:
        starts = {name: 0 if start == widths[-1] else start for name, start in starts.items()}
        widths[-1] = 0
    ranges: list[ScreenRange] = []
    high: int | None = None
    for low in widths:
        group = [name for name in viewports if starts[name] == low]
        features = _features(plan, {name: viewports[name] for name in group})
        ranges += [ScreenRange(name, low, high, features[name]) for name in group]
        high = low
    return tuple(ranges)


def _kind(viewport: Viewport) -> _Kind:
    """What tells it from others of the same width: touch, whether it is wide, and its ratio."""
    return viewport.touch, viewport.width > viewport.height, viewport.ratio


def _features(plan: PlanFile, group: Mapping[str, Viewport]) -> dict[str, str]:
    """What sets viewports of one width apart."""
    if len(group) == 1:
        return dict.fromkeys(group, "")
    kinds = {name: _kind(item) for name, item in group.items()}
    known: dict[_Kind, str] = {}
    for name, kind in kinds.items():
        other = known.setdefault(kind, name)
        if other != name:
            place = plan.place_of(("viewports", name), at_key=True)
            raise PlanError(
                [
                    Fault(
                        place,
                        f"no media query can tell {quoted(name)} from {quoted(other)}",
                        "give one of them another width or 'from', or set its 'touch', 'ratio' "
                        "or 'scheme'",
                    )
                ]
            )
    return {name: " and ".join(_words(kind, list(kinds.values()))) for name, kind in kinds.items()}


def _words(kind: _Kind, kinds: Sequence[_Kind]) -> Iterable[str]:
    touch, wide, ratio = kind
    if len({item[0] for item in kinds}) > 1:
        yield f"(pointer: {'coarse' if touch else 'fine'})"
    if len({item[1] for item in kinds}) > 1:
        yield f"(orientation: {'landscape' if wide else 'portrait'})"
    ratios = sorted({item[2] for item in kinds})
    for below, above in pairwise(ratios):
        # Half-way between the two, so that what is neither gets the nearer one.
        middle = number((below + above) / 2)
        if ratio == above:
            yield f"(resolution >= {middle}dppx)"
        if ratio == below:
            yield f"(resolution < {middle}dppx)"


def _query(low: int, high: int | None, feature: str, scheme: Scheme | None = None) -> str:
    width = ""
    if low and high is not None:
        width = f"({low}px <= width < {high}px)"
    elif low:
        width = f"(width >= {low}px)"
    elif high is not None:
        width = f"(width < {high}px)"
    prefers = f"(prefers-color-scheme: {scheme})" if scheme else ""
    return " and ".join(item for item in (width, feature, prefers) if item) or "all"


def _together(ranges: Sequence[ScreenRange], names: frozenset[str]) -> str:
    """One media query for several viewports; empty for all of them."""
    if names >= {item.name for item in ranges}:
        return ""
    by_day = _spans([item for item in ranges if item.scheme != "dark"], names)
    by_night = _spans([item for item in ranges if item.scheme != "light"], names)
    queries = [_query(*span, None if span in by_night else "light") for span in by_day]
    queries += [_query(*span, "dark") for span in by_night if span not in by_day]
    return ", ".join(queries)


_Span = tuple[int, int | None, str]


def _spans(ranges: Sequence[ScreenRange], names: frozenset[str]) -> list[_Span]:
    """Widths and features of several viewports, for readers of one scheme."""
    spans: list[_Span] = []
    for item in sorted(ranges, key=lambda item: -item.low):
        if item.name not in names:
            continue
        whole = not item.feature or all(
            other.name in names for other in ranges if other.low == item.low
        )
        span = (item.low, item.high, "" if whole else item.feature)
        if spans and spans[-1] == span:
            continue
        if whole and spans and not spans[-1][2] and spans[-1][0] == item.high:
            spans[-1] = (item.low, spans[-1][1], "")
        else:
            spans.append(span)
    return spans


def merged(
    by_screen: Mapping[str, Sequence[Statement]], ranges: Sequence[ScreenRange]
) -> list[Statement]:
    """One list of statements that says on each screen what that screen's own list says.

    What all screens declare alike comes first, without a condition; the rest follows in one block
    for each set of screens.

    Args:
        by_screen: The statements of each viewport, by its name.
        ranges: All viewports.
    """
    screens = list(dict.fromkeys(item.name for item in ranges))
    lists = {name: _combined(by_screen.get(name, ())) for name in screens}
    groups: dict[frozenset[str], list[Statement]] = {frozenset(screens): []}
    for statement in _in_order(lists.values()):
        for names, part in _parts(statement, lists):
            groups.setdefault(names, []).append(part)
    result = groups.pop(frozenset(screens))
    for names in sorted(groups, key=lambda names: min(screens.index(name) for name in names)):
        media = f"@media {_together(ranges, names)}"
        result += [_conditional(statement, media) for statement in groups[names]]
    return result


def _combined(statements: Iterable[Statement]) -> list[Statement]:
    """Statements of which no two are about the same: what is declared later counts."""
    found: dict[object, Statement] = {}
    for item in statements:
        known = found.get(_key(item))
        if isinstance(known, Rule) and isinstance(item, Rule):
            found[_key(item)] = known.narrowed({**known.declarations, **item.declarations})
        else:
            found.setdefault(_key(item), item)
    return list(found.values())


def _in_order(lists: Iterable[Sequence[Statement]]) -> list[Statement]:
    """Statements of all lists, one for each key, as nearly as possible in the order of each."""
    order: list[Statement] = []
    keys: list[object] = []
    for statements in lists:
        place = 0
        for statement in statements:
            key = _key(statement)
            if key in keys:
                place = keys.index(key) + 1
            else:
                keys.insert(place, key)
                order.insert(place, statement)
                place += 1
    return order


def _key(statement: Statement) -> object:
    if isinstance(statement, Rule):
        return statement.key
    return statement.within, "@", statement.name


def _parts(
    statement: Statement, lists: Mapping[str, Sequence[Statement]]
) -> list[tuple[frozenset[str], Statement]]:
    """What each set of screens says that differs from others."""
    key = _key(statement)
    found = {
        name: next((item for item in statements if _key(item) == key), None)
        for name, statements in lists.items()
    }
    if isinstance(statement, KeyFrames):
        return [
            (frozenset(name for name, item in found.items() if item == own), own)
            for own in _distinct(found.values())
        ]
    values: dict[tuple[str, str], list[str]] = {}
    for name, item in found.items():
        if isinstance(item, Rule):
            for pair in item.declarations.items():
                values.setdefault(pair, []).append(name)
    groups: dict[frozenset[str], dict[str, str]] = {}
    for (prop, value), names in values.items():
        groups.setdefault(frozenset(names), {})[prop] = value
    return [(names, statement.narrowed(declared)) for names, declared in groups.items()]


def _distinct(items: Iterable[Statement | None]) -> list[Statement]:
    result: list[Statement] = []
    for item in items:
        if item is not None and item not in result:
            result.append(item)
    return result


def _conditional(statement: Statement, media: str) -> Statement:
    """A statement on some screens only, within its own conditions."""
    return replace(statement, within=(*statement.within, media))
