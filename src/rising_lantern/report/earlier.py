"""An earlier result of a check, against which only what is new counts."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from rising_lantern.base.opening import NotAFileError, opened_file
from rising_lantern.checks.findings import Finding
from rising_lantern.errors import RequestError

_MOST_BYTES = 100_000_000

_About = tuple[str, str, str, str, str]
"""Rule, page, viewport, subject and reader: what makes a finding the same, whatever its figures."""


class Earlier:
    """What was found earlier, as ``check`` wrote it, in JSON or SARIF.

    A finding is the same where its rule, page, viewport, subject and reader are. The subject of
    one about a header has the look in it.

    Args:
        path: The file.

    Raises:
        RequestError: If it cannot be read, or is something else.
    """

    def __init__(self, path: Path) -> None:
        self._known = set(_findings_in(_data_of(path), path))
        self._met: set[_About] = set()

    def has(self, finding: Finding) -> bool:
        """Whether a finding was there, on all of its pages."""
        reader = _reader_words(finding.reader.data if finding.reader else None)
        subject = str(finding.subject)
        own = {
            (finding.rule, page, finding.viewport, subject, reader)
            for page in (finding.page, *finding.alike)
        }
        self._met |= own & self._known
        return own <= self._known

    @property
    def known(self) -> int:
        """How many of those that were there have been met again."""
        return len(self._met)

    @property
    def gone(self) -> int:
        """How many of them have not."""
        return len(self._known - self._met)


def _data_of(path: Path) -> Any:
    """What is in a JSON file."""
    try:
        with opened_file(path) as opened:
            text = opened.read(_MOST_BYTES + 1)
    except NotAFileError as error:
        raise RequestError(
            f"{path} is {error}; name a result of 'check' in JSON or SARIF"
        ) from None
    except OSError as error:
        raise RequestError(f"{path} cannot be read: {error.strerror}") from None
    if len(text) > _MOST_BYTES:
        raise _wrong(path)
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        raise _wrong(path) from None


def _findings_in(data: Any, path: Path) -> Iterator[_About]:
    """What makes each finding of a result the same.

    Raises:
        RequestError: If it is no result of a check.
    """
    try:
        if isinstance(data, Mapping):
            results = [item for run in data["runs"] for item in run["results"]]
            rows = [(item["ruleId"], item["properties"]) for item in results]
        else:
            rows = [(item["rule"], item) for item in data]
        for rule, item in rows:
            reader = _reader_words(item.get("reader"))
            for page in (item["page"], *item.get("alike", ())):
                yield str(rule), str(page), str(item["viewport"]), str(item["subject"]), reader
    except (LookupError, TypeError, AttributeError):
        raise _wrong(path) from None


def _reader_words(data: object) -> str:
    """The data of a reader as a text."""
    return "" if data is None else json.dumps(data, sort_keys=True)


def _wrong(path: Path) -> RequestError:
    return RequestError(
        f"{path} is no result of 'check'; write one with 'check PLAN --format json -o FILE'"
    )
