"""The shape of the package: imports go down, names are complete, docstrings are true."""

from __future__ import annotations

import ast
import doctest
import importlib
import pkgutil
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

import rising_lantern

ROOT = Path(rising_lantern.__file__).parent

# The layers, the lowest first. A module imports from its own layer's package and from lower ones.
LAYERS = [
    ["errors", "_version"],
    ["base"],
    ["css"],
    ["outputs"],
    ["plan"],
    ["layout", "jobs"],
    ["scroll"],
    ["paint"],
    ["legibility"],
    ["scenes"],
    ["checks"],
    ["exports"],
    ["report"],
    ["demo"],
    ["start"],
    ["api"],
    ["readers"],
    ["comparisons", "tuning"],
    ["previews"],
    ["live", "proofs"],
    ["cli"],
    ["__main__"],
]
HEIGHT = {name: height for height, names in enumerate(LAYERS) for name in names}

# The rooms of the plan, the lowest first.
ROOMS = ["files", "models", "text", "edits", "generated"]

# What may be read of the plan's models above layout: kinds of values, not the objects of a plan.
VALUES = {"changes", "fills", "limits", "thresholds"}
# Which modules write the author's own values, and so read them: the export, and what changes a plan.
WRITERS = {"exports", "tuning", "api", "comparisons", "cli"}

MODULES = sorted(
    module.name
    for module in pkgutil.walk_packages(rising_lantern.__path__, "rising_lantern.")
    if module.name != "rising_lantern.__main__"
)


def imports(path: Path) -> Iterator[str]:
    """What a module imports of this package, wherever in it the import stands."""
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


def package_of(path: Path) -> str:
    """The first part of a module's name within the package."""
    return path.relative_to(ROOT).with_suffix("").parts[0]


@pytest.mark.parametrize("path", sorted(ROOT.rglob("*.py")), ids=lambda path: path.stem)
def test_imports_go_down_only(path: Path) -> None:
    own = package_of(path)
    if own == "__init__":
        return  # the public names, loaded when they are asked for
    for name in imports(path):
        if not name.startswith("rising_lantern"):
            continue
        other = name.split(".")[1] if "." in name else "__init__"
        assert other != "__init__", f"{path.name} imports the root package"
        assert other == own or HEIGHT[other] < HEIGHT[own], f"{path} imports {name}"


@pytest.mark.parametrize("path", sorted((ROOT / "plan").rglob("*.py")), ids=lambda path: path.stem)
def test_rooms_of_the_plan_import_lower_rooms_only(path: Path) -> None:
    own = path.relative_to(ROOT / "plan").parts[0]
    for name in imports(path):
        other = name.split(".")[2] if name.startswith("rising_lantern.plan.") else own
        assert other == own or ROOMS.index(other) < ROOMS.index(own), f"{path} imports {name}"


@pytest.mark.parametrize("path", sorted(ROOT.rglob("*.py")), ids=lambda path: path.stem)
def test_above_layout_nothing_reads_what_the_author_wrote(path: Path) -> None:
    """Boxes carry what paint, legibility and checks need of a plan."""
    own = package_of(path)
    if HEIGHT.get(own, 0) <= HEIGHT["layout"] or own in WRITERS:
        return
    tree = ast.parse(path.read_text("utf-8"))
    names = {node.attr for node in ast.walk(tree) if isinstance(node, ast.Attribute)}
    assert "entry" not in names
    # The remedies of rules are values of the plan, and scenes hand the plan on.
    if own not in {"checks", "scenes"}:
        models = {name for name in imports(path) if name.startswith("rising_lantern.plan.models.")}
        assert {name.split(".")[3] for name in models} <= VALUES


def test_no_file_name_differs_from_another_by_a_letter() -> None:
    stems = sorted({path.stem for path in ROOT.rglob("*.py")})
    alike = [
        (stem, other)
        for stem in stems
        for other in stems
        if len(stem) > 3 and len(other) == len(stem) + 1 and other.startswith(stem)
    ]
    assert alike == []


