"""A short plan with comments and pictures, to start from."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

from rising_lantern.demo import marks
from rising_lantern.demo.site import scene
from rising_lantern.errors import RequestError
from rising_lantern.plan.generated.schema import MODELINE, SCHEMA_FILE, schema_text

PLAN = "plan.yaml"
FILES = (
    *(f"pictures/{name}.jpg" for name in ("river", "sky")),
    *(f"marks/logo-{shade}.png" for shade in ("light", "dark")),
    SCHEMA_FILE,
    PLAN,
)
"""The files that :func:`write_start` writes."""


def refuse_taken(folder: Path) -> None:
    """Refuse a folder that has a plan already.

    Raises:
        RequestError: If it has.
    """
    if (folder / PLAN).exists():
        raise RequestError(f"{folder / PLAN} already exists; name another folder")


def write_start(folder: Path) -> None:
    """Write the plan that the package brings, and its pictures.

    Args:
        folder: Where; it has to be there.
    """
    for inner in ("pictures", "marks"):
        (folder / inner).mkdir()
    for name, taken in {"river": "dusk-river.jpg", "sky": "night-sky.jpg"}.items():
        (folder / "pictures" / f"{name}.jpg").write_bytes(scene(taken))
    for shade, ink in (("light", marks.LIGHT), ("dark", marks.DARK)):
        marks.logo(ink).save(folder / "marks" / f"logo-{shade}.png", optimize=True)
    write_plan(folder, files(__package__).joinpath("plan.yaml").read_text("utf-8"))


def write_plan(folder: Path, text: str) -> None:
    """Write a plan with a first line that leads editors to the schema, and the schema."""
    (folder / SCHEMA_FILE).write_text(schema_text(), "utf-8")
    (folder / PLAN).write_text(MODELINE + text, "utf-8")
