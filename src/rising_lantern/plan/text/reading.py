"""Reading a plan: text to nodes, nodes to one document for each viewport, faults all at once."""

from __future__ import annotations

import codecs
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from pydantic_core import ErrorDetails

from rising_lantern.base.arguments import Names, names
from rising_lantern.base.opening import NotAFileError, opened_file
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.syntax import CssError
from rising_lantern.errors import (
    Fault,
    NoPlanError,
    Place,
    PlanError,
    RequestError,
    listed,
    quoted,
)
from rising_lantern.plan.files.catalog import Files
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.solid import with_solid_grounds
from rising_lantern.plan.models.viewports import Viewport
from rising_lantern.plan.text.conditions import conditions_of, on_screen
from rising_lantern.plan.text.consistency import check_conditions, check_references, pictures_of
from rising_lantern.plan.text.likeness import sources, written_out, written_path
from rising_lantern.plan.text.messages import fault_of, place_of
from rising_lantern.plan.text.nodes import MOST_BYTES, Key, Node, parse, replaced, without
from rising_lantern.plan.text.remarks import NamedColors, remarks_on
from rising_lantern.plan.text.removal import without_nulls
from rising_lantern.plan.text.set_values import with_values
from rising_lantern.plan.text.tokens import token_file, with_tokens

VERSION = 1
_MOST_ROUNDS = 12  # how often what is faulty is left out to read what depends on the rest


@dataclass(frozen=True, slots=True)
class PlanFile:
    """A plan that has been read and has no faults.

    Two are equal if they have the same path, text and values, and the same files beside them.

    Attributes:
        name: The file as it was named.
        path: The same as an absolute path.
        text: What the file held when it was read.
        is_marked: Whether it starts with a byte order mark.
        values: The values that have been replaced in it since, by their path.
        root: Its nodes, with their places and those values.
        documents: The plan as it holds on each viewport, by the viewport's name.
        files: The pictures and fonts that it names.
        remarks: What is not a fault, but probably not intended.
        text_scale: How many times as large its readers have text than it says.
        bars_shown: Whether the bars of its readers' browsers are shown that come and go.
    """

    name: str = field(compare=False)
    path: Path
    text: str
    is_marked: bool
    values: Mapping[str, str] = field(hash=False)
    root: Node = field(compare=False)
    documents: dict[str, Document] = field(compare=False)
    files: Files = field(hash=False)
    remarks: tuple[Fault, ...] = field(default=(), compare=False)
    text_scale: float = 1.0
    bars_shown: bool = False

    @property
    def title(self) -> str:
        """Its title."""
        return self._any.title

    @property
    def pages(self) -> tuple[str, ...]:
        """The names of its pages, in the order of the file."""
        return tuple(self._any.pages)

    @property
    def _any(self) -> Document:
        """It as it holds on its first viewport."""
        return next(iter(self.documents.values()))

    def view_names(self, pages: Names = (), viewports: Names = ()) -> list[tuple[str, str]]:
        """Return every page with every viewport, or those that are named; each once.

        Raises:
            RequestError: If there is no such page or viewport.
        """
        chosen = self.viewport_names(viewports)
        return [(page, viewport) for page in self.page_names(pages) for viewport in chosen]

    def page_names(self, pages: Names = ()) -> list[str]:
        """Return the pages that are named, by their names or paths, each once, or all if none is.

        Raises:
            RequestError: If there is no such page.
        """
        at = self._any.page_at
        wanted = [(at(name) or name) if name.startswith("/") else name for name in names(pages)]
        return _choose("page", wanted, self.pages)

    def viewport_names(self, viewports: Names = ()) -> list[str]:
        """Return the viewports that are named, each once, or all if none is.

        Raises:
            RequestError: If there is no such viewport.
        """
        return _choose("viewport", names(viewports), tuple(self.documents))

    @property
    def narrowest(self) -> str:
        """The name of its narrowest viewport; of several the first."""
        return min(self.documents, key=lambda name: self.viewport(name).width)

    def viewport(self, name: str) -> Viewport:
        """One of its viewports."""
        return self.documents[name].viewports[name]

    def hides_bar(self, viewport: str) -> bool:
        """Whether a viewport has a bar that comes and goes, which is not shown now."""
        return self.viewport(viewport).has_bar and not self.bars_shown

    def written(self, path: tuple[Key, ...]) -> Node | None:
        """The node of a value where it was written, which may be in what its entry is like."""
        where = written_path(self.root, path)
        return self.root.at(where) if where else None

    def place_of(self, path: tuple[Key, ...], *, at_key: bool = False) -> Place:
        """The place of a value in the file, or of the last thing on the way to it."""
        where = written_path(self.root, path) or path
        return place_of(self.root, where, self.name, at_key=at_key)

    def with_viewport(self, name: str, **values: Any) -> PlanFile:
        """The plan with other values of one viewport, and else what it has on that viewport."""
        document = self.documents[name]
        own = document.viewports[name].model_copy(update=values)
        changed = document.model_copy(update={"viewports": {**document.viewports, name: own}})
        return replace(self, documents={**self.documents, name: changed})

    def with_solid_headers(self) -> PlanFile:
        """The plan as readers have it who prefer more contrast or less transparency."""
        documents = {
            viewport: document.model_copy(
                update={
                    "headers": {
                        name: with_solid_grounds(header, tuple(document.colors.values()))
                        for name, header in document.headers.items()
                    }
                }
            )
            for viewport, document in self.documents.items()
        }
        return replace(self, documents=documents)

    def of_page(self, page: str) -> PlanFile:
        """The plan with one of its pages only: all that a view of that page needs."""
        pages = self.root.child("pages")
        documents = {
            name: document.model_copy(update={"pages": {page: document.pages[page]}})
            for name, document in self.documents.items()
        }
        root = self.root
        if pages:
            # What it takes over stays, so that places are found.
            own = {name: pages.child(name) for name in sources(root, "pages", page)}
            kept: dict[Key, Node] = {name: node for name, node in own.items() if node}
            root = replaced(root, ("pages",), replace(pages, value=kept))
        used = {name for document in documents.values() for _, name in pictures_of(document)}
        files = self.files.only(sorted(used))
        return replace(self, text="", root=root, documents=documents, files=files)

    def encoded(self, text: str) -> bytes:
        """A text as bytes of the file, with a byte order mark where it has one."""
        return codecs.BOM_UTF8 * self.is_marked + text.encode("utf-8")

    def with_values(self, values: Mapping[str, str]) -> PlanFile:
        """The plan with some values set; this one stays as it is.

        Args:
            values: Texts, written as in the file, by the path of what they replace.

        Raises:
            PlanError: With all of its faults, if it has any.
        """
        _check_version(self.root, self.name)
        root = with_values(self.root, self.name, values)
        reader = _Reader(self.name, self.path.parent)
        documents = reader.documents(root)
        if reader.faults:
            raise PlanError(reader.faults)
        remarks = remarks_on(root, self.name, reader.colors, documents.values(), reader.files)
        changed = {**self.values, **values}
        return replace(
            self,
            values=changed,
            root=root,
            documents=documents,
            files=reader.files,
            remarks=remarks,
        )