@pytest.mark.parametrize("path", sorted(ROOT.rglob("*.py")), ids=lambda path: path.stem)
def test_only_heavy_packages_are_imported_late(path: Path) -> None:
    late = [
        ast.unparse(node)
        for function in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(function, ast.FunctionDef)
        for node in ast.walk(function)
        if isinstance(node, ast.Import | ast.ImportFrom)
    ]
    allowed = (
        "pandas",
        "matplotlib",
        "av",
        "rising_lantern.report",
        "resource",
        "resvg_py",
        "joblib",
        "multiprocessing",
        "distributed",
        "selenium",
        "websocket",
        "urllib3",
        "rising_lantern.live",
    )
    if path.relative_to(ROOT).as_posix() in {"cli/__init__.py", "__main__.py"}:
        return  # help loads none of the commands, and signals are heard before all of them
    assert [item for item in late if not item.split()[1].startswith(allowed)] == []


@pytest.mark.parametrize("path", sorted(ROOT.rglob("*.py")), ids=lambda path: path.stem)
def test_the_core_prints_nothing_and_knows_no_command_line(path: Path) -> None:
    if package_of(path) in {"cli", "__main__"}:
        return
    assert "click" not in set(imports(path))
    calls = [
        node for node in ast.walk(ast.parse(path.read_text("utf-8"))) if isinstance(node, ast.Call)
    ]
    names = {call.func.id for call in calls if isinstance(call.func, ast.Name)}
    assert not names & {"print", "input", "exit"}


def test_public_names_are_complete_sorted_and_there() -> None:
    assert rising_lantern.__all__ == sorted(rising_lantern.__all__)
    for name in rising_lantern.__all__:
        assert getattr(rising_lantern, name) is not None
    assert dir(rising_lantern) == sorted(rising_lantern.__all__)
    with pytest.raises(AttributeError, match="no attribute 'raed'"):
        _ = rising_lantern.raed


@pytest.mark.parametrize("name", MODULES)
def test_examples_in_docstrings_are_true(name: str) -> None:
    failed, _ = doctest.testmod(importlib.import_module(name))
    assert failed == 0


def test_importing_the_package_loads_nothing_of_it() -> None:
    code = "import rising_lantern, sys; print([m for m in sys.modules if m.startswith('rising_l')])"
    result = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True
    )
    assert sorted(ast.literal_eval(result.stdout)) == ["rising_lantern", "rising_lantern._version"]


def test_the_readme_s_plan_and_calls_work(tmp_path: Path, site: Path) -> None:
    """The plan that the README prints is a plan, and its Python calls run on the sample site."""
    readme = (ROOT.parents[1] / "README.md").read_text("utf-8")
    blocks = readme.split("```")
    plan = next(block[5:] for block in blocks if block.startswith("yaml\n"))
    for inner in ("pictures", "marks"):
        shutil.copytree(site / inner, tmp_path / inner)
    (tmp_path / "regatta.yaml").write_text(plan, "utf-8")
    found = rising_lantern.check(rising_lantern.read(tmp_path / "regatta.yaml"))
    assert {item.rule for item in found} <= {"soft-picture", "touch-fixed", "heavy"}, found
    calls = next(block[7:] for block in blocks if block.startswith("python\n"))
    runnable = calls.replace('"regatta.yaml"', repr(str(tmp_path / "regatta.yaml")))
    for name in ("strip.png", "site", "preview.html"):
        runnable = runnable.replace(f'"{name}"', repr(str(tmp_path / name)))
    # Browsers have tests of their own.
    runnable = "\n".join(line for line in runnable.splitlines() if "rl.prove(" not in line)
    exec(compile(runnable, "README.md", "exec"), {})  # noqa: S102 - our own page
    assert (tmp_path / "strip.png").stat().st_size > 10_000
