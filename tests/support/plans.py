"""Texts of small plans."""

from __future__ import annotations

from collections.abc import Callable

from rising_lantern.api.plans import Plan

MakePlan = Callable[[str], Plan]
"""Writes a plan beside small pictures and reads it."""

TINY = """
rising-lantern: 1
viewports: {laptop: 1000x600}
pages:
  page:
    sections:
      only: {height: 900px}
"""


def plan_text(
    *,
    header: str = "",
    sections: str = "opening: {height: 600px}, second: {height: 900px}, third: {height: 700px}",
    viewports: str = "laptop: 1000x600",
    background: str = "white",
    before: str = "",
    page: str = "",
    under: str = "",
) -> str:
    """A plan of one page, from pieces of YAML in the flow style."""
    headers = f"headers: {{main: {{{header}}}}}\n" if header else ""
    return (
        f"rising-lantern: 1\nviewports: {{{viewports}}}\n{before}\n{headers}"
        f"pages: {{page: {{background: {{color: '{background}', layers: [{under}]}}{page and ', ' + page},\n"
        f"sections: {{{sections}}}}}}}\n"
    )
