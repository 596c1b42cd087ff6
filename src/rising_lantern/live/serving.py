"""Serving the live preview on the loopback address until it is interrupted."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import Callable
from types import FrameType

import uvicorn

from rising_lantern.errors import RequestError
from rising_lantern.live.app import LivePreview
from rising_lantern.live.watched import WatchedPlan

_LOOPBACK = "127.0.0.1"
_PATIENCE = 1  # seconds for connections to end


def bound_socket(port: int) -> socket.socket:
    """A socket at a port of the loopback address; 0 for any that is free.

    Raises:
        RequestError: If the port is taken, or may not be used.
    """
    bound = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    bound.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        bound.bind((_LOOPBACK, port))
    except OSError:
        bound.close()
        raise RequestError(
            f"port {port} is taken or not allowed; name another one with --port, or none"
        ) from None
    return bound


def serve(watched: WatchedPlan, bound: socket.socket, started: Callable[[str], None]) -> None:
    """Serve a plan until Ctrl-C.

    Args:
        watched: The plan.
        bound: Where.
        started: Called with the address when it answers.
    """
    port = bound.getsockname()[1]
    asyncio.run(_serve(watched, bound, port, lambda: started(f"http://{_LOOPBACK}:{port}/")))


async def _serve(
    watched: WatchedPlan, bound: socket.socket, port: int, started: Callable[[], None]
) -> None:
    live = LivePreview(watched, port)
    config = uvicorn.Config(
        live.app(), log_level="critical", lifespan="off", server_header=False,
        timeout_graceful_shutdown=_PATIENCE,
    )  # fmt: skip
    server = _LiveServer(config, started, live.stop)
    watching = asyncio.create_task(live.watch())
    try:
        await server.serve(sockets=[bound])
    finally:
        live.stop()
        await asyncio.gather(watching, return_exceptions=True)


class _LiveServer(uvicorn.Server):
    """A server that says when it answers, and lets go of open connections when it is to end."""

    def __init__(
        self, config: uvicorn.Config, started: Callable[[], None], stop: Callable[[], None]
    ) -> None:
        super().__init__(config)
        self._started = started
        self._stop = stop

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Start to answer."""
        await super().startup(sockets)
        self._started()

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """End, as Ctrl-C asks for."""
        self._stop()
        super().handle_exit(sig, frame)
