"""A job: a task that is done with one page of a plan at one viewport, here or elsewhere."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Generic, Protocol, TypeVar

from rising_lantern.jobs.sharing import Jobs, Progress, followed
from rising_lantern.plan.text.reading import PlanFile

Result = TypeVar("Result")
Result_co = TypeVar("Result_co", covariant=True)


class Task(Protocol[Result_co]):
    """What is done with a page: can be pickled."""

    def run(self, plan: PlanFile, page: str, viewport: str) -> Result_co:
        """Do it.

        Args:
            plan: The plan.
            page: The page's name.
            viewport: The viewport's name.
        """
        ...

    def words(self, page: str, viewport: str) -> str:
        """What is being done, such as ``Checking home on laptop``."""
        ...


@dataclass(frozen=True, slots=True)
class Job(Generic[Result]):
    """A task with the page that it is done with.

    Attributes:
        plan: The plan; another process is given this page of it only.
        page: The page's name.
        viewport: The viewport's name.
        task: What is done.
    """

    plan: PlanFile
    page: str
    viewport: str
    task: Task[Result]

    def run(self) -> Result:
        """Do it, and return what comes of it."""
        return self.task.run(self.plan, self.page, self.viewport)

    def words(self) -> str:
        """What is being done."""
        return self.task.words(self.page, self.viewport)

    def __reduce__(self) -> tuple[Any, ...]:
        return Job, (self.plan.of_page(self.page), self.page, self.viewport, self.task)


def quickest_first(work: Iterable[Job[Result]]) -> list[Job[Result]]:
    """Jobs by the time that they are likely to take: page by page, of each its screens.

    The layers of a page tell its time well enough, and the area of a screen that of a view.
    """

    def time_of(job: Job[Result]) -> tuple[int, int]:
        documents = job.plan.documents
        layers = max(document.pages[job.page].layer_count for document in documents.values())
        screen = documents[job.viewport].viewports[job.viewport]
        return layers, screen.width * screen.height

    return sorted(work, key=time_of)


def run_unknown(
    work: Sequence[Job[Result]],
    known: Sequence[Result | None],
    jobs: Jobs,
    progress: Progress | None,
) -> Iterator[Result]:
    """Yield what comes of each job, in order: what is known of it already, or what is made now.

    Args:
        work: The jobs.
        known: What is known of each; None for nothing.
        jobs: Who shares those of which nothing is; see :func:`rising_lantern.jobs.sharing.shared`.
        progress: Called before each of these.
    """
    unknown = [job for job, found in zip(work, known, strict=True) if found is None]
    fresh = run_jobs(unknown, jobs, progress)
    for found in known:
        yield next(fresh)[1] if found is None else found


def run_jobs(
    work: Sequence[Job[Result]], jobs: Jobs, progress: Progress | None
) -> Iterator[tuple[Job[Result], Result]]:
    """Yield each job with what comes of it, in order, as soon as it is there.

    Args:
        work: The jobs.
        jobs: Who shares them; see :func:`rising_lantern.jobs.sharing.shared`.
        progress: Called before each.
    """
    return followed(Job.run, work, jobs, progress, Job.words)
