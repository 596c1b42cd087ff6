"""Reduce MDN's browser-compat-data to the features that exports use.

npm pack @mdn/browser-compat-data; tar xzf *.tgz; python docs/browser_support.py package/data.json
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from rising_lantern.exports import support


def first_version(entry: Any) -> str | None:
    """The first version that has a feature without a prefix or a setting; None for none."""
    for item in entry if isinstance(entry, list) else [entry]:
        plain = not item.keys() & {"prefix", "flags", "alternative_name", "partial_implementation"}
        version = item["version_added"]
        if plain and isinstance(version, str) and version != "preview":
            return version.removeprefix("≤")
    return None


def main() -> None:
    """Write the reduced data beside the module that reads it."""
    everything = json.loads(Path(sys.argv[1]).read_text("utf-8"))
    features = {}
    for feature in support.FEATURES:
        place = everything
        for name in feature.key.split("."):
            place = place[name]
        entries = place["__compat"]["support"]
        features[feature.key] = {
            browser: first_version(entries[browser]) for browser in support.BROWSERS
        }
    meta = everything["__meta"]
    data = {"date": meta["timestamp"][:10], "version": meta["version"], "features": features}
    target = Path(support.__file__).parent / support.DATA
    target.write_text(json.dumps(data, indent=1) + "\n", "utf-8")


if __name__ == "__main__":
    main()
