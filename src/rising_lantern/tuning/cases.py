"""Findings of one rule with what they are about, and who says which values may clear them."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from rising_lantern.base.registry import Registry
from rising_lantern.checks.findings import Finding
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.plan.models.headers import Header, Look, Part
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.pages import Section
from rising_lantern.plan.text.nodes import Key
from rising_lantern.scenes.scene import Scene
from rising_lantern.tuning.knobs import Knob

_Path = tuple[Key, ...]

Maker = Callable[["Case"], Iterator[Knob]]
MAKERS = Registry[Maker]("knobs of the rule")
"""By the name of a rule: from some findings of it to the values to try."""


@dataclass(frozen=True)
class Case:
    """Findings of one rule that share a path or a section, and what they are about.

    Attributes:
        scene: The page of the worst of them, at its viewport.
        findings: The findings, the worst first.
    """

    scene: Scene
    findings: Sequence[Finding]

    @property
    def worst(self) -> Finding:
        """The worst finding."""
        return self.findings[0]

    @property
    def path(self) -> _Path:
        """The path of the worst finding, which those of one cause share."""
        return self.worst.path

    @property
    def is_column(self) -> bool:
        """Whether the findings are about several texts of one section."""
        return is_column(self.findings)

    @property
    def box(self) -> HeaderBox:
        """The header as it is laid out."""
        header = self.scene.box.header
        assert header is not None  # noqa: S101 - the finding is about it
        return header

    @property
    def header(self) -> Header:
        """The header in the plan."""
        return self.scene.document.headers[self.box.name]

    @property
    def header_path(self) -> _Path:
        """The path to the header."""
        return ("headers", self.box.name)

    @property
    def look(self) -> Look:
        """The look in the plan; one without values where the plan has none."""
        return self.header.look(self.worst.subject.look or "")

    @property
    def look_path(self) -> _Path:
        """The path to the look."""
        return (*self.header_path, "looks", self.worst.subject.look or "")

    @property
    def part_name(self) -> str:
        """The name of the part."""
        return self.worst.subject.part or ""

    @property
    def part(self) -> Part:
        """The part in the plan."""
        return self.header.parts[self.part_name]

    @property
    def part_path(self) -> _Path:
        """The path to what the look changes in the part."""
        return (*self.look_path, "parts", self.part_name)

    @property
    def section(self) -> Section | None:
        """The section in the plan; None for what the page has behind its sections."""
        sections = self.scene.document.pages[self.scene.page].sections
        return sections.get(self.worst.subject.section or "")

    @property
    def section_box(self) -> SectionBox | None:
        """The section as it is laid out, or what the page has behind its sections."""
        name = self.worst.subject.section
        return next(
            (section for section in self.scene.box.all_sections if section.name == name),
            None,
        )

    @property
    def section_path(self) -> _Path:
        """The path to the section."""
        return self.scene.box.path_to(self.worst.subject.section or "")

    @property
    def layer_box(self) -> LayerBox | None:
        """The layer as it is laid out."""
        section, index = self.section_box, self.worst.subject.layer
        return section.layers[index] if section and index is not None else None

    @property
    def layer(self) -> Layer | None:
        """The layer in the plan; None for a section's screenshot."""
        index, page = self.worst.subject.layer, self.scene.document.pages[self.scene.page]
        layers = self.section.layers if self.section else page.background.layers
        return layers[index] if index is not None and index < len(layers) else None


def is_column(findings: Sequence[Finding]) -> bool:
    """Whether findings are about several texts."""
    return any(finding.path != findings[0].path for finding in findings)


def fixes(*rules: str) -> Callable[[Maker], Maker]:
    """Register what yields the values that may clear the findings of some rules."""

    def register(maker: Maker) -> Maker:
        for name in rules:
            MAKERS.add(name, maker)
        return maker

    return register
