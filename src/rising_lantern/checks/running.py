"""Running rules over views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from rising_lantern.checks import backgrounds, edges, headers, parts, reading, stacking, switching
from rising_lantern.checks.findings import LEVELS, RULES, Checked, Finding, Rule
from rising_lantern.errors import RequestError

GROUPS = (backgrounds, edges, headers, parts, reading, stacking, switching)
"""The modules of rules; importing them registers what they hold."""


def rules() -> dict[str, Rule]:
    """All rules by their names."""
    return dict(RULES)


def chosen_rules(only: Iterable[str] = (), without: Iterable[str] = ()) -> tuple[Rule, ...]:
    """The rules of some names, or all, without those of others.

    Raises:
        RequestError: Where there is no rule of a name.
    """
    only, without = tuple(only), tuple(without)
    for name in (*only, *without):
        if name not in RULES:
            raise RequestError(f"there is no rule '{name}'; there are: {', '.join(RULES)}")
    return tuple(
        of for of in RULES.values() if of.name in (only or RULES) and of.name not in without
    )


def findings_of(checked: Iterable[Checked], chosen: Iterable[Rule]) -> Iterator[Finding]:
    """What some rules find on some views, view by view, the gravest first."""
    chosen = tuple(chosen)
    told: set[Finding] = set()
    for one in checked:
        found = [finding for of in chosen for finding in of.find(one, of)]
        # A page is looked at once with each slide showing; most of it is the same each time.
        fresh = [finding for finding in dict.fromkeys(found) if finding not in told]
        told.update(fresh)
        yield from sorted(fresh, key=lambda finding: LEVELS.index(finding.level))