def _choose(kind: str, wanted: Iterable[str], known: tuple[str, ...]) -> list[str]:
    """Names, each once, or all that are known where there are none."""
    chosen = list(dict.fromkeys(wanted)) or list(known)
    for name in chosen:
        if name not in known:
            raise RequestError(f"the plan has no {kind} {quoted(name)}; it has: {listed(known)}")
    return chosen


def read_plan(path: Path, values: Mapping[str, str] | None = None) -> PlanFile:
    """Read a plan from a file.

    Args:
        path: The file.
        values: Values to set in it, by their path, written as in the file.

    Raises:
        PlanError: With all of its faults, if it has any.
    """
    return plan_from(bytes_of(path), path, str(path), values)


def plan_from(
    data: bytes, path: Path, name: str, values: Mapping[str, str] | None = None
) -> PlanFile:
    """Read a plan from bytes.

    Args:
        data: What its file holds.
        path: The file, in whose folder its pictures are.
        name: What to call it in messages.
        values: Values to set in it, by their path, written as in the file.

    Raises:
        PlanError: With all of its faults, if it has any.
    """
    if len(data) > MOST_BYTES:
        limit = f"a plan can have up to {MOST_BYTES // 1_000_000} MB"
        raise PlanError([Fault(Place(name), f"this has more than {MOST_BYTES:,} bytes", limit)])
    text = _text_of(name, data)
    root = parse(text, name)
    marked = data.startswith(codecs.BOM_UTF8)
    own = PlanFile(name, path.absolute(), text, marked, {}, root, {}, Files(Path()))
    return own.with_values(values or {})


