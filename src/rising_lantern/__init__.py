"""Plan, see and measure what a page's backgrounds and header do while it scrolls.

import rising_lantern as rl

plan = rl.read("regatta.yaml")
view = plan.view(page="home", viewport="laptop")
view.at(240).look
view.trace(step=1)
view.filmstrip().save("strip.png")
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from rising_lantern._version import __version__

if TYPE_CHECKING:
    from rising_lantern.api.plans import Plan, read, read_text
    from rising_lantern.api.views import View
    from rising_lantern.checks.findings import Finding, Findings
    from rising_lantern.checks.readers import (
        ContentLength,
        LongerWords,
        TextSize,
        Widths,
        Without,
        Zoom,
    )
    from rising_lantern.comparisons.comparison import Comparison, compare
    from rising_lantern.demo.site import sample_site
    from rising_lantern.errors import (
        Fault,
        LanternError,
        NoPlanError,
        Place,
        PlanError,
        RequestError,
    )
    from rising_lantern.exports.exporting import Export, export
    from rising_lantern.exports.settings import speed_from
    from rising_lantern.plan.edits.edits import Add, Duplicate, Move, Remove, Rename, Set
    from rising_lantern.previews.previewing import Preview, preview
    from rising_lantern.proofs.proof import Proof
    from rising_lantern.proofs.proving import iter_prove, prove
    from rising_lantern.proofs.smoothness import Smoothness, iter_smoothness
    from rising_lantern.readers.checking import check, iter_check
    from rising_lantern.scroll.moments import Moment
    from rising_lantern.tuning.choosing import Proposal, iter_tune, tune
    from rising_lantern.tuning.ranges import ValueRange, value_range
    from rising_lantern.tuning.trials import Fix

__all__ = [
    "Add",
    "Comparison",
    "ContentLength",
    "Duplicate",
    "Export",
    "Fault",
    "Finding",
    "Findings",
    "Fix",
    "LanternError",
    "LongerWords",
    "Moment",
    "Move",
    "NoPlanError",
    "Place",
    "Plan",
    "PlanError",
    "Preview",
    "Proof",
    "Proposal",
    "Remove",
    "Rename",
    "RequestError",
    "Set",
    "Smoothness",
    "TextSize",
    "ValueRange",
    "View",
    "Widths",
    "Without",
    "Zoom",
    "__version__",
    "check",
    "compare",
    "export",
    "iter_check",
    "iter_prove",
    "iter_smoothness",
    "iter_tune",
    "preview",
    "prove",
    "read",
    "read_text",
    "sample_site",
    "speed_from",
    "tune",
    "value_range",
]

# Where each name lives; loaded when it is first asked for, so that a start stays quick.
_HOMES = {
    "Set": "plan.edits.edits",
    "Rename": "plan.edits.edits",
    "Remove": "plan.edits.edits",
    "Move": "plan.edits.edits",
    "Duplicate": "plan.edits.edits",
    "Add": "plan.edits.edits",
    "Comparison": "comparisons.comparison",
    "ContentLength": "checks.readers",
    "Export": "exports.exporting",
    "Fault": "errors",
    "Finding": "checks.findings",
    "Findings": "checks.findings",
    "Fix": "tuning.trials",
    "LanternError": "errors",
    "LongerWords": "checks.readers",
    "Moment": "scroll.moments",
    "NoPlanError": "errors",
    "Place": "errors",
    "Plan": "api.plans",
    "PlanError": "errors",
    "Preview": "previews.previewing",
    "Proof": "proofs.proof",
    "Smoothness": "proofs.smoothness",
    "Proposal": "tuning.choosing",
    "RequestError": "errors",
    "TextSize": "checks.readers",
    "ValueRange": "tuning.ranges",
    "View": "api.views",
    "Widths": "checks.readers",
    "Without": "checks.readers",
    "Zoom": "checks.readers",
    "check": "readers.checking",
    "compare": "comparisons.comparison",
    "export": "exports.exporting",
    "iter_check": "readers.checking",
    "iter_prove": "proofs.proving",
    "iter_smoothness": "proofs.smoothness",
    "iter_tune": "tuning.choosing",
    "preview": "previews.previewing",
    "prove": "proofs.proving",
    "read": "api.plans",
    "read_text": "api.plans",
    "sample_site": "demo.site",
    "speed_from": "exports.settings",
    "tune": "tuning.choosing",
    "value_range": "tuning.ranges",
}


def __getattr__(name: str) -> Any:
    """Load a public name from its module."""
    if name not in _HOMES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_HOMES[name]}"), name)


def __dir__() -> list[str]:
    """The public names."""
    return sorted(__all__)
