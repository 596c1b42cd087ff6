"""Running rules over views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from rising_lantern.checks import backgrounds, headers
from rising_lantern.checks.findings import LEVELS, RULES, Checked, Finding, Rule

GROUPS = (backgrounds, headers)
"""The modules of rules; importing them registers what they hold."""


def rules() -> dict[str, Rule]:
    """All rules by their names."""
    return dict(RULES)


def findings_of(checked: Iterable[Checked]) -> Iterator[Finding]:
    """All findings on some views, view by view, the gravest first."""
    for one in checked:
        found = [finding for of in RULES.values() for finding in of.find(one, of)]
        yield from sorted(found, key=lambda finding: LEVELS.index(finding.level))
