"""The list before the plant is touched, kept for the whole job: taken, and put back at the end."""

from ..document.precaution import USUAL, Precaution, PrecautionState
from ..words.errors import BadTable
from .job import Job

_LONGEST = 80


def precautions_of(job: Job) -> tuple[Precaution, ...]:
    """The job's list, or the usual one while nobody has changed it."""
    kept = job.document.precautions
    return tuple(Precaution(name=name) for name in USUAL) if kept is None else kept


def put_precaution(job: Job, name: str, state: PrecautionState) -> Job:
    """The job with a precaution in a state; one that is not listed is added.

    Raises: BadTable for no name or a long one.
    """
    words = name.strip()
    if not 0 < len(words) <= _LONGEST:
        raise BadTable(f"Expected what is to be done, in at most {_LONGEST} characters, found {len(words)}.")
    made = Precaution(name=words, state=state)
    rows = precautions_of(job)
    known = any(one.name == made.name for one in rows)
    changed = tuple(made if one.name == made.name else one for one in rows) if known else (*rows, made)
    return job.edited(precautions=changed)


def drop_precaution(job: Job, name: str) -> Job:
    """The job without a precaution. Raises: BadTable while it is taken and not put back."""
    rows = precautions_of(job)
    one = next((row for row in rows if row.name == name), None)
    if one is not None and one.state == "taken":
        raise BadTable(f"“{name}” is taken and not put back: confirm that first, then drop it.")
    return job.edited(precautions=tuple(row for row in rows if row.name != name))


def to_restore(job: Job) -> tuple[str, ...]:
    """What was taken and is not put back yet."""
    return tuple(one.name for one in job.document.precautions or () if one.state == "taken")


def not_taken(job: Job) -> tuple[str, ...]:
    """What is listed and was not done."""
    return tuple(one.name for one in precautions_of(job) if one.state == "open")
