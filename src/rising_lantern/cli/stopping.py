"""Hearing signals that ask to stop, within a second, whatever is being computed."""

from __future__ import annotations

import os
import signal
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

from rising_lantern.outputs.interrupts import PLACING, STOPPING
from rising_lantern.outputs.scratch import remove_all

_PATIENCE = 0.7  # seconds that the main thread has to end by itself
_AGAIN = 0.02  # seconds until a signal that came in between is raised once more
_SIGNAL = 128  # a process that a signal ends has this and the signal's number as its status


class Stopped(BaseException):
    """A signal has asked to stop.

    Attributes:
        number: The signal.
        status: The exit status that says so.
    """

    def __init__(self, number: int) -> None:
        self.number = number
        self.status = _SIGNAL + number


@contextmanager
def stoppable() -> Iterator[None]:
    """Raise :class:`Stopped` at Ctrl-C and at signals that ask to stop.

    Where that is not heard in time, since a long step of a library is running, the process ends
    from another thread, with its scratch folders removed.
    """
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    # What the caller has set to be ignored, as nohup does, stays so.
    asked = [item for item in STOPPING if signal.getsignal(item) is not signal.SIG_IGN]
    before = {item: signal.signal(item, _stop) for item in asked}
    if not hasattr(os, "set_blocking"):  # nothing can be woken here but the main thread itself
        yield
        return
    ended = threading.Event()
    read, write = os.pipe()
    os.set_blocking(write, False)
    known = signal.set_wakeup_fd(write, warn_on_full_buffer=False)
    watcher = threading.Thread(target=_watch, args=(read, frozenset(asked), ended), daemon=True)
    watcher.start()
    try:
        yield
    finally:
        ended.set()
        signal.set_wakeup_fd(known)
        os.close(write)
        watcher.join()
        os.close(read)
        for item, handler in before.items():
            signal.signal(item, signal.SIG_DFL if handler is None else handler)


def _stop(number: int, frame: FrameType | None) -> None:
    if _is_importing(frame):
        # Compiled modules that are cut off while they are loaded can end the whole process.
        again = threading.Timer(_AGAIN, os.kill, (os.getpid(), number))
        again.daemon = True
        again.start()
        return
    raise Stopped(number)


def _is_importing(frame: FrameType | None) -> bool:
    """Whether a module is being loaded."""
    while frame is not None:
        if frame.f_code.co_filename.startswith("<frozen importlib"):
            return True
        frame = frame.f_back
    return False


def _watch(descriptor: int, asked: frozenset[int], ended: threading.Event) -> None:
    """Wait for a signal; once it has come, for the end of the main thread, but not for long."""
    while heard := os.read(descriptor, 1):
        if heard[0] in asked and not ended.wait(_PATIENCE):
            _end(_SIGNAL + heard[0])


def _end(status: int) -> None:
    with PLACING:
        remove_all()
        os._exit(status)
