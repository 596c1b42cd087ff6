"""Values in a notebook and at a prompt: short, equal where they say the same, and hashable."""

from __future__ import annotations

import pickle
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text

TEXT = plan_text(
    header="height: 60px, background: white, shadow: '0 1px 4px #0008', "
    "parts: {menu: {text: 'Way <b>'}}, looks: {a: {}, b: {from: 9000px}}",
    sections="opening: {height: 700px, background: '#123'}, second: {height: 900px}",
)


def test_values_are_short_at_a_prompt(make_plan: MakePlan, folder: Path) -> None:
    plan = make_plan(TEXT)
    assert repr(rl.read_text(TEXT, folder=folder, name="plan.yaml")) == "Plan('plan.yaml')"
    assert repr(plan.view()) == "View(page='page', viewport='laptop')"
    assert repr(plan.view().at(40)) == "Moment(scroll_px=40, look='a')"
    (finding,) = rl.check(plan, only="never-reached")
    assert repr(finding) == "Finding('never-reached', 'page', 'laptop', 'main, look b')"
    (proposal,) = rl.tune(plan, only="never-reached")
    fix = "Fix('headers.main.looks.b.from', '9000px', '1000px')"
    assert repr(proposal) == f"Proposal(findings=1, fixes=[{fix}])"
    (both,) = rl.compare({"current": plan, "raised": plan.replace({"headers.main.z": 20})})
    assert repr(both) == "Comparison('page', 'laptop', variants=['current', 'raised'])"
    found = rl.value_range(plan, "headers.main.height", viewports="laptop")
    assert repr(found).startswith("ValueRange('headers.main.height', [")


def test_values_are_tables_and_pictures_in_a_notebook(make_plan: MakePlan) -> None:
    plan = make_plan(TEXT)
    view = plan.view()
    (finding,) = rl.check(plan, only="never-reached")
    (proposal,) = rl.tune(plan, only="never-reached")
    (both,) = rl.compare({"a <i>": plan, "b": plan.replace({"headers.main.z": 20})})
    values = (plan, view, view.at(0), finding, *proposal.fixes, both)
    for value in values:
        html = value._repr_html_()  # type: ignore[attr-defined]
        assert html.lstrip().startswith(("<table", "<div"))
        assert "<b>" not in html.replace("<b>", "", 1) or "Way" not in html
        assert "<i>" not in html
    assert both._repr_png_().startswith(b"\x89PNG")
    assert (view.filmstrip([0])._repr_png_() or b"").startswith(b"\x89PNG")


def test_equal_plans_and_moments_are_equal_and_have_one_hash(make_plan: MakePlan) -> None:
    plan, same = make_plan(TEXT), make_plan(TEXT)
    assert plan == same
    assert len({plan, same}) == 1
    higher = plan.replace({"headers.main.height": "64px"})
    assert higher != plan
    assert higher == same.replace({"headers.main.height": "64px"})
    moments = [one.view().at(40) for one in (plan, same, higher)]
    assert moments[0] == moments[1] != moments[2]
    assert len(set(moments)) == 2
    assert len(set(rl.check(plan)) | set(rl.check(same))) == len(rl.check(plan))


def test_a_plan_can_come_from_text_and_from_standard_input(folder: Path) -> None:
    plan = rl.read_text(TEXT, folder=folder)
    assert [finding.rule for finding in rl.check(plan, only="never-reached")] == ["never-reached"]
    assert str(rl.check(plan, only="never-reached")[0].place).startswith("<text>:")
    checked = run("check", "-", "--only", "never-reached", cwd=folder, text=TEXT)
    assert checked.returncode == 1
    assert "never-reached  page on laptop" in checked.stdout
    assert "<stdin>:4:" in checked.stdout
    broken = run("check", "-", cwd=folder, text="rising-lantern: 2")
    assert broken.returncode == 2
    assert broken.stderr.startswith("<stdin>:1:17: ")
    refused = run("tune", "-", "--write", cwd=folder, text=TEXT)
    assert refused.returncode == 2
    assert "--write needs a plan in a file" in refused.stderr


def test_everything_public_can_be_sent_compared_and_printed(make_plan: MakePlan) -> None:
    plan = make_plan(TEXT)
    view = plan.view()
    higher = rl.Set("headers.main.height", "64px")
    values = {
        "plan": plan,
        "view": view,
        "other slide": view.showing(1, 2.5),
        "moment": view.at(40),
        "findings": rl.check(plan),
        "finding": rl.check(plan)[0],
        "proposal": rl.tune(plan, only="never-reached")[0],
        "fix": rl.tune(plan, only="never-reached")[0].fixes[0],
        "range": rl.value_range(plan, "headers.main.height", viewports="laptop"),
        "export": rl.export(plan),
        "comparison": next(iter(rl.compare({"current": plan, "higher": plan.apply(higher)}))),
        "edit": higher,
        "rename": rl.Rename("pages.page", "quay"),
        "zoom": rl.Zoom(400),
        "widths": rl.Widths(320, 1600),
        "without": rl.Without("filter"),
    }
    for name, value in values.items():
        copied = pickle.loads(pickle.dumps(value))  # noqa: S301 - our own
        assert copied == value, name
        assert len(repr(value)) < 1000, name
        assert " object at 0x" not in repr(value), name


def test_views_are_equal_if_they_show_the_same(make_plan: MakePlan) -> None:
    plan, same = make_plan(TEXT), make_plan(TEXT)
    assert plan.view() == same.view()
    assert len({plan.view(), same.view(), plan.view().showing(1)}) == 2
    assert plan.view() != plan.apply(rl.Set("headers.main.height", "64px")).view()
    with pytest.raises(AttributeError):
        plan.view().page = "other"  # type: ignore[misc]
