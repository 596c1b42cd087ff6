"""The rules of ``check``, by name."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from rising_lantern.base.registry import Registry
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding, Level
from rising_lantern.checks.remedies import Remedy
from rising_lantern.checks.subjects import Subject
from rising_lantern.plan.text.nodes import Key


@dataclass(frozen=True, slots=True)
class Rule:
    """A rule of ``check``.

    Attributes:
        name: Its name.
        level: How much its findings matter.
        explanation: What it measures, and why that matters.
        find: The function that finds.
    """

    name: str
    level: Level
    explanation: str
    find: Callable[[CheckContext, Rule], Iterator[Finding]]

    def finding(  # noqa: PLR0913 - a finding's own fields
        self,
        context: CheckContext,
        subject: Subject,
        *,
        at: tuple[Key, ...] = (),
        path: tuple[Key, ...] = (),
        scroll: tuple[float, float] | None = None,
        worst: float | None = None,
        measured: float,
        limit: float,
        message: str,
        remedy: Remedy | str,
        level: Level | None = None,
        cause: str = "",
    ) -> Finding:
        """A finding of this rule on a page at a viewport.

        Args:
            context: The page at its viewport.
            subject: What it is about.
            at: Keys below the subject that lead to the value in question.
            path: All keys that lead there, where the value is not below the subject.
            scroll: From where to where it holds, in px; by default along all of the scroll.
            worst: The scroll position at which it is worst; by default where it starts.
            measured: The figure.
            limit: The figure that it should keep to.
            message: What is wrong.
            remedy: What fixes it, or the words alone where no single value does.
            level: How much it matters; by default as much as the rule says.
            cause: What findings at other places share with it.
        """
        path = path or (*subject.path(context.box.page), *at)
        scroll = scroll or (0.0, float(context.max_scroll))
        return Finding(
            rule=self.name,
            level=level or self.level,
            page=context.box.page,
            viewport=context.box.viewport,
            subject=subject,
            scroll=scroll,
            measured=measured,
            limit=limit,
            message=message,
            remedy=remedy if isinstance(remedy, Remedy) else Remedy(remedy),
            path=path,
            place=context.plan.place_of(path),
            paths=context.document.pages[context.box.page].paths,
            worst=scroll[0] if worst is None else worst,
            cause=cause,
        )


Finder = Callable[[CheckContext, Rule], Iterator[Finding]]
RULES = Registry[Rule]("rule")
"""All rules by their names, in the order in which they are registered."""


def check_rule(name: str, level: Level) -> Callable[[Finder], Finder]:
    """Register a function as a rule. Its docstring is the explanation that people read.

    Raises:
        ValueError: If the name is taken.
    """

    def register(find: Finder) -> Finder:
        RULES.add(name, Rule(name, level, " ".join((find.__doc__ or "").split()), find))
        return find

    return register
