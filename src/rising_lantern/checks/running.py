"""Running rules over views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from rising_lantern.checks import backgrounds, edges, headers, parts, reading, stacking, switching
from rising_lantern.checks.findings import LEVELS, RULES, Checked, Finding, Rule

GROUPS = (backgrounds, edges, headers, parts, reading, stacking, switching)
"""The modules of rules; importing them registers what they hold."""


def rules() -> dict[str, Rule]:
    """All rules by their names."""
    return dict(RULES)


def findings_of(checked: Iterable[Checked]) -> Iterator[Finding]:
    """All findings on some views, view by view, the gravest first."""
    told: set[Finding] = set()
    for one in checked:
        found = [finding for of in RULES.values() for finding in of.find(one, of)]
        # A page is looked at once with each slide showing; most of it is the same each time.
        fresh = [finding for finding in dict.fromkeys(found) if finding not in told]
        told.update(fresh)
        yield from sorted(fresh, key=lambda finding: LEVELS.index(finding.level))