class _Reader:
    """Gathers the faults of a plan over all of its viewports."""

    def __init__(self, name: str, folder: Path) -> None:
        self.name = name
        self.faults: set[Fault] = set()
        self.files = Files(folder)
        self.colors = NamedColors()
        # CSS values that have been parsed, by the colours that they may name.
        self._parsed: dict[tuple[tuple[str, Color], ...], dict[Any, Any]] = {}
        # Headers and pages that could not take over what they name: they do not miss it as well.
        self._incomplete: set[tuple[Key, ...]] = set()

    def documents(self, root: Node) -> dict[str, Document]:
        """The plan on each of its viewports."""
        self.files = replace(self.files, tokens=token_file(root, self.files.folder))
        root, faults = with_tokens(root, self.files.folder, self.name)
        if faults:
            # What is not read of that file is not missed elsewhere.
            self.faults.update(faults)
            return {}
        everywhere = self._on_screen(root, "")
        base = self._document(everywhere)
        names = list(base.viewports) if base else []
        self.faults.update(check_conditions(root, names, self.name))
        if base is None:
            return {}
        self._check(base, everywhere)
        documents: dict[str, Document] = {}
        different = conditions_of(root)
        for viewport in names:
            document: Document | None = base
            if viewport in different:
                node = self._on_screen(root, viewport)
                document = self._document(node)
                if document:
                    self._check(document, node)
            if document:
                documents[viewport] = document
        return documents

    def _on_screen(self, root: Node, viewport: str) -> Node:
        """The plan on one viewport: what an entry says there counts before what it takes over."""
        node, faults = written_out(on_screen(root, viewport), self.name)
        self.faults.update(faults.values())
        self._incomplete |= {path[:2] for path in faults}
        return without_nulls(node)

    def _check(self, document: Document, node: Node) -> None:
        self.faults.update(check_references(document, node, self.files, self.name))

    def _document(self, node: Node) -> Document | None:
        """The document of some nodes. Faulty values are reported and left out.

        The rest is read without it, so that faults in what depends on it are found as well. Only
        the first round's faults are the author's: leaving something out makes others.
        """
        remaining = node
        for round_ in range(_MOST_ROUNDS):
            data = remaining.plain()
            colors = self.colors.named(_colors(data.get("colors")))
            parsed = self._parsed.setdefault(tuple(colors.items()), {})
            try:
                context = {"colors": colors, "parsed": parsed}
                return Document.model_validate(data, context=context)
            except ValidationError as error:
                details = error.errors(include_url=False)
            if round_ == 0:
                self.faults.update(
                    fault_of(detail, remaining, self.name)
                    for detail in details
                    if detail["loc"][:2] not in self._incomplete
                )
            pruned = _prune(remaining, details)
            if pruned is remaining:
                break
            remaining = pruned
        return None


def _prune(node: Node, details: list[ErrorDetails]) -> Node:
    """Some nodes without those that errors are about."""
    for detail in details:
        path = tuple(part for part in detail["loc"] if part != "[key]")
        if detail["type"] == "missing":
            path = path[:-1]
        # An error may lie deeper than the nodes do, where a short form has been read.
        while path and node.find(path) is node.find(path[:-1]):
            path = path[:-1]
        if path and path[0] != "rising-lantern":
            node = without(node, path)
    return node


def bytes_of(path: Path) -> bytes:
    """What a plan's file holds, at most one byte more than a plan can have.

    Raises:
        PlanError: If it cannot be read, or is not a file.
    """
    place = Place(str(path))
    try:
        with opened_file(path) as opened:
            data = opened.read(MOST_BYTES + 1)
    except NotAFileError as error:
        problem = f"the plan cannot be read: it is {error}"
        raise PlanError([Fault(place, problem, "name a plan file")]) from None
    except OSError as error:
        reason = (error.strerror or "it cannot be opened").lower()
        kind = NoPlanError if isinstance(error, FileNotFoundError) else PlanError
        raise kind(
            [Fault(place, f"the plan cannot be read: {reason}", "name a plan file")]
        ) from None
    return data


def _text_of(name: str, data: bytes) -> str:
    """The text of a plan's file, without a byte order mark.

    Raises:
        PlanError: If it is not text.
    """
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise PlanError(
            [Fault(Place(name, line, 1), "this is not text", "save the plan as UTF-8 text")]
        ) from None


def _check_version(root: Node, name: str) -> None:
    """Say first of all whether this is a plan, and of a version that can be read."""
    start = Place(name, root.mark.line, root.mark.column)
    if not isinstance(root.value, dict):
        raise PlanError(
            [
                Fault(
                    start,
                    "this is not a plan",
                    "start with 'rising-lantern: 1', without indentation",
                )
            ]
        )
    version = root.value.get("rising-lantern")
    if version is None:
        raise PlanError([Fault(start, "the plan has no version", "start with 'rising-lantern: 1'")])
    if version.value != VERSION or isinstance(version.value, bool):
        place = Place(name, version.mark.line, version.mark.column)
        problem = f"only version {VERSION} of the format is supported"
        raise PlanError([Fault(place, problem, f"write 'rising-lantern: {VERSION}'")])


def _colors(entries: object) -> dict[str, Color]:
    """The plan's own colours, read before everything that may name them."""
    colors: dict[str, Color] = {}
    for name, text in entries.items() if isinstance(entries, dict) else ():
        try:
            colors[str(name)] = parse_color(str(text), colors)
        except CssError:
            continue  # reported with its place when the whole document is validated
    return colors
