"""Reading a plan: text to nodes, nodes to one document for each viewport, faults all at once."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from pydantic import ValidationError

from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.syntax import CssError
from rising_lantern.errors import Fault, Place, PlanError
from rising_lantern.plan.document import Document
from rising_lantern.plan.messages import fault_of
from rising_lantern.plan.nodes import MOST_BYTES, Node, parse
from rising_lantern.plan.references import Files, check_conditions, check_references
from rising_lantern.plan.screens import on_screen

VERSION = 1


@dataclass(frozen=True, slots=True)
class PlanFile:
    """A plan that has been read and found in order.

    Attributes:
        name: The file as it was named.
        root: Its nodes, with their places.
        documents: The plan as it holds on each viewport, by the viewport's name.
        files: The pictures and fonts that it names.
    """

    name: str
    root: Node
    documents: dict[str, Document]
    files: Files


def read_plan(path: Path) -> PlanFile:
    """Read a plan from a file.

    Raises:
        PlanError: With all of its faults, where it has any.
    """
    return parse_plan(_text(path), str(path), path.parent)


def parse_plan(text: str, name: str, folder: Path) -> PlanFile:
    """Read a plan from its text.

    Args:
        text: YAML 1.2 or JSON.
        name: What to call it in messages.
        folder: Where its pictures are.

    Raises:
        PlanError: With all of its faults, where it has any.
    """
    root = parse(text, name)
    _check_version(root, name)
    faults: set[Fault] = set()
    base = _document(on_screen(root, ""), name, faults)
    if base is None:
        raise PlanError(faults)
    faults.update(check_conditions(root, list(base.viewports), name))
    files = Files(folder)
    documents: dict[str, Document] = {}
    checked: dict[int, Document] = {}
    for viewport in base.viewports:
        node = on_screen(root, viewport)
        document = checked.get(id(node)) or _document(node, name, faults)
        if document is None:
            continue
        if id(node) not in checked:
            faults.update(check_references(document, node, files, name))
        checked[id(node)] = documents[viewport] = document
    if faults:
        raise PlanError(faults)
    return PlanFile(name, root, documents, files)


def _text(path: Path) -> str:
    place = Place(str(path))
    try:
        size = path.stat().st_size
        if size > MOST_BYTES:
            limit = f"{MOST_BYTES // 1_000_000} MB are the most for a plan"
            raise PlanError([Fault(place, f"the file has {size:,} bytes", limit)])
        data = path.read_bytes()
    except OSError as error:
        reason = (error.strerror or "it cannot be opened").lower()
        raise PlanError(
            [Fault(place, f"the plan cannot be read: {reason}", "name a plan file")]
        ) from None
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise PlanError(
            [Fault(Place(str(path), line, 1), "this is not text", "save the plan as UTF-8 text")]
        ) from None


def _check_version(root: Node, name: str) -> None:
    """Say first of all whether this is a plan, and of a version that can be read."""
    start = Place(name, root.mark.line, root.mark.column)
    if not isinstance(root.value, dict):
        raise PlanError(
            [Fault(start, "this is no plan", "start with 'rising-lantern: 1' and indent nothing")]
        )
    version = root.value.get("rising-lantern")
    if version is None:
        raise PlanError(
            [Fault(start, "the plan does not say its version", "start with 'rising-lantern: 1'")]
        )
    if version.value != VERSION or isinstance(version.value, bool):
        place = Place(name, version.mark.line, version.mark.column)
        problem = f"this program reads plans of version {VERSION}, and this one says otherwise"
        raise PlanError([Fault(place, problem, f"write 'rising-lantern: {VERSION}'")])


def _document(node: Node, name: str, faults: set[Fault]) -> Document | None:
    """The document of some nodes, or None and its faults."""
    data = node.plain()
    try:
        return Document.model_validate(data, context={"colors": _colors(data.get("colors"))})
    except ValidationError as error:
        faults.update(fault_of(detail, node, name) for detail in error.errors(include_url=False))
        return None


def _colors(entries: object) -> dict[str, Color]:
    """The plan's own colours, read before everything that may name them."""
    colors: dict[str, Color] = {}
    for name, text in entries.items() if isinstance(entries, dict) else ():
        try:
            colors[str(name)] = parse_color(str(text), colors)
        except CssError:
            continue  # told with its place when the whole document is validated
    return colors
