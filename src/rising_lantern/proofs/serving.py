"""Folders served on the loopback address: browsers load no modules from a disk."""

from __future__ import annotations

import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any


class _Silent(SimpleHTTPRequestHandler):
    """Serves files from the first of several folders that has them."""

    def __init__(self, *args: Any, others: tuple[Path, ...], **keywords: Any) -> None:
        self._others = others
        super().__init__(*args, **keywords)

    def translate_path(self, path: str) -> str:
        place = super().translate_path(path)
        inner = Path(place).relative_to(self.directory)
        found = (folder / inner for folder in self._others if (folder / inner).is_file())
        return place if Path(place).exists() else str(next(found, place))

    def log_message(self, format: str, *args: Any) -> None:  # noqa: A002 - the base class's name
        del format, args


class _FolderServer(ThreadingHTTPServer):
    """A server that does not report a connection that the browser closes early, as for a video."""

    def handle_error(self, request: Any, client_address: Any) -> None:
        if not isinstance(sys.exception(), ConnectionError):
            super().handle_error(request, client_address)


@contextmanager
def served(folder: Path, *others: Path) -> Iterator[str]:
    """Serve a folder on the loopback address while it is needed, and give that address.

    Args:
        folder: The folder.
        others: Folders in which to look for what is not there.
    """
    handler = partial(_Silent, directory=str(folder.resolve()), others=others)
    server = _FolderServer(("127.0.0.1", 0), handler)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_port}"
    finally:
        server.shutdown()
        server.server_close()
        thread.join()
