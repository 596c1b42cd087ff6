"""Texts of strangers, wherever they are written: they stay what they are."""

from __future__ import annotations

import csv
import json
import re
import shutil
import subprocess
from io import StringIO
from pathlib import Path

import html5lib
import pandas as pd
import pytest

import rising_lantern as rl
from commands import run
from pictures import paint_pictures
from plans import MakePlan
from rising_lantern.api.plans import Plan
from rising_lantern.outputs.spreadsheets import sheet_text
from rising_lantern.proofs.comparing import Disagreement
from rising_lantern.proofs.results import ViewProof

HOSTILE = "</script><script>alert(1)</script><img src=x onerror=alert(2)> ${x} {{ 7*7 }} */ } end"
STRANGE = [
    HOSTILE,
    "=1+1",
    "+1",
    "-80px",
    "@SUM(A1)",
    "\uff1d1+1",
    "\uff0b1",
    "a|b`c[d](e)<f>",
    "]]><!--",
    "\"quoted\", 'twice'",
    "%0a%0d${7*7}#{7*7}",
]


@pytest.fixture(scope="module")
def strange(tmp_path_factory: pytest.TempPathFactory) -> Plan:
    """A plan in which strange texts stand wherever a text can."""
    folder = tmp_path_factory.mktemp("strange")
    paint_pictures(folder)
    texts = [{"text": text, "at": f"50% {5 * place}%"} for place, text in enumerate(STRANGE)]
    plan = {
        "rising-lantern": 1,
        "title": HOSTILE,
        "viewports": {"laptop": "1000x600"},
        "headers": {
            "main": {
                "selector": "[title='</style><script>']",
                "background": "#888",
                "color": "#999",
                "parts": {
                    "menu": {"text": STRANGE, "links": {"=1+1": "/a?b=</script>&c='\""}},
                    "mark": {"image": "logo-dark.png", "alt": HOSTILE},
                },
            }
        },
        "pages": {
            "page": {
                "title": "=HYPERLINK(1)",
                "description": HOSTILE,
                "path": "/</script>",
                "sections": {"a": {"height": "900px", "background": "#777", "content": texts}},
            }
        },
        "check": {"silence": [{"rule": "gap", "reason": HOSTILE}]},
    }
    (folder / "plan.json").write_text(json.dumps(plan), "utf-8")
    return rl.read(folder / "plan.json")


def test_strange_texts_stay_data_in_a_spreadsheet(strange: Plan) -> None:
    text = rl.export(strange).text("settings.csv")
    rows = list(csv.reader(StringIO(text)))
    texts = {row[4] for row in rows if row[3] == "text"}
    for item in STRANGE:
        if item != "-80px":
            assert {item, f"'{item}"} & texts
    for row in rows:
        for cell in row:
            number = re.fullmatch(r"-?[\d.]+", cell)
            assert number or not re.match(r"\s*[=+@\-\uff1d\uff0b\uff0d\uff20]|\t|\r", cell), cell


@pytest.mark.parametrize("text", STRANGE)
def test_a_cell_is_read_back_as_it_was(text: str) -> None:
    table = pd.DataFrame({"=name": [text, "plain"], "number": [-80, 2]})
    (head, first, _) = csv.reader(StringIO(sheet_text(table)))
    assert head[0] == "'=name"
    assert first[0].removeprefix("'") == text
    assert first[1] == "-80"


@pytest.mark.skipif(shutil.which("soffice") is None, reason="LibreOffice cannot be found")
def test_a_spreadsheet_program_computes_nothing(strange: Plan, tmp_path: Path) -> None:
    (tmp_path / "settings.csv").write_bytes(rl.export(strange).files["settings.csv"])  # type: ignore[arg-type]
    subprocess.run(
        ["soffice", "--headless", "--convert-to", "fods", "settings.csv"],  # noqa: S607
        cwd=tmp_path, check=True, timeout=120,
    )  # fmt: skip
    assert "table:formula" not in (tmp_path / "settings.fods").read_text("utf-8")


def test_strange_texts_stay_data_wherever_they_are_written(strange: Plan, tmp_path: Path) -> None:
    exported, findings = rl.export(strange), rl.check(strange)
    html = html5lib.parse(exported.text("page.html"), namespaceHTMLElements=False)
    assert len(list(html.iter("script"))) == 2
    assert [item.text for item in html.iter() if item.get("class") == "lantern-text"] == STRANGE
    data = json.loads(next(item for item in html.iter("script") if item.get("type")).text)
    assert data["screens"][0]["header"]["at"] == ':is([title="</style><script>"])'
    for name in ("notes.md", "settings.md"):
        assert not any(item in exported.text(name) for item in (HOSTILE, "]]><!--", "(e)<f>"))
    assert exported.text("settings.md").splitlines()[0].startswith("# Settings of &lt;/script>")
    words = run("check", strange.file.path, "--format", "json").stdout
    assert {item["message"] for item in json.loads(words)} == {item.message for item in findings}
    log = json.loads(run("check", strange.file.path, "--format", "sarif").stdout)
    assert {item["message"]["text"].split("; ")[0] for item in log["runs"][0]["results"]}
    found = tuple(Disagreement(text, text, 0.0, "down", text, text, 1.0, 0.5) for text in STRANGE)
    view = ViewProof(HOSTILE, HOSTILE, HOSTILE, 1, found, tuple(STRANGE), 0.0, 0.0, None)
    rl.Proof(HOSTILE, (view,), {HOSTILE: (HOSTILE,)}).save(tmp_path / "proof")
    page = html5lib.parse(
        (tmp_path / "proof" / "proof.html").read_text("utf-8"), namespaceHTMLElements=False
    )
    assert not list(page.iter("script"))
    assert not [item for item in page.iter("img") if item.get("onerror")]
    assert json.loads((tmp_path / "proof" / "proof.json").read_text("utf-8"))["title"] == HOSTILE


_NAMES = """
rising-lantern: 1
viewports: {laptop: 1000x600}
headers:
  bar:
    position: fixed
    height: 80px
    parts: {logo: {image: logo-dark.png, width: 90px}, slim-logo: {image: logo-light.png, width: 50px}}
    looks: {a: {}, slim: {from: 40px}, slim-dark: {from: 80px}}
    show: {only: [home]}
  bar-slim:
    position: fixed
    height: 60px
    background: white
    looks: {a: {}, deep: {from: 90px}}
    show: {only: [visit]}
pages:
  home: &page {sections: {first: {height: 700px}, last: {height: 900px}}}
  visit: *page
"""


def test_names_that_would_make_one_of_two_are_refused(make_plan: MakePlan) -> None:
    """Names with hyphens, put together with hyphens."""
    assert "--lantern-slim-logo-width: 50px;" in rl.export(make_plan(_NAMES)).text("lantern.css")
    width = "slim: {from: 40px, parts: {logo: {width: 60px}}}"
    with pytest.raises(rl.RequestError, match=r"--lantern-slim-logo-width of two numbers"):
        rl.export(make_plan(_NAMES.replace("slim: {from: 40px}", width)))
    with pytest.raises(rl.RequestError, match="both have key frames lantern-bar-slim-dark"):
        rl.export(make_plan(_NAMES.replace("deep", "dark")))
