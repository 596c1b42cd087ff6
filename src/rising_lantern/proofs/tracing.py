"""What Chromium does while something happens: its own trace, over the DevTools protocol.

Source: https://chromedevtools.github.io/devtools-protocol/tot/Tracing/
"""

from __future__ import annotations

import itertools
import json
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any
from urllib.request import urlopen

_CATEGORIES = ("toplevel", "devtools.timeline", "cc", "viz", "__metadata")
_OF_PAGES = frozenset({"Layout", "Paint", "UpdateLayoutTree"})
_PATIENCE = 60  # seconds

Event = dict[str, Any]
"""An event of a trace, as the Trace Event Format has it."""


@dataclass(frozen=True, slots=True)
class Work:
    """What a browser did in a trace.

    Attributes:
        frames: The pictures that it put on the screen.
        main_ms: The time of the page's main thread, in ms of its processor.
        layouts: How often the page was laid out.
        longest_ms: The longest task of the main thread, in ms of its processor.
        compositor_ms: The time of the threads that put layers together, in ms of their processors.
        raster_ms: The time in which layers were painted, in ms of the processors.
    """

    frames: int
    main_ms: float
    layouts: int
    longest_ms: float
    compositor_ms: float
    raster_ms: float

    @property
    def painting_ms(self) -> float:
        """The time in which layers were painted and put together."""
        return self.compositor_ms + self.raster_ms

    @property
    def frame_ms(self) -> float:
        """The time in which layers were painted and put together for one frame."""
        return self.painting_ms / max(self.frames, 1)

    @property
    def whole_ms(self) -> float:
        """The time of all of these threads."""
        return self.main_ms + self.painting_ms


def traced(address: str, action: Callable[[], object]) -> Work:
    """Return what a browser does while something happens.

    Args:
        address: Where it can be asked: a host and a port.
        action: What happens.
    """
    from websocket import create_connection  # noqa: PLC0415 - an extra

    with urlopen(f"http://{address}/json/version", timeout=_PATIENCE) as answer:
        url = json.load(answer)["webSocketDebuggerUrl"]
    # Its check of texts, which takes longer than what is measured, is done again by json.
    connection = create_connection(
        url, timeout=_PATIENCE, suppress_origin=True, skip_utf8_validation=True
    )
    numbers = itertools.count(1)

    def send(method: str, **parameters: Any) -> None:
        number = next(numbers)
        message = {"id": number, "method": method, "params": parameters}
        connection.send(json.dumps(message))
        while json.loads(connection.recv()).get("id") != number:
            pass

    try:
        wanted = {"includedCategories": list(_CATEGORIES), "excludedCategories": ["*"]}
        send("Tracing.start", transferMode="ReportEvents", traceConfig=wanted)
        action()
        connection.send(json.dumps({"id": next(numbers), "method": "Tracing.end"}))
        events: list[Event] = []
        while True:
            message = json.loads(connection.recv())
            if message.get("method") == "Tracing.dataCollected":
                events += message["params"]["value"]
            if message.get("method") == "Tracing.tracingComplete":
                return work_in(events)
    finally:
        connection.close()


def work_in(events: Iterable[Event]) -> Work:
    """Return what a browser did, from the events of its trace.

    Times are those of processors, so that what else the machine does is not counted. The page's
    main thread is that of the process which draws most, or else the busiest of its kind.
    """
    known = list(events)
    names = {
        (item["pid"], item["tid"]): item["args"]["name"]
        for item in known
        if item["ph"] == "M" and item["name"] == "thread_name"
    }
    whole = [item for item in known if item["ph"] == "X"]
    tasks = [item for item in whole if item["name"] == "ThreadControllerImpl::RunTask"]
    by_main: dict[int, list[float]] = {}
    compositor = 0.0
    for item in tasks:
        thread = names.get((item["pid"], item["tid"]), "")
        if thread == "CrRendererMain":
            by_main.setdefault(item["pid"], []).append(_ms(item))
        elif "Compositor" in thread:
            compositor += _ms(item)
    drawn = Counter(item["pid"] for item in whole if item["name"] in _OF_PAGES)
    page = max(by_main, key=lambda pid: (drawn[pid], sum(by_main[pid])), default=0)
    main = by_main.get(page, [])
    return Work(
        sum(item["name"] == "Display::DrawAndSwap" for item in whole),
        sum(main),
        sum(item["name"] == "Layout" and item["pid"] == page for item in whole),
        max(main, default=0.0),
        compositor,
        sum(_ms(item) for item in whole if item["name"] == "RasterTask"),
    )


def _ms(item: Event) -> float:
    micro = item["tdur"] if "tdur" in item else item.get("dur", 0)
    return float(micro) / 1000
