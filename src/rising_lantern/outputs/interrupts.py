"""Signals that ask a program to stop: when they are heard, and by which process."""

from __future__ import annotations

import signal
import threading
from collections.abc import Iterator
from contextlib import contextmanager

STOPPING = tuple(
    getattr(signal, name) for name in ("SIGINT", "SIGTERM", "SIGHUP") if hasattr(signal, name)
)
"""The signals that ask a program to stop."""

PLACING = threading.Lock()
"""Held while results are put in place: whoever ends the process waits for it."""


@contextmanager
def held_back() -> Iterator[None]:
    """Put off signals that ask to stop until the end; then they act as they would have."""
    if threading.current_thread() is not threading.main_thread():
        with PLACING:
            yield
        return
    heard: list[int] = []
    before = {
        item: signal.signal(item, lambda number, _: heard.append(number)) for item in STOPPING
    }
    try:
        with PLACING:
            yield
    finally:
        for item, handler in before.items():
            # None: it was set by code that is not Python's, and cannot be set again from here.
            signal.signal(item, signal.SIG_DFL if handler is None else handler)
    for number in heard:
        signal.raise_signal(number)


@contextmanager
def kept_to_this_process() -> Iterator[None]:
    """Hold back Ctrl-C to the end; processes and threads that are started inside never get it.

    A terminal sends it to all processes. This one answers it and ends the others, which would
    print a traceback each.
    """
    if not hasattr(signal, "pthread_sigmask"):
        yield
        return
    from multiprocessing import resource_tracker  # noqa: PLC0415 - slow, and rarely needed

    # A process needs it to start another one, and starting it lets the signal through again.
    resource_tracker.ensure_running()
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
    try:
        yield
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)
