"""Findings of one rule, and order statistics by brute force."""

from __future__ import annotations

from typing import Any

import numpy as np

import rising_lantern as rl
from rising_lantern.api.plans import Plan


def found(plan: Plan, name: str) -> list[rl.Finding]:
    """The findings of one rule, whose texts hold no brace or internal name."""
    findings = [finding for finding in rl.check(plan) if finding.rule == name]
    for finding in findings:
        assert "{" not in finding.message + finding.remedy.words
        assert finding.remedy.words
    return findings


def order(values: Any, share: float) -> float:
    """Of n values in order the one after ``int(share n)``."""
    return float(np.sort(values, axis=None)[int(share * values.size)])
