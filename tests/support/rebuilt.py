"""A plan that is written again by hand, from nothing but the settings of another one."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

import pandas as pd

from rising_lantern.api.plans import Plan

Entry = dict[str, Any]

_NUMBERS = {
    *("weight", "font weight", "leading", "level", "z", "stacking (z-index)", "least contrast"),
    *("before", "after"),
}
_LOOK_NAMES = {
    "text colour": "color",
    "blur of what is behind it": "blur",
    "stacking (z-index)": "z",
    "distance from the top": "top",
    "lies over the first section": "over",
    "overlap with the section above": "overlap",
    "background colour": "background",
    "blend mode": "blend",
    "font size": "size",
    "font weight": "weight",
    "colour": "color",
    "file": "image",
    "hold space": "hold-space",
}
_WHOLES = re.compile(r" of the (screen's (height|width)|page's scroll range)$")


def rebuilt(plan: Plan, page: str, viewport: str) -> Entry:
    """One page of a plan on one viewport, from its settings; screens and fonts are as they were."""
    table = plan.settings([page], [viewport])
    things: dict[str, pd.DataFrame] = {
        str(name): rows for name, rows in table.groupby("thing", sort=False)
    }
    screen = plan.file.root.plain()["viewports"][viewport]
    fonts = plan.file.root.plain().get("fonts", {})
    entry: Entry = {"background": {"layers": []}, "sections": {}}
    result: Entry = {
        "rising-lantern": 1,
        "viewports": {viewport: screen},
        "fonts": fonts,
        "headers": {},
        "pages": {page: entry},
        "pause": False,
    }
    # Content is listed as it is painted; here boxes come before what is in them.
    for thing, rows in sorted(things.items(), key=lambda item: _place_in(item[0])):
        kind, _, rest = thing.partition(" ")
        name, _, inner = rest.partition(", ")
        values = list(zip(rows["state"], rows["setting"], rows[viewport], strict=True))
        if thing == "page":
            _page(entry, values)
        elif kind == "page,":
            entry["background"]["layers"].append(_layer(values))
        elif kind == "header":
            _header(result["headers"].setdefault(name, {}), inner, values)
        elif inner == "pause control":
            result["pause"] = _plain(values)
            result["pause"]["at"] = result["pause"].pop("position")
        else:
            section = entry["sections"].setdefault(name, {"layers": [], "content": []})
            _section(section, inner, values)
    return result


def _place_in(thing: str) -> list[int]:
    found = re.match(r"section \S+, (?:text|box|picture) ([\d.]+)", thing)
    return [int(step) for step in found[1].split(".")] if found else [-1]


_Values = list[tuple[str, str, str]]


def _page(entry: Entry, values: _Values) -> None:
    for _, name, words in values:
        if name == "background colour":
            entry["background"]["color"] = _color(words)
        else:
            entry[name.replace(" ", "-")] = _value(name, words)


def _section(section: Entry, inner: str, values: _Values) -> None:
    if not inner:
        section |= _plain(values)
        if section.get("height") == "that of its content":
            section["height"] = "auto"
    elif inner.startswith("layer "):
        section["layers"].append(_layer(values))
    else:
        kind, place = inner.split(" ")[:2]
        holder = section["content"]
        *boxes, _ = place.split(".")
        for index in boxes:
            holder = holder[int(index) - 1]["box"]["content"]
        holder.append(_content(kind, values))


def _content(kind: str, values: _Values) -> Entry:
    rows = _plain(values)
    rows.pop("shown", None)
    if kind != "box":
        return rows
    inner = {"padding", "gap", "columns", "background", "color", "border", "radius", "shadow"}
    box = {key: value for key, value in rows.items() if key in inner}
    outer = {key: value for key, value in rows.items() if key not in inner}
    return outer | {"box": box | {"content": []}}


def _layer(values: _Values) -> Entry:
    files = [words for _, name, words in values if re.fullmatch(r"file( \d+)?", name)]
    tones = {name: words for _, name, words in values if name.startswith("tone while")}
    layer = _plain([item for item in values if not re.match("file|tone while", item[1])])
    if layer.get("attachment") == "fixed":
        layer.pop("speed", None)
    if any(file.endswith((".webm", ".mp4")) for file in files):
        *poster, layer["video"] = files
        return layer | ({"poster": poster[0]} if poster else {})
    if len(files) > 1 or "every" in layer:
        layer["slides"] = [
            {"image": file, "tone": tones.get(f"tone while file {place} shows")}
            for place, file in enumerate(files, 1)
        ]
    elif files:
        layer["image"] = files[0]
    return layer


def _stop(words: str) -> Entry:
    found = re.fullmatch(
        r"at (.*): (.*) right, (.*) down, (.*) times as large, opacity ([^,]*)(?:, easing (.*))?",
        words,
    )
    assert found, words
    at, x, y, scale, opacity, easing = found.groups()
    stop = {"at": at, "x": x, "y": y, "scale": float(scale), "opacity": float(opacity)}
    return stop | ({"easing": _easing(easing)} if easing else {})


# --- headers -----------------------------------------------------------------------------------


def _header(header: Entry, inner: str, values: _Values) -> None:
    looks = header.setdefault("looks", {})
    if inner.startswith("layer "):
        for state, rows in _by_state(values):
            owner = looks.setdefault(state, {}) if state else header
            owner.setdefault("layers", []).append(_layer(rows))
    elif inner.startswith("row "):
        _row(header, inner, values)
    elif inner:
        _part(header, inner, values)
    else:
        # Each look has a background; where tones choose, they start in another order.
        looks |= {state: {} for state, name, _ in values if state and name == "background"}
        for state, rows in _by_state(values):
            if state:
                looks[state] = _look(rows)
            else:
                header |= _plain(rows)
        for look in looks.values():
            if "under" in header:
                look.pop("from", None)
                look.pop("back", None)


def _by_state(values: _Values) -> Iterator[tuple[str, _Values]]:
    for state in dict.fromkeys(state for state, _, _ in values):
        yield state, [item for item in values if item[0] == state]


def _look(values: _Values) -> Entry:
    look: Entry = {}
    change = {name: words for _, name, words in values if "change" in name}
    shadows = [_shadow(words) for _, name, words in values if name.startswith("shadow")]
    for _, name, words in values:
        if name.startswith("starts") and words != "at the top of the page":
            look["from"] = _position(words, "at or beyond ")
        elif name.startswith("ends"):
            look["back"] = _position(words, "below ")
        elif name.startswith("holds going"):
            look |= {"going": name.split()[-1], "from": _position(words, "at or beyond ")}
        elif name == "after turning round by":
            look["after"] = words.replace(" ", "")
        elif not re.match("starts|shadow|.*change", name):
            look |= _plain([("", name, words)])
    if look.get("height") == "that of its parts and padding":
        look["height"] = "auto"
    look |= {"shadow": ", ".join(shadows)} if shadows else {}
    return look | ({"change": _change(change)} if change else {})


def _position(words: str, before: str) -> str:
    return words.removeprefix(before).partition(" px")[0] + "px"


def _change(words: dict[str, str]) -> str:
    own = words["change"]
    if own == "at once":
        return "cut"
    easing = _easing(words["easing of the change"])
    if own.endswith(" of scroll"):
        lag = words.get("lag of the change", "")
        distance = _WHOLES.sub("", own.removeprefix("over ").removesuffix(" of scroll"))
        return f"blend {distance} {easing}" + (f" lag {lag.replace(' ', '')}" if lag else "")
    time, delay = (
        text.removeprefix("over ").replace(" ", "")
        for text in (own, words.get("delay of the change", ""))
    )
    return f"fade {time} {easing} {delay}".strip()


def _row(header: Entry, inner: str, values: _Values) -> None:
    name, _, layer = inner.removeprefix("row ").partition(", ")
    for state, rows in _by_state(values):
        look = header["looks"].setdefault(state, {}).setdefault("rows", {}).setdefault(name, {})
        header.setdefault("rows", {}).setdefault(name, {})
        if layer:
            look.setdefault("layers", []).append(_layer(rows))
        else:
            look |= _look(rows)
            look |= {"hidden": True} if look.pop("shown", True) is False else {}
        header["rows"][name].setdefault("height", look.get("height", "40px"))


def _part(header: Entry, name: str, values: _Values) -> None:
    part = header.setdefault("parts", {}).setdefault(name, {})
    for state, rows in _by_state(values):
        own = _plain([item for item in rows if ": " not in item[1]])
        for _, label, words in (item for item in rows if ": " in item[1]):
            of, key = label.split(": ")
            key = {"colour": "color", "underlined": "underline"}.get(key, key)
            value = words == "yes" if key == "underline" else _color(words)
            own.setdefault("states", {}).setdefault(of, {})[key] = value
        for key in ("size", "width"):
            if key in own:
                own[key] = str(own[key]).replace(" ", "")
        if not state:
            if isinstance(own.get("text"), str) and "; " in own["text"]:
                own["text"] = own["text"].split("; ")
            part |= own
            continue
        for key in ("weight",):
            if key in own:
                part[key] = own.pop(key)
        header["looks"].setdefault(state, {}).setdefault("parts", {})[name] = own
        for key, value in own.items():
            part.setdefault(key, value) if key != "hidden" else None


# --- values ------------------------------------------------------------------------------------


def _plain(values: _Values) -> Entry:
    return {
        _LOOK_NAMES.get(name, name.replace(" ", "-")): _value(name, words)
        for _, name, words in values
    }


def _value(name: str, words: str) -> Any:
    words = _WHOLES.sub("", words)
    if name in _READ:
        return _READ[name](words)
    if words in {"yes", "no"}:
        return words == "yes"
    if name in _NUMBERS and re.fullmatch(r"-?[\d.]+(e-?\d+)?", words):
        return float(words) if "." in words else int(words)
    return _color(words) if "colo" in name or name == "background" else words


def _object(words: str) -> Any:
    """What has keys of its own, or is a colour in short."""
    if words.startswith("#"):
        return _color(words)
    return {key: _value(key, text) for key, text in _pairs(words)}


def _border(words: str) -> str:
    width, _, color = words.partition(" solid, ")
    return f"{width} solid {_color(color)}"


def _mapping(words: str) -> Entry:
    return dict(item.rsplit(": ", 1) for item in words.split("; "))


def _slides_change(words: str) -> str:
    time, _, easing = words.removeprefix("over ").partition(", ")
    return f"fade {time.replace(' ', '')} {_easing(easing)}" if easing else "cut"


def _pairs(words: str) -> Iterator[tuple[str, str]]:
    for item in re.split(r", (?![^(]*\))", words):
        key, _, text = item.partition(" ")
        yield key, text


def _color(words: str) -> str:
    color, _, share = words.partition(" at ")
    if not share or not re.fullmatch(r"#[0-9a-f]{6}", color):
        return words
    return _rgb(color, share)


def _rgb(color: str, share: str) -> str:
    red, green, blue = (int(color[place : place + 2], 16) for place in (1, 3, 5))
    return f"rgb({red} {green} {blue} / {share.replace(' ', '')})"


def _shadow(words: str) -> str:
    x, y, blur, spread, color = re.split(r", (?![^(]*\))", words)
    lengths = [item.rsplit(" ", 1)[0] for item in (x, y, blur)]
    far = spread.rsplit(" ", 1)[0]
    return " ".join([*lengths, *([far] if far != "0px" else []), _color(color)])


def _easing(words: str) -> str:
    found = re.fullmatch(r"([a-z-]+) \((.*)\)", words)
    if not found:
        return words
    return f"cubic-bezier({found[2]})" if found[1] == "cubic-bezier" else found[1]


_READ: dict[str, Callable[[str], Any]] = {
    **dict.fromkeys(("text", "alt", "title", "description"), str),
    **dict.fromkeys(("every", "time"), lambda words: words.replace(" ", "")),
    **dict.fromkeys(("panel", "enter", "link color"), _object),
    **dict.fromkeys(("links", "under"), _mapping),
    **dict.fromkeys(("speed", "drift"), lambda words: float(words.split(":")[0])),
    "opacity": lambda words: (
        float(words.removesuffix(" %")) / 100 if "%" in words else float(words)
    ),
    "path": lambda words: [_stop(stop) for stop in words.split("; ")],
    "shadow": lambda words: (
        ", ".join(map(_shadow, words.split("; "))) if "right" in words else "none"
    ),
    "columns": lambda words: words.replace("; ", " "),
    "fill": _color,
    "border": _border,
    "button": lambda words: words.removeprefix("to ").partition(",")[0],
    "easing": _easing,
    "change": _slides_change,
}
