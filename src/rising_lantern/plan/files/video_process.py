"""The program that reads one video, by itself: its file from standard input.

It is run without the rest of the library: a file that crashes it or never ends takes nothing else
along. What it opens is a stream of bytes of a container that is named, so that no file can lead it
to another file, or into the net.

Its arguments are a task, the folder of the decoding package, limits of seconds and bytes, and

- ``probe FORMAT LONGEST MOST``: prints the size, the coding, the length, and the times of the
  frames that are looked at, as JSON: all of the first LONGEST seconds of a video that is not
  longer, or else at most MOST of those that can be decoded by themselves, evenly spread over all
  of it;
- ``frames FORMAT WIDTH HEIGHT SECOND...``: writes the frame that is shown at each of some seconds,
  which ascend and count as the file counts them, as RGB of a size.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from typing import Any

_REFUSED, _NO_MEMORY = 1, 3
_MOST_PIXELS = 4096 * 4096
_MOST_PACKETS = 2_000_000


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


def _main(task: str, place: str, seconds: str, size: str, form: str, *arguments: str) -> int:
    _limit(int(seconds), int(size))
    sys.path.append(place)
    import av  # noqa: PLC0415 - found where the caller says

    sys.stdin.buffer.seek(0)
    try:
        with av.open(sys.stdin.buffer, format=form, metadata_errors="replace") as container:
            if not container.streams.video:
                sys.stderr.write("it has no pictures in it")
                return _REFUSED
            video = _DecodedVideo(av, container)
            if task == "probe":
                sys.stdout.write(json.dumps(video.probed(float(arguments[0]), int(arguments[1]))))
            else:
                width, height, *wanted = arguments
                for pixels in video.frames((int(width), int(height)), map(float, wanted)):
                    sys.stdout.buffer.write(pixels)
    except MemoryError:
        return _NO_MEMORY
    except (av.FFmpegError, ValueError) as error:
        sys.stderr.write(getattr(error, "strerror", None) or str(error))
        return _REFUSED
    return 0


class _DecodedVideo:
    """The pictures of an open file."""

    def __init__(self, av: Any, container: Any) -> None:
        self._av, self._container = av, container
        self._stream = container.streams.video[0]
        self._stream.codec_context.thread_count = 2
        if self._stream.width * self._stream.height > _MOST_PIXELS:
            size = f"{self._stream.width:,} x {self._stream.height:,}"
            raise ValueError(
                f"it is {size} px, and {_MOST_PIXELS // 10**6} megapixels is the limit"
            )

    def probed(self, longest: float, most: int) -> dict[str, Any]:
        """Its size in px, its length in seconds, and the times of the frames to look at."""
        packets = self._packets()
        if not packets:
            raise ValueError("it has no pictures in it")
        start = packets[0][0]
        times = [time - start for time, _ in packets]
        step = (times[-1] / (len(times) - 1)) if len(times) > 1 else 0.0
        length = times[-1] + step
        if length > longest:
            times = [time - start for time, is_key in packets if is_key]
        first = next(self._decode_from_key_frame(start))
        width, height = self._display_size(first)
        every = -(-len(times) // most)
        return {
            "width": width,
            "height": height,
            "codec": self._stream.codec_context.codec.canonical_name,
            "seconds": length,
            "times": times[::every],
            "start": start,
            "whole": length <= longest and every == 1,
        }

    def _packets(self) -> list[tuple[float, bool]]:
        """The time of each frame, in order, and whether it can be decoded by itself."""
        found = []
        for packet in self._container.demux(self._stream):
            if packet.pts is not None and packet.size:
                found.append((float(packet.pts * packet.time_base), bool(packet.is_keyframe)))
            if len(found) > _MOST_PACKETS:
                raise ValueError(f"it has more than {_MOST_PACKETS:,} frames")
        return sorted(found)

    def frames(self, size: tuple[int, int], wanted: Iterator[float]) -> Iterator[bytes]:
        """The frame that is shown at each of some seconds as RGB of a size."""
        decoded: Iterator[Any] = iter(())
        shown: Any = None
        following: Any = None
        for second in wanted:
            if following is None or second > following.time + _FAR:
                decoded = self._decode_from_key_frame(second)
                shown = following = next(decoded)
            while following is not None and following.time <= second + _HAIR:
                shown, following = following, next(decoded, None)
            yield self._rgb(shown, size)

    def _decode_from_key_frame(self, second: float) -> Iterator[Any]:
        """Frames from the last one before a second that can be decoded by itself."""
        offset = int(second * self._av.time_base)
        self._container.seek(max(offset, 0), backward=True)
        found = False
        for frame in self._container.decode(self._stream):
            found = True
            yield frame
        if not found:
            raise ValueError("none of its frames can be read")

    def _display_size(self, frame: Any) -> tuple[int, int]:
        """Its size as it is shown: with its pixels made square, and upright."""
        aspect = self._stream.sample_aspect_ratio or 1
        size = round(frame.width * float(aspect)), frame.height
        return size[::-1] if frame.rotation % 180 else size

    def _rgb(self, frame: Any, size: tuple[int, int]) -> bytes:
        """A frame as RGB of a size, upright."""
        quarters = round(frame.rotation / 90) % 4
        width, height = size[::-1] if quarters % 2 else size
        drawn = frame.reformat(width=width, height=height, format="rgb24", interpolation="AREA")
        pixels = drawn.to_ndarray()
        # Counter-clockwise.
        for _ in range(quarters):
            pixels = pixels.swapaxes(0, 1)[::-1]
        return bytes(pixels.tobytes())


_FAR = 2.0  # seconds to the next frame from which on looking for it is quicker than decoding
_HAIR = 1e-4

if __name__ == "__main__":
    sys.exit(_main(*sys.argv[1:]))
