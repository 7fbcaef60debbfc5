"""Edits of the live sources and of the reference instruments."""

from collections.abc import Sequence

from ..document.reference import Reference
from ..document.sources import AnySource
from ..units.quantity import check_unit
from .job import Job


def change_sources(job: Job, sources: Sequence[AnySource]) -> Job:
    """The job with other live sources."""
    return job.edited(sources=tuple(sources))


def change_source(job: Job, source: AnySource) -> Job:
    """The job with a source replaced by one of the same id, or added at the end."""
    known = {old.id for old in job.sources}
    rest = tuple(source if old.id == source.id else old for old in job.sources)
    return change_sources(job, rest if source.id in known else (*rest, source))


def remove_source(job: Job, source_id: str) -> Job:
    """The job without a source; readings taken through it stay."""
    return change_sources(job, [source for source in job.sources if source.id != source_id])


def change_reference(job: Job, reference: Reference) -> Job:
    """The job with a reference instrument replaced by one of the same id, or added at the end.

    Readings keep the values and uncertainties they were taken with. Raises: UnitMismatch for a unit that does not
    measure its quantity.
    """
    if reference.quantity is not None and reference.unit:
        check_unit(reference.unit, reference.quantity)
    known = {old.id for old in job.references}
    rest = tuple(reference if old.id == reference.id else old for old in job.references)
    return job.edited(references=rest if reference.id in known else (*rest, reference))
