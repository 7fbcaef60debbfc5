"""What was written into a controller, against what stands now: difference by difference, by names a person reads."""

from typing import Any, NamedTuple

from ..document.channel import ContinuousChannel
from ..job.job import Job
from ..journal.records import WriteRecord, WrittenState
from ..words.numerals import significant
from .fingerprints import leaves

_QUIET = ("fit.basis.", "fit.made", "fit.job_revision", "fit.fitted.errors", "fit.fitted.weights", "fit.fitted.signals")
_MOST = 200


class Difference(NamedTuple):
    """One figure that is another now: its path, and both in words; empty where it was not, or is no more."""

    path: str
    then: str
    now: str


def writes_of(job: Job, channel: ContinuousChannel) -> tuple[WriteRecord, ...]:
    """The writes of a channel's numbers, the newest first; one that went on as it ended."""
    found = {one.id: one for one in job.journal.of(channel.id).writes}
    return tuple(reversed(found.values()))


def differences(then: WrittenState, now: WrittenState) -> tuple[Difference, ...]:
    """What differs, the numbers first; what only says when it was reckoned is left out."""
    old, new = (dict(leaves(one.model_dump(mode="json"))) for one in (then, now))
    paths = [path for path in (*new, *(path for path in old if path not in new)) if not path.startswith(_QUIET)]
    found = [Difference(path, _words(old, path), _words(new, path)) for path in paths if old.get(path) != new.get(path)]
    found.sort(key=lambda one: not one.path.startswith("form"))
    return tuple(found[:_MOST])


def _words(known: dict[str, Any], path: str) -> str:
    if path not in known:
        return ""
    value = known[path]
    return significant(value, 9) if isinstance(value, float) else "none" if value is None else str(value)
