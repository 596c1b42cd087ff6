"""Remedies: what fixes a finding, in words and as changes of the plan."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.plan.edits.drafts import Draft
from rising_lantern.plan.edits.edits import Remove, Set, path_words
from rising_lantern.plan.text.nodes import Key, Node
from rising_lantern.plan.text.set_values import place_of_entry, placed_value


@dataclass(frozen=True, slots=True)
class Setting:
    """A value of a plan that clears a finding by itself; ``Plan.apply`` takes it.

    Attributes:
        path: The keys that lead to the value, in the plan with everything written out.
        value: The value, written as in a plan; None where the entry is to be removed.
        written_path: The keys that lead to what is changed, as the plan was written: the value of
            one screen where its ``for:`` gives it, or what a page or header is like.
        written_value: What is set there; a mapping where the value's own is not there yet.
    """

    path: tuple[Key, ...]
    value: str | None
    written_path: tuple[Key, ...]
    written_value: str | None

    @classmethod
    def placed(cls, root: Node, viewport: str, path: tuple[Key, ...], value: str | None) -> Setting:
        """Return a setting with its place in a plan as it was written.

        Args:
            root: The plan as it was written.
            viewport: The viewport on which the value counts.
            path: The keys that lead to the value, in the plan with everything written out.
            value: The value; None to remove the entry.
        """
        if value is None:
            return cls(path, None, place_of_entry(root, path, viewport), None)
        where, text = placed_value(root, path, viewport, value)
        return cls(path, value, where, text)

    @property
    def key(self) -> str:
        """Where it is set, as ``--set`` takes it, such as ``headers.main.top``."""
        return path_words(self.written_path)

    @property
    def words(self) -> str:
        """What it does, such as ``set headers.main.top to 0px``."""
        return self._edit.words

    @property
    def data(self) -> dict[str, str | None]:
        """The setting as JSON has it: its key, and its value or null where it is removed."""
        return {"key": self.key, "value": self.written_value}

    def made_in(self, draft: Draft) -> Draft:
        """Return a draft with the value set; see ``Plan.apply``."""
        return self._edit.made_in(draft)

    @property
    def _edit(self) -> Set | Remove:
        if self.written_value is None:
            return Remove(self.written_path)
        return Set(self.key, self.written_value)


@dataclass(frozen=True, slots=True)
class Remedy:
    """What fixes a finding.

    Attributes:
        words: What to do, such as ``set its top to 0px``.
        settings: Values of the plan, each of which does it by itself, that of the words first;
            none where no single value does.
    """

    words: str
    settings: tuple[Setting, ...] = ()

    def __str__(self) -> str:
        return self.words
