"""Edits of what is watched beside the channels."""

from ..document.watched import AnyWatched, RowOrder, SensorPair, WatchedRow, WatchList
from .job import Job


def change_watch(job: Job, watch: WatchList) -> Job:
    """The job with other things watched. Raises: InvalidRecord on a used tag."""
    return job.edited(watch=None if watch == WatchList() else watch)


def order_rows(job: Job, order: RowOrder) -> Job:
    """The job with its rows in another order."""
    return change_watch(job, job.watch.with_(order=order))


def change_row(job: Job, row: WatchedRow) -> Job:
    """The job with a row shown otherwise."""
    return change_watch(job, job.watch.with_row(row))


def change_pair(job: Job, pair: SensorPair) -> Job:
    """The job with a pair in place of the one of its id, or at the end."""
    rest = {one.id: one for one in job.watch.pairs} | {pair.id: pair}
    return change_watch(job, job.watch.with_(pairs=tuple(rest.values())))


def change_value(job: Job, value: AnyWatched) -> Job:
    """The job with a value made of channels in place of the one of its id, or at the end. Raises: InvalidRecord."""
    rest = {one.id: one for one in job.watch.values} | {value.id: value}
    return change_watch(job, job.watch.with_(values=tuple(rest.values())))


def unwatch(job: Job, row_id: str) -> Job:
    """The job without a pair or a value made of channels; how its row stood is forgotten too."""
    watch = job.watch
    return change_watch(job, WatchList(
        order=watch.order,
        rows=tuple(one for one in watch.rows if one.id != row_id),
        pairs=tuple(one for one in watch.pairs if one.id != row_id),
        values=tuple(one for one in watch.values if one.id != row_id),
    ))  # fmt: skip
