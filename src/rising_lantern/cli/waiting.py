"""What a person sees who waits: a bar in a terminal, and a line now and then elsewhere."""

from __future__ import annotations

import sys
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from threading import Event, Thread
from typing import TypeVar

import click

from rising_lantern.cli.terminal import bar_signs
from rising_lantern.jobs.sharing import Progress

EVERY_S = 5.0
"""How often a line is written where there is no terminal."""

Item = TypeVar("Item")


def progress(items: Iterable[Item], count: int, label: str, *, quiet: bool) -> Iterator[Item]:
    """Pass items on, and show how many have been."""
    with progress_bar(quiet=quiet) as show:
        for done, item in enumerate(items):
            if show:
                show(label, done, count)
            yield item
        if show:
            show(label, count, count)


def clear_bar() -> None:
    """Take the bar away, so that lines can be printed in its place; it is drawn again below."""
    if sys.stderr.isatty():
        sys.stderr.write("\r\x1b[K")
        sys.stderr.flush()


@contextmanager
def progress_bar(*, quiet: bool) -> Iterator[Progress | None]:
    """Show what is being done: a bar in a terminal, a line every few seconds elsewhere."""
    if quiet:
        yield None
        return
    if not sys.stderr.isatty():
        with _said_in_lines() as show:
            yield show
        return
    filled, empty = bar_signs()
    with click.progressbar(
        length=1,
        file=sys.stderr,
        fill_char=filled,
        empty_char=empty,
        bar_template="%(label)s  %(bar)s  %(info)s",
        show_pos=True,
    ) as bar:

        def show(what: str, done: int, count: int) -> None:
            bar.label, bar.length = what, count
            bar.update(done - bar.pos)
            bar.render_progress()

        yield show


@contextmanager
def _said_in_lines() -> Iterator[Progress]:
    """Write a line for each few seconds that go by, also while one step takes longer."""
    over = Event()
    state: list[tuple[str, int, int, float]] = []  # none before there is something to say

    def show(what: str, done: int, count: int) -> None:
        # Work of several phases counts from the start in each.
        goes_on = bool(state) and state[0][2] == count and state[0][1] <= done
        state[:] = [(what, done, count, state[0][3] if goes_on else time.monotonic())]

    def say() -> None:
        while not over.wait(EVERY_S):
            for what, done, count, began in state[:]:
                line = waiting_words(what, done, count, time.monotonic() - began)
                with suppress(OSError, ValueError):  # nobody reads it any more
                    click.echo(line, file=errors)

    errors = sys.stderr  # as it is here: a caller may change it before the thread is over
    thread = Thread(target=say, daemon=True)
    thread.start()
    try:
        yield show
    finally:
        over.set()
        thread.join()


def waiting_words(what: str, done: int, count: int, seconds: float) -> str:
    """A line about work that is under way.

    Args:
        what: What is being done.
        done: How many steps of it are done.
        count: How many there are.
        seconds: How long it has taken.
    """
    left = f", about {_rounded(seconds * (count - done) / done)} left" if 0 < done < count else ""
    return f"{what}: {done} of {count} done in {_rounded(seconds)}{left}"


def _rounded(seconds: float) -> str:
    """A time in words, no more exact than it is known."""
    if seconds < 90:  # noqa: PLR2004 - up to there seconds are read more easily
        return f"{max(round(seconds), 1)} s"
    return f"{round(seconds / 60)} min"
