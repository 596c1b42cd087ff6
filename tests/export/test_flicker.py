"""Headers that undo their own switch: those that are found oscillate in Chromium, no others do."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from chromium import Chromium
from pages import write_pages
from plans import MakePlan, plan_text
from rising_lantern.proofs.serving import served
from rising_lantern.readers.checking import check
from thorough import some

pytestmark = pytest.mark.browser

# Scrolls to a place and counts how often the look changes within half a second, the first
# change of a header that goes down apart.
_COUNT = """
const [to, done] = arguments;
const header = document.querySelector("header");
const count = (s, then) => {
  let changes = 0;
  const watch = new MutationObserver((all) => { changes += all.length; });
  watch.observe(header, {attributeFilter: ["data-look"]});
  window.scrollTo({top: s, behavior: "instant"});
  setTimeout(() => { watch.disconnect(); then(changes); }, 400);
};
count(0, () => count(to, (changes) => done([changes, window.scrollY])));
"""


def cases() -> list[tuple[int, int, int, int]]:
    """From, back, how much is lost, and where a reader scrolls to: around every limit."""
    rng = random.Random(7)  # noqa: S311 - not for secrets
    result = []
    for _ in range(14):
        lost = rng.randrange(20, 90)
        start = rng.randrange(10, 200)
        back = rng.choice([start, start, start - lost, start - lost + 1, start - lost - 5])
        back = max(back, 1)
        places = (start, max(start, lost + 1), back + lost - 1, back + lost)
        result += [(start, back, lost, s) for s in places]
    return [case for case in result if case[3] >= 1][:48]


@pytest.fixture(scope="module")
def counted(chromium: Chromium) -> Chromium:
    """The browser, patient enough for scripts that wait."""
    chromium.driver.set_script_timeout(20)
    return chromium


@pytest.mark.parametrize(
    "case", some([(case,) for case in cases()], 12), ids=lambda case: "-".join(map(str, case))
)
def test_what_oscillates_is_found_and_nothing_else(
    counted: Chromium, make_plan: MakePlan, tmp_path: Path, case: tuple[int, int, int, int]
) -> None:
    start, back, lost, s = case
    header = (
        f"position: sticky, height: 120px, background: white, looks: {{tall: {{}}, slim: {{from: {start}px, "
        f"back: {min(back, start)}px, height: {120 - lost}px}}}}"
    )
    plan = make_plan(plan_text(header=header))
    spans = [
        (finding.message, finding.scroll) for finding in check(plan) if finding.rule == "flicker"
    ]
    loops = any("flickers" in text and a <= s <= b for text, (a, b) in spans)
    thrown = any("top" in text and a <= s <= b for text, (a, b) in spans)
    out = tmp_path / "out"
    out.mkdir()
    write_pages([plan.view()], out)
    with served(out) as url:
        counted.open(f"{url}/pages/page.html", 1000, 600)
        changes, end = counted.driver.execute_async_script(_COUNT, s)
    if loops:
        assert changes > 4
    elif thrown:
        assert end == 0
        assert changes == 2
    else:
        assert changes == (s >= start)


def test_with_the_back_that_is_given_nothing_oscillates(
    counted: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    header = "position: sticky, height: 120px, looks: {{tall: {{}}, slim: {{from: 150px, back: {}, height: 60px}}}}"
    (finding,) = (
        f for f in check(make_plan(plan_text(header=header.format("150px")))) if f.rule == "flicker"
    )
    back = finding.remedy.words.split("'back' to ")[1].split(",")[0]
    plan = make_plan(plan_text(header=header.format(back)))
    assert [f for f in check(plan) if f.rule == "flicker"] == []
    write_pages([plan.view()], tmp_path)
    with served(tmp_path) as url:
        counted.open(f"{url}/pages/page.html", 1000, 600)
        for s in range(140, 215, 6):
            changes, _ = counted.driver.execute_async_script(_COUNT, s)
            assert changes == (s >= 150), s
