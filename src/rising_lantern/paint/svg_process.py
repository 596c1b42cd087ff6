"""The program that draws one SVG, by itself: from standard input, as PNG to standard output.

Its arguments are the folder of the drawing package, limits of seconds and bytes, and ``fonts``
where the fonts of the system are needed. It is run without the rest of the library: a drawing that
crashes it or never ends takes nothing else along.
"""

from __future__ import annotations

import sys

_REFUSED, _NO_MEMORY = 1, 3


def _limit(seconds: int, size: int) -> None:
    try:
        import resource  # noqa: PLC0415 - not everywhere
    except ImportError:
        return
    for kind, most in (
        (resource.RLIMIT_CPU, seconds),
        (resource.RLIMIT_AS, size),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(kind, (most, most))


def _main(place: str, seconds: str, size: str, fonts: str) -> int:
    _limit(int(seconds), int(size))
    sys.path.append(place)
    import resvg_py  # noqa: PLC0415 - found where the caller says

    text = sys.stdin.buffer.read().decode("utf-8")
    try:
        result = resvg_py.svg_to_bytes(svg_string=text, skip_system_fonts=not fonts)
        sys.stdout.buffer.write(bytes(result))
    except MemoryError:
        return _NO_MEMORY
    except ValueError as error:
        sys.stderr.write(str(error))
        return _REFUSED
    return 0


if __name__ == "__main__":
    sys.exit(_main(*sys.argv[1:]))
