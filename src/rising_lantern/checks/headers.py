"""Rules about headers."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.checks.findings import Checked, Finding, Rule, rule


@rule("never-reached", "error")
def never_reached(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A look starts beyond the end of the page: on this screen no reader ever sees it.

    Measured is where it starts in px; the limit is how far the page scrolls.
    """
    if checked.switches is None:
        return
    header = checked.switches.header
    for step in checked.switches.steps[1:]:
        name = header.looks[step.look]
        if step.start > checked.max_scroll:
            yield checked.finding(
                of,
                f"{header.name}, look {name}",
                measured=step.start,
                limit=float(checked.max_scroll),
                message=f"the look starts at {step.start:.0f} px, and the page scrolls "
                f"{checked.max_scroll} px",
                remedy=f"start it at {checked.max_scroll} px or before",
            )


@rule("no-header", "note")
def no_header(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A page gets no header on a screen, in a plan that has headers.

    Measured is how many headers show there.
    """
    if checked.box.header is None and checked.plan.documents[checked.box.viewport].headers:
        yield checked.finding(
            of,
            "page",
            measured=0,
            limit=1,
            message="no header shows on this page",
            remedy="let a header's 'show' include it, or leave it so on purpose",
        )
