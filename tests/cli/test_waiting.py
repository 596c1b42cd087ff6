"""What a person sees who waits where there is no terminal."""

from __future__ import annotations

import io
import sys
import time

import pytest

from rising_lantern.cli import waiting
from rising_lantern.cli.waiting import progress_bar, waiting_words


@pytest.mark.parametrize(
    ("state", "words"),
    [
        (("Checking", 0, 15, 5.2), "Checking: 0 of 15 done in 5 s"),
        (("Checking", 5, 15, 10.0), "Checking: 5 of 15 done in 10 s, about 20 s left"),
        (("Tuning gap", 1, 61, 10.0), "Tuning gap: 1 of 61 done in 10 s, about 10 min left"),
        (("Tuned", 3, 3, 200.0), "Tuned: 3 of 3 done in 3 min"),
    ],
)
def test_a_line_says_what_is_done_and_what_is_left(
    state: tuple[str, int, int, float], words: str
) -> None:
    assert waiting_words(*state) == words


def test_lines_come_also_while_one_step_takes_longer(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(waiting, "EVERY_S", 0.01)
    monkeypatch.setattr(sys, "stderr", said := io.StringIO())
    with progress_bar(quiet=False) as show:
        assert show is not None
        show("Checking", 1, 3)
        while said.getvalue().count("\n") < 3:
            time.sleep(0.01)
    lines = said.getvalue().splitlines()
    assert {line.split(" in ")[0] for line in lines} == {"Checking: 1 of 3 done"}
    time.sleep(0.05)
    assert said.getvalue().splitlines() == lines


def test_nothing_is_said_before_there_is_something_to_say(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sys, "stderr", said := io.StringIO())
    for quiet in (False, True):
        with progress_bar(quiet=quiet) as show:
            if show:
                show("Checking", 1, 3)
    assert said.getvalue() == ""
