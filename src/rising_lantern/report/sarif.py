"""Findings in the Static Analysis Results Interchange Format: SARIF 2.1.0 of OASIS."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import PurePath
from typing import Any
from urllib.parse import quote

from rising_lantern._version import __version__
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule

_SCHEMA = (
    "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
)


def sarif(findings: Iterable[Finding], rules: Mapping[str, Rule]) -> dict[str, Any]:
    """A SARIF log of one run, with each finding at its place in the plan's file.

    Args:
        findings: The findings; silenced ones become suppressed results.
        rules: All rules by their names.
    """
    names = list(rules)
    return {
        "$schema": _SCHEMA,
        "version": "2.1.0",
        "runs": [
            {
                "tool": {
                    "driver": {
                        "name": "Rising Lantern",
                        "semanticVersion": __version__,
                        "rules": [_rule(rules[name]) for name in names],
                    }
                },
                "columnKind": "unicodeCodePoints",
                "results": [_result(finding, names.index(finding.rule)) for finding in findings],
            }
        ],
    }


def _rule(rule: Rule) -> dict[str, Any]:
    """3.49, reportingDescriptor."""
    first = rule.explanation.split(". ", 1)[0].rstrip(".") + "."
    return {
        "id": rule.name,
        "shortDescription": {"text": first},
        "fullDescription": {"text": rule.explanation},
        "defaultConfiguration": {"level": rule.level},
    }


def _result(finding: Finding, index: int) -> dict[str, Any]:
    """3.27, result."""
    where = f"{finding.page} on {finding.screen_words}, {finding.subject}"
    low, high = finding.scroll
    fix = finding.remedy.words
    result: dict[str, Any] = {
        "ruleId": finding.rule,
        "ruleIndex": index,
        "level": finding.level,
        "message": {"text": f"{where}, {low:.0f} to {high:.0f} px: {finding.message}; {fix}."},
        "locations": [_location(finding)],
        "properties": {
            "page": finding.page,
            "viewport": finding.viewport,
            "subject": str(finding.subject),
            "key": finding.key,
            "scroll": list(finding.scroll),
            "measured": finding.measured,
            "limit": finding.limit,
            "settings": [setting.data for setting in finding.remedy.settings],
        },
    }
    if finding.alike:
        result["properties"]["alike"] = list(finding.alike)
    if finding.reader:
        result["properties"]["reader"] = finding.reader.data
    if finding.silenced is not None:
        result["suppressions"] = [{"kind": "inSource", "justification": finding.silenced}]
    return result


def _location(finding: Finding) -> dict[str, Any]:
    """3.28, location. A value that was set on the command line has no place in a file."""
    place = finding.place
    if place.file.startswith("--"):
        return {"logicalLocations": [{"fullyQualifiedName": finding.key}]}
    physical: dict[str, Any] = {"artifactLocation": {"uri": _uri(place.file)}}
    if place.line:
        physical["region"] = {"startLine": place.line, "startColumn": max(place.column, 1)}
    return {
        "physicalLocation": physical,
        "logicalLocations": [{"fullyQualifiedName": finding.key}],
    }


def _uri(name: str) -> str:
    """A file's name as a URI, relative as it was given."""
    path = PurePath(name)
    return path.as_uri() if path.is_absolute() else quote(path.as_posix())
