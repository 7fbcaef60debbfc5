"""Who works on a job: one name a role, typed once."""

from typing import Literal

from ..document.channel import Person
from ..words.errors import BadTable
from .job import Job

SignerRole = Literal["technician", "approver"]
_LONGEST = 120


def person_of(job: Job, role: SignerRole) -> str:
    """Who has a role; empty where nobody was named."""
    return next((one.name for one in job.document.people if one.role == role), "")


def name_person(job: Job, role: SignerRole, name: str) -> Job:
    """The job with somebody in a role; with nobody for an empty name. Raises: BadTable for a name that is too long."""
    words = name.strip()
    if len(words) > _LONGEST:
        raise BadTable(f"Expected a name of at most {_LONGEST} characters, found {len(words)}.")
    others = tuple(one for one in job.document.people if one.role != role)
    named = (Person(id=role, name=words, role=role),) if words else ()
    return job.edited(people=(*others, *named))
