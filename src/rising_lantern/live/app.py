"""The web application of the live preview: pages, data, and what is allowed to ask for them."""

from __future__ import annotations

import asyncio
import json
import os
import secrets
from collections.abc import AsyncIterator, Awaitable, Callable, Mapping
from contextlib import ExitStack, suppress
from pathlib import Path
from typing import Any

from anyio.to_thread import run_sync
from starlette.applications import Starlette
from starlette.background import BackgroundTask
from starlette.middleware import Middleware
from starlette.requests import Request
from starlette.responses import (
    FileResponse,
    JSONResponse,
    PlainTextResponse,
    Response,
    StreamingResponse,
)
from starlette.routing import Route
from starlette.types import ASGIApp, Receive, Scope, Send
from watchfiles import awatch

from rising_lantern.errors import LanternError, PlanError
from rising_lantern.jobs.job import Job
from rising_lantern.live.helper import Helper, OutOfDateError
from rising_lantern.live.watched import Identity, LiveState, WatchedPlan, fault_data
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.previews.document import in_base64, preview_html
from rising_lantern.previews.previewing import AS_IT_IS, PreviewTask, outline
from rising_lantern.previews.site_data import site_data
from rising_lantern.previews.view_data import ViewData, first_data

_HEARTBEAT = 10.0  # seconds
_DEBOUNCE, _STEP = 60, 20  # ms that files have to be at rest
_LOOK_AGAIN = 1000  # ms between two looks at whether the folders are still the same
_ASKED_BY = (b"host", b"origin", b"sec-fetch-site")
_SITES = frozenset({"same-origin", "none"})
"""Who may ask: the page itself, and somebody who typed the address. Ports share a site."""
_MOST_ASSETS = 1000  # of past and present exports
_POLICY = (
    "default-src 'none'; script-src 'nonce-{nonce}' blob:; style-src 'nonce-{nonce}' blob:; "
    "img-src 'self' blob: data:; media-src 'self' blob:; font-src 'self' data:; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
_HEADERS = {
    "cache-control": "no-store",
    "cross-origin-resource-policy": "same-origin",
    "referrer-policy": "no-referrer",
    "x-content-type-options": "nosniff",
}


class LivePreview:
    """Answers what the page asks for, and reports when the plan has changed.

    Args:
        watched: The plan.
        port: The port that it is served at.
    """

    def __init__(self, watched: WatchedPlan, port: int) -> None:
        self.watched = watched
        self.port = port
        self._helper = Helper()
        self._changed = asyncio.Event()
        self._stopping = asyncio.Event()
        self._assets: dict[str, SourceFile | bytes] = {}

    def app(self) -> ASGIApp:
        """The application."""
        routes = [
            Route("/", self._page),
            Route("/outline.json", self._outline),
            Route("/site.json", self._site),
            Route("/view.json", self._view),
            Route("/measured.json", self._measured),
            Route("/assets/{name}", self._asset),
            Route("/events", self._events),
        ]
        guard = Middleware(_Guard, port=self.port)
        errors = {LanternError: _fault_data, OutOfDateError: _out_of_date}
        return Starlette(routes=routes, middleware=[guard], exception_handlers=errors)

    # --- changes ---------------------------------------------------------------------------------

    async def watch(self) -> None:
        """Read the plan again whenever it, or a file that it uses, has been saved."""
        folders = self.watched.folders()
        while not self._stopping.is_set():
            await (self._watch(folders) if folders else self._wait(_LOOK_AGAIN / 1000))
            now = self.watched.folders()
            if now != folders and not self._stopping.is_set():
                # A folder was renamed, deleted or made again: what is in it may be another plan.
                await self._reload()
                now = self.watched.folders()
            folders = now

    async def _watch(self, folders: Mapping[Path, Identity]) -> None:
        """Read the plan again with each change, until other folders are to be watched."""
        changes = awatch(
            *folders, debounce=_DEBOUNCE, step=_STEP, recursive=False, stop_event=self._stopping,
            raise_interrupt=False, rust_timeout=_LOOK_AGAIN, yield_on_timeout=True,
        )  # fmt: skip
        with suppress(FileNotFoundError):  # a folder that went away meanwhile
            async for found in changes:
                if any(self.watched.concerns(Path(path)) for _, path in found):
                    await self._reload()
                if self.watched.folders() != folders:
                    return

    async def _reload(self) -> None:
        await run_sync(self.watched.reload)
        self._helper.drop()
        self._notify()

    async def _wait(self, seconds: float) -> None:
        with suppress(TimeoutError):
            await asyncio.wait_for(self._stopping.wait(), seconds)

    def stop(self) -> None:
        """Stop watching and measuring, and close the connections that report changes."""
        self._stopping.set()
        self._helper.end()
        self._notify()

    def _notify(self) -> None:
        self._changed.set()
        self._changed = asyncio.Event()

    async def _events(self, request: Request) -> Response:
        del request
        return StreamingResponse(self._states(), media_type="text/event-stream")

    async def _states(self) -> AsyncIterator[str]:
        """The state now, and each one that follows."""
        while not self._stopping.is_set():
            changed = self._changed
            yield f"data: {json.dumps(self.watched.state.data())}\n\n"
            known = self.watched.state.revision
            while self.watched.state.revision == known and not self._stopping.is_set():
                try:
                    await asyncio.wait_for(changed.wait(), _HEARTBEAT)
                except TimeoutError:
                    yield ": still there\n\n"
                changed = self._changed

    # --- answers ---------------------------------------------------------------------------------

    async def _page(self, request: Request) -> Response:
        del request
        nonce = secrets.token_urlsafe(16)
        html = preview_html(self.watched.state.plan.title, None, nonce)
        policy = _POLICY.format(nonce=nonce)
        return Response(html, headers={"content-security-policy": policy}, media_type="text/html")

    async def _outline(self, request: Request) -> Response:
        del request
        return JSONResponse(await run_sync(_outlined, self.watched.state))

    async def _site(self, request: Request) -> Response:
        page, slide = request.query_params.get("page"), _number(request, "slide")
        return JSONResponse(await run_sync(self._site_of, page, slide))

    def _site_of(self, page: str | None, slide: int) -> dict[str, Any]:
        plan = self.watched.state.plan
        boxes = [view.showing(slide).scene.box for view in plan.views((page,) if page else ())]
        made = site_data(plan.file, boxes)
        self._assets |= made.assets
        for name in list(self._assets)[:-_MOST_ASSETS]:
            del self._assets[name]
        return made.data | {"assets": sorted(made.assets)}

    async def _view(self, request: Request) -> Response:
        return JSONResponse(await run_sync(self._first_of, *_chosen(request)))

    def _first_of(self, page: str | None, viewport: str | None, slide: int) -> dict[str, Any]:
        view = self.watched.state.plan.view(page, viewport)
        return _pack([first_data(view.showing(slide).scene)], slide)

    async def _measured(self, request: Request) -> Response:
        return JSONResponse(await run_sync(self._measured_of, *_chosen(request)))

    def _measured_of(self, page: str | None, viewport: str | None, slide: int) -> dict[str, Any]:
        plan = self.watched.state.plan
        view = plan.view(page, viewport)
        job = Job(plan.file, view.page, view.viewport, PreviewTask())
        _, views = self._helper.run(job)
        return _pack(views, slide)

    async def _asset(self, request: Request) -> Response:
        # Only what an export of the plan has named is there, by exactly these names.
        content = self._assets.get(f"assets/{request.path_params['name']}")
        if content is None:
            return PlainTextResponse("not found", status_code=404)
        kind = _TYPES.get(request.path_params["name"].rpartition(".")[2], "")
        if isinstance(content, bytes):
            return Response(content, media_type=kind or None)
        return await run_sync(_as_it_was_read, content, kind or None)


_TYPES = {
    "avif": "image/avif",
    "gif": "image/gif",
    "jpeg": "image/jpeg",
    "jpg": "image/jpeg",
    "png": "image/png",
    "svg": "image/svg+xml",
    "mp4": "video/mp4",
    "webm": "video/webm",
    "webp": "image/webp",
    "woff2": "font/woff2",
}


def _as_it_was_read(file: SourceFile, kind: str | None) -> Response:
    """A file of the plan, or an error where something else stands at its path by now."""
    held = ExitStack()
    opened = held.enter_context(file.opened())
    # What has been opened is served, not what a second look at the path would find.
    place = Path(f"/dev/fd/{opened.fileno()}")
    if not place.exists():
        with held:
            return Response(opened.read(), media_type=kind)
    return FileResponse(
        place,
        media_type=kind,
        stat_result=os.fstat(opened.fileno()),
        background=BackgroundTask(held.close),
    )


def _outlined(state: LiveState) -> dict[str, Any]:
    plan = state.plan
    slides = {
        f"{view.page}/{view.viewport}": [
            (item.slide, item.scene.shown_names) for item in view.slides()
        ]
        for view in plan.views()
    }
    return outline({AS_IT_IS: plan}, plan.view_names()) | {"slides": slides} | state.data()


def _chosen(request: Request) -> tuple[str | None, str | None, int]:
    query = request.query_params
    return query.get("page"), query.get("viewport"), _number(request, "slide")


def _number(request: Request, name: str) -> int:
    text = request.query_params.get(name, "0")
    return int(text) if text.isascii() and text.isdigit() and len(text) < 6 else 0  # noqa: PLR2004


def _pack(views: list[ViewData], slide: int) -> dict[str, Any]:
    """The data of one of some views, with its pictures."""
    chosen = next((item for item in views if item.data["slide"] == slide), views[0])
    return chosen.data | {"pictures": in_base64(chosen.pictures)}


async def _fault_data(request: Request, error: Exception) -> Response:
    """What is wrong with the plan, or with what was asked for."""
    del request
    if isinstance(error, PlanError):
        return JSONResponse({"faults": fault_data(error.faults)}, status_code=422)
    faults = [{"place": "", "text": str(error), "remedy": ""}]
    return JSONResponse({"faults": faults}, status_code=422)


async def _out_of_date(request: Request, error: Exception) -> Response:
    """The plan has changed while this was being measured: nothing is wrong, and nothing known."""
    del request, error
    return JSONResponse({"outOfDate": True})


class _Guard:
    """Answers this machine only, under its own name, and pages of this server only."""

    def __init__(self, app: ASGIApp, port: int) -> None:
        self._app = app
        self._hosts = {f"127.0.0.1:{port}", f"localhost:{port}"}
        self._origins = {f"http://{host}" for host in self._hosts}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        host, origin, site = (_header_values(scope["headers"], name) for name in _ASKED_BY)
        own = set(host) <= self._hosts and set(origin) <= self._origins and set(site) <= _SITES
        if not own or len(host) != 1 or len(origin) > 1 or len(site) > 1:
            refusal = PlainTextResponse("not for this host or origin", status_code=403)
            await refusal(scope, receive, _with_headers(send))
            return
        await self._app(scope, receive, _with_headers(send))


def _header_values(pairs: list[tuple[bytes, bytes]], name: bytes) -> list[str]:
    """The values of a header, in the order in which they were given."""
    return [value.decode("latin-1") for key, value in pairs if key.lower() == name]


def _with_headers(send: Send) -> Callable[[Any], Awaitable[None]]:
    """Sends what is sent with headers that every answer has."""

    async def sending(message: Any) -> None:
        if message["type"] == "http.response.start":
            own = [(name.encode(), value.encode()) for name, value in _HEADERS.items()]
            message = {**message, "headers": [*message.get("headers", ()), *own]}
        await send(message)

    return sending
