"""``like``, ``paths`` and merge keys: plans that say a thing once."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st

import rising_lantern as rl
from commands import run

VIEWPORTS = {"laptop": "1280x800", "phone": "390x844"}
SITE = """rising-lantern: 1
headers:
  top:
    position: fixed
    height: 80px
    background: "#fdf6e3"
    parts: {menu: {text: [Boats, Tides], side: end}}
    looks: {open: {}, shut: {from: 60px, height: 56px}}
    show: {only: [front]}
  plain:
    like: top
    looks: {shut: {color: "#16213e"}, low: {like: shut, from: 240px}}
    show: {except: [front]}
pages:
  front: {path: /, sections: {hero: {height: 100vh}, more: {height: 900px}}}
  moorings:
    paths: [/moorings/*, /hours]
    like: front
    sections:
      more: {for: {phone: {height: 600px}}}
      extra: {like: hero, background: "#16213e"}
      last: {like: front.more}
"""


def on_screen(value: Any, viewport: str) -> Any:
    """Plain data without ``for``."""
    if isinstance(value, list):
        return [on_screen(item, viewport) for item in value]
    if not isinstance(value, dict):
        return value
    own = {key: item for key, item in value.items() if key != "for"}
    own = over(own, value.get("for", {}).get(viewport, {}))
    return {key: on_screen(item, viewport) for key, item in own.items()}


def over(below: dict[str, Any], above: dict[str, Any]) -> dict[str, Any]:
    """One mapping over another, key by key."""
    both = dict(below)
    for key, item in above.items():
        old = both.get(key)
        both[key] = over(old, item) if isinstance(old, dict) and isinstance(item, dict) else item
    return both


def owner(entries: dict[str, Any], name: str) -> dict[str, Any]:
    """A header or page with what it takes over, by plain recursion."""
    entry = dict(entries[name])
    base = entry.pop("like", None)
    if base is None:
        return entry
    taken = owner(entries, base)
    return over({k: v for k, v in taken.items() if k not in {"show", "path", "paths"}}, entry)


def inner(owners: dict[str, Any], holder: str, key: str, name: str) -> dict[str, Any]:
    """The same of a look or section of one of them."""
    entry = dict(owners[holder][key][name])
    base = entry.pop("like", None)
    if base is None:
        return entry
    *other, last = base.split(".")
    return over(inner(owners, other[0] if other else holder, key, last), entry)


def written_out(data: dict[str, Any], viewport: str) -> dict[str, Any]:
    """The same plan on a viewport without ``for`` and ``like``."""
    plain = on_screen(data, viewport)
    for kind, key in (("headers", "looks"), ("pages", "sections")):
        owners = {name: owner(plain[kind], name) for name in plain[kind]}
        plain[kind] = {
            name: entry | {key: {own: inner(owners, name, key, own) for own in entry[key]}}
            for name, entry in owners.items()
        }
    result: dict[str, Any] = plain
    return result


flags = st.sampled_from([0, 1])
heights = st.sampled_from(["60px", "180px", "40vh", "240px"])
values = st.fixed_dictionaries(
    {},
    optional={
        "background": st.sampled_from(["#fdf6e3", "#16213e"]),
        "z": st.integers(0, 5),
        "tone": st.sampled_from(["dark", "light"]),
    },
)


@st.composite
def plans(draw: st.DrawFn) -> dict[str, Any]:
    """A plan whose pages, sections, headers and looks are like earlier ones."""

    def entry(known: list[str], needed: dict[str, Any], more: dict[str, Any]) -> dict[str, Any]:
        base = draw(st.sampled_from(["", *known]))
        own = {**more, **({"like": base} if base else needed)}
        if draw(flags):
            own["for"] = {"phone": draw(values) | {"z": 9}}
        return own

    pages: dict[str, Any] = {}
    for number in range(draw(st.integers(1, 4))):
        sections: dict[str, Any] = {}
        others = [f"{page}.{name}" for page, item in pages.items() for name in item["sections"]]
        for index in range(draw(st.integers(1, 3))):
            needed = {"height": draw(heights)}
            sections[f"s{index}"] = entry([*sections, *others], needed, draw(values))
        pages[f"p{number}"] = {"sections": sections}
        if number and draw(flags):
            pages[f"p{number}"]["like"] = draw(st.sampled_from(list(pages)[:-1]))
    headers: dict[str, Any] = {}
    for number in range(draw(st.integers(0, 3))):
        looks: dict[str, Any] = {"a": {"height": draw(heights)}, "b": {"from": draw(heights)}}
        if draw(flags):
            looks["c"] = {"like": "b", "color": "#16213e", "from": "300px"}
        header: dict[str, Any] = {
            "looks": looks,
            "z": 3,
            "parts": {"m": {"text": ["Boats"]}},
        }
        if draw(flags) and headers:
            header = {"like": draw(st.sampled_from(list(headers))), "looks": looks}
        page = draw(st.sampled_from(list(pages)))
        headers[f"h{number}"] = {**header, "show": {"only": [page]}}
    return {
        "rising-lantern": 1, "viewports": VIEWPORTS, "headers": headers, "pages": pages,
    }  # fmt: skip


@given(data=plans())
def test_a_plan_is_the_one_with_everything_written_out(data: dict[str, Any]) -> None:
    """On each viewport, with what is said there laid over before anything is taken over."""
    text = yaml.safe_dump(data, sort_keys=False)
    plan = rl.read_text(text)
    for viewport in VIEWPORTS:
        whole = rl.read_text(yaml.safe_dump(written_out(data, viewport), sort_keys=False))
        own, other = (item.file.documents[viewport] for item in (plan, whole))
        assert own.pages == other.pages
        assert list(own.pages) == list(other.pages)
        assert own.headers == other.headers
        for page, entry in own.pages.items():
            assert list(entry.sections) == list(other.pages[page].sections)


def test_what_is_taken_over_is_laid_out_and_named_where_it_is_written() -> None:
    plan = rl.read_text(SITE)
    view = plan.view("moorings", "phone")
    assert [section.name for section in view.scene.box.sections] == [
        "hero",
        "more",
        "extra",
        "last",
    ]
    assert [section.height for section in view.scene.box.sections] == [844, 600, 844, 900]
    assert view.scene.box.header is not None
    assert view.scene.box.header.name == "plain"
    assert [look.height for look in view.scene.box.header.looks] == [80, 56, 56]
    late = rl.read_text(SITE.replace("from: 60px", "from: 8000px"))
    found = {item.key: item.place for item in rl.check(late) if item.rule == "never-reached"}
    for header in ("top", "plain"):
        assert found[f"headers.{header}.looks.shut.from"].line == 8


@pytest.mark.parametrize(
    ("old", "new", "at", "words"),
    [
        ("like: top", "like: tpo", "tpo", "there is no header 'tpo'; did you mean 'top'?"),
        ("like: top", "like: plain", "plain\n", "'plain' is like itself; remove one 'like'"),
        ("like: top", "like: [top]", "[top]", "'like' is a list; write the name of a header"),
        ("like: top", "like: top.open", "top.open", "there is no header 'top.open'"),
        ("like: shut", "like: shot", "shot", "there is no look 'shot'; did you mean 'shut'?"),
        ("like: hero", "like: front.heros", "front.heros", "no section 'front.heros'"),
        ("like: front.more", "like: back.more", "back.more", "no section 'back.more'"),
        ("{like: hero", "{like: extra", "extra,", "'extra' is like itself"),
        ("like: front\n", "like: 3\n", "3\n", "'like' is a number; write the name of a page"),
        ("height: 56px", "hieght: 56px", "hieght", "unknown key 'hieght'; did you mean"),
        ("only: [front]", "only: [/hours]", "/hours]\n    like", "'/hours' gets other headers"),
        ("paths: [", "path: /m\n    paths: [", "path: /m", "has both a path and paths"),
        ("[/moorings/*,", "[moorings,", "moorings,", "'moorings' is not a path"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_once_and_where_it_is_written(
    old: str, new: str, at: str, words: str
) -> None:
    assert old in SITE
    text = SITE.replace(old, new, 1)
    with pytest.raises(rl.PlanError) as error:
        rl.read_text(text, name="plan.yaml")
    before = text[: text.index(at)]
    place = f"{before.count(chr(10)) + 1}:{len(before) - before.rfind(chr(10))}"
    assert [str(fault) for fault in error.value.faults if words in str(fault)]
    assert [fault.place.line for fault in error.value.faults] == [before.count(chr(10)) + 1]
    assert str(error.value).startswith(f"plan.yaml:{place}: ")


def test_two_that_are_like_each_other_are_refused() -> None:
    text = SITE.replace("like: hero", "like: last").replace("like: front.more", "like: extra")
    with pytest.raises(rl.PlanError, match="'last' is like 'extra', which is like it"):
        rl.read_text(text)


def test_a_value_that_is_taken_over_can_be_set_where_it_is_used() -> None:
    plan = rl.read_text(SITE)
    changed = plan.replace({"headers.plain.looks.shut.height": "48px"})
    heights = {
        page: [look.height for look in view.scene.box.header.looks]
        for page in ("front", "moorings")
        if (view := changed.view(page)).scene.box.header
    }
    assert heights == {"front": [80, 56], "moorings": [80, 48, 48]}
    text = plan.edited_text([rl.Set("headers.plain.looks.shut.height", "48px")])
    assert rl.read_text(text).view("moorings").scene.box == changed.view("moorings").scene.box
    with pytest.raises(rl.PlanError, match="there is no 'looks'"):
        plan.replace({"pages.front.looks.a": "1px"})


def test_merge_keys_take_over_a_mapping() -> None:
    text = """rising-lantern: 1
headers:
  top: &top
    height: 80px
    looks: {open: {}, shut: {from: 60px, height: 56px}}
    show: {only: [front]}
  plain: {<<: *top, show: {except: [front]}, height: 60px}
pages:
  front: {sections: {a: &tall {height: 900px}, b: {<<: [{z: 2}, *tall, {z: 1}]}}}
  other: {sections: {a: {height: 60px, <<: *tall, z: 4}}}
"""
    plan = rl.read_text(text)
    document = plan.file.documents["laptop"]
    assert document.headers["plain"].height.css() == "60px"
    assert document.headers["plain"].looks == document.headers["top"].looks
    assert document.pages["front"].sections["b"].z == 2
    assert document.pages["other"].sections["a"].height.css() == "60px"
    changed = plan.edited_text([rl.Set("headers.plain.looks.shut.height", "48px")])
    again = rl.read_text(changed).file.documents["laptop"].headers
    assert str(again["plain"].looks["shut"].height) == str(
        document.headers["plain"].height
    ).replace("60", "48")
    assert again["top"] == document.headers["top"]
    with pytest.raises(rl.PlanError, match=r"<text>:9:65: '<<' takes over the keys of a mapping"):
        rl.read_text(text.replace("*tall, {z: 1}", "4"))


@pytest.mark.parametrize("kind", ["like", "merge"])
def test_what_would_unfold_without_end_is_refused(kind: str) -> None:
    """Each has what the one before it has, and more."""
    if kind == "merge":
        lines = ["rising-lantern: 1", "a0: &a0 {x: {y: 1}}"]
        lines += [f"a{n}: &a{n} {{<<: *a{n - 1}, p: *a{n - 1}}}" for n in range(1, 40)]
    else:
        sections = ", ".join(f"s{n}: {{height: 60px}}" for n in range(3000))
        lines = ["rising-lantern: 1", "pages:", f"  p0: {{sections: {{{sections}}}}}"]
        lines += [f"  p{n}: {{like: p{n - 1}}}" for n in range(1, 200)]
    with pytest.raises(rl.PlanError, match="expands to more than 500,000 values"):
        rl.read_text("\n".join(lines))


def test_forty_pages_are_a_plan_of_a_few_lines(tmp_path: Path) -> None:
    paths = ", ".join(f"/berths/{number}" for number in range(1, 39))
    text = SITE.replace("[/moorings/*, /hours]", f"[{paths}, /quay/*]")
    path = tmp_path / "plan.yaml"
    path.write_text(text, "utf-8")
    plan = rl.read(path)
    assert plan.pages == ("front", "moorings")
    assert plan.view("/berths/7").page == "moorings"
    assert plan.view("/quay/north").page == "moorings"
    assert plan.view("/").page == "front"
    with pytest.raises(rl.RequestError, match="has no page '/quay/north/2'"):
        plan.view("/quay/north/2")
    table = plan.header_table()
    assert table.index[1].startswith("moorings /berths/1 /berths/2")
    assert set(table["laptop"]) == {"top", "plain"}
    found = rl.check(plan, pages="/berths/7", viewports="laptop")
    assert {item.page for item in found} == {"moorings"}
    assert {len(item.paths) for item in found} == {39}
    result = run("check", path, "--page", "/quay/south")
    assert "moorings (/berths/1, /berths/2," in result.stdout
    files = {name for name in rl.export(plan).files if name.endswith(".html")}
    assert files == {"front.html", "moorings.html"}


def test_the_plan_on_a_screen_shows_what_is_taken_over(tmp_path: Path) -> None:
    path = tmp_path / "plan.yaml"
    path.write_text(SITE, "utf-8")
    shown = run("list", path, "--of", "values", "--viewport", "phone").stdout
    whole = yaml.safe_load(shown)
    assert whole["headers"]["plain"]["looks"]["low"]["height"] == "56px"
    assert whole["pages"]["moorings"]["sections"]["more"] == {"height": "600px"}
    assert re.search(r"height: 80px +# from line 5\n", shown)
    assert re.search(r"height: 600px +# for phone, line 20\n", shown)


def test_a_link_leads_to_the_page_of_its_path() -> None:
    text = SITE.replace(
        "hero: {height: 100vh}",
        "hero: {height: 100vh, content: [{text: North berths, links: {North: /moorings/north}}]}",
    )
    assert 'href="moorings.html"' in rl.export(rl.read_text(text)).text("front.html")
