"""How long and how much one input may take, and what has been tried."""

from __future__ import annotations

import signal
import tempfile
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

PATIENCE = {"seconds": 30}  # that one input may take
MEMORY = 4_000_000_000
FOLDER = Path(tempfile.mkdtemp(prefix="fuzz-"))
COUNTS: Counter[str] = Counter()


class TooSlowError(Exception):
    """An input takes longer than a user would wait."""


@contextmanager
def watched(kind: str) -> Iterator[None]:
    """Count an input; end it where it takes too long."""

    def late(_number: int, _frame: object) -> None:
        raise TooSlowError(f"more than {PATIENCE['seconds']} s")

    COUNTS[kind] += 1
    signal.signal(signal.SIGALRM, late)
    signal.alarm(PATIENCE["seconds"])
    try:
        yield
    finally:
        signal.alarm(0)
