"""``--vary``: values of a plan, and the variants that they make."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import product

import click

from rising_lantern.api.plans import Plan
from rising_lantern.comparisons.comparison import MOST_VARIANTS
from rising_lantern.errors import quoted

_OPENING, _CLOSING = "([{", ")]}"

vary_option = click.option(
    "--vary",
    "varied",
    multiple=True,
    metavar="KEY=V1,V2,...",
    help="A value of the plan, by its path, and the values to try: "
    "headers.main.looks.solid.from=60px,240px,past hero. Repeat for all combinations.",
)


def variants(base: Plan, varied: Iterable[str]) -> dict[str, Plan]:
    """A plan with some values replaced, once for each combination, by what is different.

    Args:
        base: The plan.
        varied: Keys with the values to try, as ``--vary`` takes them.
    """
    tried = [choices(word) for word in varied]
    combined = 1
    for _, texts in tried:
        combined *= len(texts)
    if combined > MOST_VARIANTS:
        raise click.UsageError(f"{combined} variants are too many; the limit is {MOST_VARIANTS}")
    plans = {}
    for combination in product(*(texts for _, texts in tried)):
        chosen = dict(zip((key for key, _ in tried), combination, strict=True))
        name = ", ".join(f"{key.rsplit('.', 1)[-1]} {text}" for key, text in chosen.items())
        plans[name] = base.replace(chosen)
    return plans


def choices(word: str) -> tuple[str, list[str]]:
    """A key, and the values that are tried, which commas outside brackets and quotes part."""
    if "=" not in word:
        raise click.BadParameter(f"{quoted(word)} has no '='; write KEY=V1,V2", param_hint="--vary")
    key, text = word.split("=", 1)
    found, depth, quote = [""], 0, ""
    for sign in text:
        if quote:
            quote = "" if sign == quote else quote
        elif sign in "'\"":
            quote = sign
        depth += (sign in _OPENING) - (sign in _CLOSING)
        if sign == "," and depth == 0 and not quote:
            found.append("")
        else:
            found[-1] += sign
    return key.strip(), [item.strip() for item in found]


def read_positions(text: str | None) -> tuple[int, ...] | None:
    """Scroll positions in px with commas between, as ``--at`` takes them."""
    if text is None:
        return None
    try:
        found = tuple(int(word.strip().removesuffix("px")) for word in text.split(","))
    except ValueError:
        raise click.BadParameter(
            f"{quoted(text)} is not a list of px; write 0,420,1260", param_hint="--at"
        ) from None
    if min(found) < 0:
        raise click.BadParameter("a scroll position cannot be below zero", param_hint="--at")
    return found
