"""Addresses that links of a plan lead to."""

from __future__ import annotations

import re
from typing import Annotated

from pydantic import AfterValidator

from rising_lantern.errors import quoted
from rising_lantern.plan.models.base import wrong

# A number as it is written for people: digits in groups, the first of which may be in brackets.
_TELEPHONE = re.compile(r"\+?[0-9(][0-9()./\s\u00a0\u2009\u202f-]{4,24}[0-9]\Z")
_FEWEST_DIGITS, _MOST_DIGITS = 6, 15  # ITU-T E.164, 6.1: fifteen at most

_SCHEMES = ("http:", "https:", "mailto:", "tel:")


def _address(value: str) -> str:
    """An address that a link can lead to, and that runs nothing."""
    text = value.strip()
    scheme = text.partition(":")[0] if ":" in text.partition("/")[0] else ""
    if scheme and f"{scheme.lower()}:" not in _SCHEMES:
        raise wrong(
            f"{quoted(text)} is not an address for a link",
            "write a page of the plan, a path such as /visit, or an https, mailto or tel address",
        )
    if not text or any(ord(sign) < 32 for sign in text):  # noqa: PLR2004 - controls
        raise wrong("the link leads nowhere", "write a page of the plan or a path such as /visit")
    return text


AddressValue = Annotated[str, AfterValidator(_address)]


def telephone(words: str) -> str | None:
    """The address of some words that are a telephone number; None for others.

    Source: https://www.rfc-editor.org/rfc/rfc3966#section-3

    >>> telephone("01 555 0100")
    'tel:015550100'
    >>> telephone("2026")
    """
    text = words.strip()
    digits = "".join(sign for sign in text if sign.isdecimal())
    if not _TELEPHONE.match(text) or not _FEWEST_DIGITS <= len(digits) <= _MOST_DIGITS:
        return None
    return f"tel:{'+' * text.startswith('+')}{digits}"
