"""``python -m rising_lantern``, and the command: signals are heard before anything is loaded."""

from __future__ import annotations

import os
import signal
from types import FrameType

from rising_lantern.outputs.interrupts import STOPPING


def main() -> None:
    """Run the command line and end the process with its status."""
    for number in STOPPING:
        # What whoever started the process has it ignore, as nohup does, stays ignored.
        if signal.getsignal(number) is not signal.SIG_IGN:
            signal.signal(number, _end)
    from rising_lantern.cli import main as run  # noqa: PLC0415 - loading it takes a while

    run()


def _end(number: int, frame: FrameType | None) -> None:
    """End at once: nothing has been begun yet."""
    del frame
    os._exit(128 + number)


if __name__ == "__main__":
    main()
