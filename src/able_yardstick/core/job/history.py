"""What undo and redo go to."""

from .job import Job


def restored(now: Job, then: Job) -> Job:
    """An earlier tree with all that was captured and written since: what undo and redo go to."""
    return then.with_(
        readings=now.readings, references=now.references, writes=now.writes, revision=now.revision + 1
    )  # fmt: skip
