"""Random plans that draw on everything a plan can say, the same for the same seed."""

from __future__ import annotations

import json
from pathlib import Path
from random import Random
from typing import Any

import numpy as np
from PIL import Image

from videos import write_video

_WORDS = [
    "the",
    "river",
    "carries",
    "light",
    "four",
    "hundred",
    "boats",
    "and",
    "a",
    "lantern",
    "for",
    "everyone",
    "who",
    "comes",
]
_EASINGS = ["linear", "ease", "ease-in-out", "cubic-bezier(.3, -.4, .6, 1.4)", "steps(3)"]
_BLENDS = ["multiply", "screen", "overlay", "darken", "lighten", "soft-light", "difference"]
_COLORS = ["#16213e", "#fdf6e3", "#f4a259", "#0b1026", "#a03020", "rgb(20 60 90 / .6)", "white"]
_NAMES = ["opening", "second", "third", "fourth"]
_FLOW = ("static", "sticky")

Entry = dict[str, Any]


class PlanMaker:
    """Draws one plan.

    Attributes:
        flowing: Whether content may flow: heights then follow from where lines are broken.
        rng: Where its choices come from.
        names: The sections that its page has.
    """

    def __init__(self, seed: int, *, flowing: bool = True) -> None:
        self.flowing = flowing
        self.rng = Random(seed)  # noqa: S311 - not for secrets
        self.later = Random(seed + 1_000_003)  # noqa: S311 - as above
        self.latest = Random(seed + 2_000_003)  # noqa: S311 - as above
        self.linking = Random(seed + 3_000_017)  # noqa: S311 - as above
        self.names = _NAMES[: self.rng.randint(2, 4)]

    def plan(self) -> Entry:
        """The plan as data."""
        background: Entry = {"color": self._one(_COLORS[:5])}
        if self._often(0.3):
            background["layers"] = [self._layer(ground=True) for _ in range(2)]
        sections = {name: self._section() for name in self.names}
        for place, section in enumerate(sections.values()):
            # What came later to the format draws from a source of its own.
            self.rng, drawn = self.later, self.rng
            if self.flowing:
                self._flow(section, first=place == 0)
            self.rng = drawn
        result: Entry = {
            "rising-lantern": 1,
            "viewports": {"screen": f"{self._one([900, 1000, 620])}x{self._one([600, 480, 700])}"},
            "pages": {"page": {"background": background, "sections": sections}},
        }
        if self._often(0.85):
            result["headers"] = {"main": self._header()}
        self.rng = self.latest
        if self.flowing:
            self._add_latest(result, sections)
        self.rng = self.linking
        self._add_links(result, sections)
        return result

    def _add_links(self, result: Entry, sections: Entry) -> None:
        """Headings, links of parts and to sections, and texts that arrive when they are seen."""
        result["pages"]["page"] |= self._some(description=(0.3, "Four hundred boats at Saltmere"))
        parts = result.get("headers", {}).get("main", {}).get("parts", {})
        leads = self._one(["/visit", "#second", "mailto:lock@saltmere.example", "tel:015550100"])
        if "menu" in parts and self._often(0.4):
            parts["menu"]["links"] = {"Visit": leads}
        for section in sections.values():
            for item in section["content"]:
                if "text" not in item or "button" in item:
                    continue
                item.update(self._some(level=(0.2, self._one([0, 2, 3]))))
                word = item["text"].split()[0]
                if "links" not in item and word != "for" and self._often(0.15):
                    item["links"] = {word: self._one(["#second", "/visit"])}
                if "at" in item and self._often(0.15):
                    item["enter"] = {"y": "30px", "opacity": 0, "time": "300ms"}

    def _add_latest(self, result: Entry, sections: Entry) -> None:
        """What came last to the format: directions, tokens, buttons, focus, slides and videos."""
        if self._often(0.3):
            result |= {"lang": "he", "dir": "rtl"}
        if self._often(0.3):
            result["colors"] = {"from": "tokens.json"}
            result["pages"]["page"]["color"] = "river-deep"
        for section in sections.values():
            for layer in section["layers"]:
                self._change_layer(layer)
            for item in section["content"]:
                if "panel" in item and "links" not in item and self._often(0.5):
                    item["button"] = {"to": "/tickets", "hover": {"color": self._one(_COLORS)}}
                if "text" in item and self._often(0.2):
                    item |= {"dir": self._one(["ltr", "rtl"]), "lang": "ar"}

    def _change_layer(self, layer: Entry) -> None:
        if "slides" in layer and self._often(0.5):
            layer |= {"every": "4s", "change": self._one(["cut", "fade 900ms ease-out"])}
        elif "image" in layer and self._often(0.25):
            layer |= {"video": "river.webm", "poster": layer.pop("image")}
            layer.pop("repeat", None)
        elif "image" in layer and self._often(0.4):
            layer["focus"] = self._one(["20% 20% 50% 60%", "0% 70% 30% 30%"])

    def _often(self, share: float) -> bool:
        return self.rng.random() < share

    def _one(self, choices: list[Any]) -> Any:
        return self.rng.choice(choices)

    def _some(self, **entries: tuple[float, Any]) -> Entry:
        """Keys with the share of plans that have them, and what they say there."""
        keys = {name.rstrip("_").replace("_", "-"): item for name, item in entries.items()}
        return {name: value for name, (share, value) in keys.items() if self._often(share)}

    def _length(self, low: int, high: int) -> str:
        value = self.rng.randint(low, high)
        return str(self._one([f"{value}px", f"{value / 6:.1f}vh", f"{value / 10:.1f}vw"]))

    def _position(self) -> str:
        x, y = self.rng.randint(0, 100), self.rng.randint(0, 100)
        edges = f"right {x}px bottom {y}px"
        return str(self._one([f"{x}% {y}%", f"{x}px {y}%", edges, f"calc({x}% - 20px) {y}%"]))

    def _fill(self) -> str:
        one, other = self._one(_COLORS), self._one(_COLORS)
        gradients = [
            f"linear-gradient({self.rng.randint(0, 180)}deg, {one}, {other})",
            f"linear-gradient({one}, transparent 70%)",
            f"radial-gradient(circle at 30% 40%, {one}, {other})",
        ]
        return str(self._one([one, *gradients]))

    # --- headers -----------------------------------------------------------------------------

    def _header(self) -> Entry:
        position = self._one(["fixed", "fixed", "sticky", "sticky", "static", "absolute"])
        by_tone = position in {"fixed", "sticky"} and self._often(0.2)
        header: Entry = {
            "position": position,
            "height": f"{self.rng.randint(40, 130)}px",
            "change": self._change(),
            "parts": self._parts(),
            "looks": self._looks(by_tone=by_tone),
        }
        header |= self._some(
            top=(0.4, f"{self.rng.randint(0, 30)}px"),
            width=(0.25, self._one(["70%", "500px", "90vw"])),
            over=(0.3, self._often(0.5)),
            inside=(0.3 * (position == "sticky"), self._one([*self.names, "900px"])),
            hold_space=(0.6 * (position in _FLOW), True),
            background=(0.4, self._fill()),
            border=(0.3, "3px solid #a03020"),
            padding=(0.3, self._one([self._length(0, 60), "20px 30px 4px"])),
            shadow=(0.2, "0 2px 12px rgb(0 0 0 / .4)"),
            blur=(0.15, "6px"),
        )
        header |= {"under": {"dark": "a", "light": "b"}} if by_tone else {}
        if position not in _FLOW and self._often(0.15):
            # Where the flow followed it, browsers would keep the reader's place in whole px.
            header |= {"height": "auto", "padding": self._one(["12px 30px", "3vw", "20px"])}
        self._turned(header)
        if self._often(0.25):
            self._in_rows(header)
        if self._often(0.2):
            header["layers"] = self._backdrop()
            for look in list(header["looks"].values())[1:]:
                look.update(self._some(layers=(0.4, self._backdrop())))
        return header

    def _backdrop(self) -> list[Entry]:
        """Pictures and fills behind the parts of a header."""
        choices = [
            {"fill": self._fill()},
            {"image": "photo.png", "position": self._position()},
            {"image": "noise.png", "size": "60px auto", "repeat": "repeat"},
        ]
        count = self.rng.randint(1, 2)
        return [
            self._one(choices) | self._some(opacity=(0.4, 0.6), filter=(0.2, "brightness(.7)"))
            for _ in range(count)
        ]

    def _in_rows(self, header: Entry) -> None:
        """Put its parts into two rows, one of which some looks leave out or change."""
        header.pop("height")
        header.pop("border", None)
        header["rows"] = {
            "upper": {"height": self._one([self._length(20, 50), "auto"])} | self._row(),
            "lower": {"height": self._length(40, 90)} | self._row(),
        }
        for part in header["parts"].values():
            part |= {"row": self._one(["upper", "lower"])}
        for look in list(header["looks"].values())[1:]:
            look.pop("height", None)
            look.pop("border", None)
            changed: Entry = {"lower": {"height": self._length(30, 80)} | self._row()}
            changed["upper"] = self._one([{"hidden": True}, self._row()])
            look["rows"] = changed
        if self._often(0.2):
            header["rows"]["upper"]["hidden"] = True
            list(header["looks"].values())[-1]["rows"]["upper"]["hidden"] = False

    def _row(self) -> Entry:
        return self._some(
            layers=(0.15, self._backdrop()),
            background=(0.6, self._one([*_COLORS, "rgb(20 30 60 / .5)"])),
            color=(0.4, self._one(_COLORS)),
            border=(0.3, "2px solid #a03020"),
            padding=(0.3, self._length(0, 50)),
        )

    def _change(self) -> str:
        fade = f"fade {self.rng.randint(100, 400)}ms ease"
        blend = f"blend {self.rng.randint(40, 300)}px {self._one(_EASINGS[:4])}"
        return str(self._one(["cut", fade, blend]))

    def _parts(self) -> Entry:
        side = self._one(["center", "end"])
        parts: Entry = {
            "brand": {"image": "logo-dark.png", "width": "90px"}
            | self._some(tint=(0.3, "current")),
            "menu": {"text": ["Programme", "Visit"], "side": side, "size": "18px"}
            | self._some(states=(0.3, self._states())),
        }
        return parts | self._some(go=(0.5, {"text": "Tickets", "side": "end", "color": "#a03020"}))

    def _states(self) -> Entry:
        """What links do in their states."""
        return self._some(
            hover=(0.7, {"color": self._one(_COLORS)}),
            current=(0.5, {"underline": True}),
            focus=(0.5, {"color": self._one(_COLORS), "background": "#16213e"}),
        )

    def _looks(self, *, by_tone: bool) -> Entry:
        looks: Entry = {"a": {}}
        start = 0
        for name in "bc"[: self.rng.randint(1, 2)]:
            start += self.rng.randint(80, 500)
            edge = f"{self._one(['past', 'reach'])} {self._one(self.names)}"
            starts = [f"{start}px", f"{start / 6:.0f}vh", edge, f"{start // 25}%"]
            where = {} if by_tone else {"from": self._one(starts)}
            looks[name] = where | self._some(
                arrive=(0.15, self._one(["slide", "fade"])),
                height=(0.6, f"{self.rng.randint(30, 130)}px"),
                background=(0.7, self._fill()),
                color=(0.5, self._one(_COLORS)),
                parts=(0.3, {"brand": {"image": "logo-light.png", "width": "70px"}}),
                border=(0.2, "5px solid #16213e"),
                solid=(0.1, "#16213e"),
            )
        return looks

    # --- sections ----------------------------------------------------------------------------

    def _turned(self, header: Entry) -> None:
        """Make the last look one that holds in one direction, now and then."""
        name = list(header.get("looks", {}))[-1:]
        stays = header.get("position") not in _FLOW or header.get("over") or "hold-space" in header
        if name and stays and "under" not in header and self._often(0.25):
            look = header["looks"][name[0]]
            look |= {"going": self._one(["up", "down"]), "after": self._length(0, 60)}
            look["change"] = self._one(["cut", "fade 200ms"])

    def _section(self) -> Entry:
        heights = [f"{self.rng.randint(150, 900)}px", f"{self.rng.randint(30, 130)}vh"]
        return {
            "height": self._one(heights),
            "layers": [self._layer() for _ in range(self.rng.randint(0, 3))],
            "content": [self._content() for _ in range(self.rng.randint(0, 2))],
        } | self._some(
            width=(0.25, self._one(["80%", "520px", "min(90%, 700px)"])),
            border=(0.25, f"{self.rng.randint(1, 14)}px solid #f4a259"),
            background=(0.5, self._one(_COLORS)),
            z=(0.15, self._one([-3, 5, 20])),
            tone=(0.5, self._one(["dark", "light"])),
        )

    def _layer(self, *, ground: bool = False) -> Entry:
        mix = self._some(
            opacity=(0.2, round(self.rng.uniform(0.2, 0.9), 2)),
            blend=(0.15, self._one(_BLENDS)),
            filter=(0.15, "brightness(.8) saturate(1.2)"),
        )
        if self._often(0.35):
            return {"fill": self._fill()} | self._motion(ground=ground) | mix
        pictures: list[Entry] = [
            {"image": "photo.png"},
            {"image": "noise.png"},
            {"slides": ["noise.png", "photo.png"]},
        ]
        layer: Entry = dict(self._one(pictures))
        if self._often(0.4):
            # No smaller, as what is finer than a px shows how a browser samples and nothing else.
            side = self.rng.randint(180, 500)
            shares = f"{side // 6}% {side // 5}%"
            layer["size"] = self._one(
                [f"{side}px auto", f"auto {side}px", "contain", "auto", shares]
            )
            layer["repeat"] = self._one(
                ["no-repeat", "repeat", "repeat-x", "round", "space", "round no-repeat"]
            )
        layer |= self._some(
            position=(0.5, self._position()),
            clip=(0.15, self._one(["padding-box", "border-box"])),
            origin=(0.15, self._one(["padding-box", "border-box"])),
        )
        return layer | self._motion(ground=ground) | mix

    def _motion(self, *, ground: bool) -> Entry:
        kind = self.rng.random()
        if kind < 0.3:
            return {}
        if kind < 0.4:
            return {"attachment": "fixed"}
        motion: Entry = {"speed": self._one([0, 0.25, 0.4, 0.7, 0.95, -0.2, 1.3])}
        motion |= self._some(drift=(0.2, self._one([-0.2, 0.1, 0.3])), path=(0.25, self._path()))
        if "path" in motion:
            motion |= self._some(before=(0.3, self._one([0, 0.6, 1.2])))
        return motion | self._some(settle=(0.15 * (not ground), f"reach {self._one(self.names)}"))

    def _path(self) -> list[Entry]:
        at, stops = 0, list[Entry]()
        fades = self._often(0.4)
        for _ in range(self.rng.randint(2, 3)):
            at += self.rng.randint(80, 400)
            stop = {"at": f"{at}px", "opacity": round(self.rng.uniform(0.2, 1), 2)}
            stop["easing"] = self._one(_EASINGS)
            if not fades:
                stop |= {"x": f"{self.rng.randint(-60, 60)}px", "y": self._length(0, 120)}
                stop |= self._some(scale=(0.4, round(self.rng.uniform(0.8, 1.5), 2)))
            stops.append(stop)
        return stops

    def _content(self) -> Entry:
        size, most = self._one([(16, 30), (22, 12), (40, 6), (90, 3)])
        words = " ".join(self.rng.choices(_WORDS, k=self._one([1, 3, most])))
        return {
            "text": words,
            "size": f"{size}px",
            "color": self._one(_COLORS),
        } | self._some(
            at=(0.7, self._position()),
            width=(0.4, self._one(["120px", "40%", "700px", "8em"])),
            align=(0.3, self._one(["start", "center", "end"])),
            panel=(0.3, {"color": self._one(_COLORS), "padding": "30px", "radius": "8px"}),
            shadow=(0.2, "0 2px 8px #000a"),
            blend=(0.15, self._one(_BLENDS[:3])),
            speed=(0.25, self._one([0.6, 1.3])),
            z=(0.15, self._one([-1, 4])),
        )

    # --- what flows --------------------------------------------------------------------------

    def _flow(self, section: Entry, *, first: bool) -> None:
        """Let some of the content of a section flow, in some of the sections."""
        if not first and self._often(0.2):
            section["overlap"] = self._one(["40px", "12vh", "600px"])
        if not self._often(0.35):
            return
        section |= self._some(
            padding=(0.9, self._one(["60px", "40px 6vw", "10px 5% 70px"])),
            gap=(0.6, self._one(["24px", "1rem 30px"])),
            columns=(0.4, self._one(["1fr 2fr", "220px 1fr", "1fr 1fr 30%", "0.3fr 0.3fr"])),
        )
        if self._often(0.7):
            section["height"] = "auto"
            section |= self._some(min_height=(0.3, "50vh"))
        elif not {"padding", "gap", "columns"} & set(section):
            section["padding"] = "30px"
        drawn = [self._flowing() for _ in range(self.rng.randint(1, 4))]
        section["content"] = [*section["content"], *drawn]

    def _flowing(self) -> Entry:
        kind = self.rng.random()
        placing = self._some(align=(0.4, self._one(["start", "center", "end"])))
        moving = self._some(z=(0.1, self._one([-1, 4])), speed=(0.15, self._one([0.8, 1.2])))
        if kind < 0.45:
            return self._words() | placing | moving
        if kind < 0.7:
            return self._picture() | placing | moving
        inside = [self._words(), *([self._picture()] if self._often(0.5) else [])]
        box: Entry = {"content": inside} | self._some(
            background=(0.8, self._one(_COLORS)),
            color=(0.3, self._one(_COLORS)),
            border=(0.4, "3px solid #a03020"),
            radius=(0.4, "14px"),
            padding=(0.8, self._one(["24px", "5%"])),
            gap=(0.5, "12px"),
            columns=(0.2, "1fr 1fr"),
            shadow=(0.3, "0 4px 18px rgb(0 0 0 / .3)"),
        )
        width = self._some(width=(0.4, self._one(["260px", "70%"])))
        return {"box": box} | width | placing | moving

    def _words(self) -> Entry:
        words = " ".join(self.rng.choices(_WORDS, k=self.rng.randint(2, 9)))
        size = self._one(["17px", "22px", "34px", "one-line 44px", "one-line"])
        if size.startswith("one-line"):
            # In letters of a few px browsers round the place of each.
            words = " ".join(words.split()[:4])
        return {"text": words, "size": size} | self._some(
            links=(0.3, {" ".join(words.split()[:2]): "/elsewhere"}),
            link_color=(0.3, self._one(_COLORS)),
            underline=(0.3, False),
            color=(0.6, self._one(_COLORS)),
            width=(0.4, self._one(["340px", "60%", "30vw"])),
            leading=(0.5, self._one([1.1, 1.33, 1.6])),
            panel=(0.2, {"color": self._one(_COLORS), "padding": "10px", "radius": "6px"}),
        )

    def _picture(self) -> Entry:
        return {"image": self._one(["photo.png", "noise.png"])} | self._some(
            width=(0.7, self._one(["180px", "60%", "900px"])),
            height=(0.3, "140px"),
            radius=(0.4, "20px"),
            shadow=(0.3, "0 4px 18px rgb(0 0 0 / .3)"),
        )


def random_plan(seed: int, *, flowing: bool = True) -> str:
    """The plan of a seed, as JSON."""
    return json.dumps(PlanMaker(seed, flowing=flowing).plan(), indent=1)


def write_random_plan(folder: Path, seed: int, *, flowing: bool = True) -> None:
    """Write the plan of a seed with its files, and a picture whose details are larger than px.

    What is finer shows how a browser samples pictures that move by fractions of a px.
    """
    rng = np.random.default_rng(seed)
    clouds = Image.fromarray(rng.integers(0, 255, (15, 25, 3), dtype=np.uint8))
    clouds.resize((500, 300), Image.Resampling.BICUBIC).save(folder / "noise.png")
    tokens = {"river": {"deep": {"$type": "color", "$value": "#10314a"}}}
    (folder / "tokens.json").write_text(json.dumps(tokens), "utf-8")
    text = random_plan(seed, flowing=flowing)
    if "river.webm" in text:
        write_video(folder / "river.webm", 4, size=(300, 200))
    (folder / "plan.json").write_text(text, "utf-8")
