"""One list of statements for all screens, with a media query around what differs on some.

Which widths each viewport's values hold for is in :mod:`rising_lantern.plan.text.screen_widths`.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from rising_lantern.exports.rules import CssRule, KeyFrames, Statement
from rising_lantern.plan.text.screen_widths import ScreenRange, media_query


def _together(ranges: Sequence[ScreenRange], names: frozenset[str]) -> str:
    """One media query for several viewports; empty for all of them."""
    if names >= {item.name for item in ranges}:
        return ""
    by_day = _spans([item for item in ranges if item.scheme != "dark"], names)
    by_night = _spans([item for item in ranges if item.scheme != "light"], names)
    queries = [media_query(*span, None if span in by_night else "light") for span in by_day]
    queries += [media_query(*span, "dark") for span in by_night if span not in by_day]
    return ", ".join(queries)


def media_of(ranges: Sequence[ScreenRange], names: Iterable[str]) -> str:
    """Return the media query that holds on some viewports; empty where that is all of them."""
    return _together(ranges, frozenset(names))


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

    What all screens declare comes first, without a condition and as most of them have it; the rest
    follows in one block for each set of screens.

    Args:
        by_screen: The statements of each viewport, by its name.
        ranges: All viewports.
    """
    screens = list(dict.fromkeys(item.name for item in ranges))
    lists = {name: _combine(by_screen.get(name, ())) for name in screens}
    groups: dict[frozenset[str], list[Statement]] = {frozenset(screens): []}
    for statement in _in_order(lists.values()):
        for names, part in _parts(statement, lists):
            groups.setdefault(names, []).append(part)
    result = groups.pop(frozenset(screens))
    for names in sorted(groups, key=lambda names: min(screens.index(name) for name in names)):
        media = f"@media {_together(ranges, names)}"
        result += [_conditional(statement, media) for statement in groups[names]]
    return result


def _combine(statements: Iterable[Statement]) -> list[Statement]:
    """Statements of which no two are about the same: what is declared later counts."""
    found: dict[object, Statement] = {}
    for item in statements:
        known = found.get(_key(item))
        if isinstance(known, CssRule) and isinstance(item, CssRule):
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
    if isinstance(statement, CssRule):
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
        if isinstance(item, CssRule):
            for pair in item.declarations.items():
                values.setdefault(pair, []).append(name)
    usual = _usual(values, set(lists))
    groups: dict[frozenset[str], dict[str, str]] = {}
    for (prop, value), names in values.items():
        on = frozenset(lists) if usual.get(prop) == value else frozenset(names)
        groups.setdefault(on, {})[prop] = value
    return [(names, statement.narrowed(declared)) for names, declared in groups.items()]


def _usual(values: Mapping[tuple[str, str], list[str]], screens: set[str]) -> dict[str, str]:
    """The value of most screens, of each property that every screen declares.

    It can be said without a condition, since every other screen's own value comes later.
    """
    by_property: dict[str, dict[str, list[str]]] = {}
    for (prop, value), names in values.items():
        by_property.setdefault(prop, {})[value] = names
    return {
        prop: max(known, key=lambda value: len(known[value]))
        for prop, known in by_property.items()
        if {name for names in known.values() for name in names} == screens
    }


def _distinct(items: Iterable[Statement | None]) -> list[Statement]:
    result: list[Statement] = []
    for item in items:
        if item is not None and item not in result:
            result.append(item)
    return result


def _conditional(statement: Statement, media: str) -> Statement:
    """A statement on some screens only, within its own conditions."""
    return replace(statement, within=(*statement.within, media))
