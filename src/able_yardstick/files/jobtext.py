"""A job as JSON text, one line a record; each record is put into words once (`Frozen.json_text`).

So saving costs what changed: a job of ten thousand readings to which one is added writes ten thousand lines, and makes
one.
"""

from collections.abc import Iterator

from pydantic_core import to_json

from ..core.job.job import Job
from ..core.words.record import Frozen

_PARTS = ("document", "journal")


def chunks_of(job: Job) -> Iterator[bytes]:
    """The text of a job's file, UTF-8, piece by piece."""
    yield b"{\n"
    for name in Job.model_fields:
        if name not in _PARTS:
            yield b"%s: %s,\n" % (to_json(name), to_json(getattr(job, name)))
    yield b'"document": '
    yield from _lines(job.document)
    yield b',\n"journal": '
    yield from _lines(job.journal)
    yield b"\n}\n"


def _lines(record: Frozen) -> Iterator[bytes]:
    """An object whose lists have a line for each record in them."""
    before = b"{\n"
    for name in type(record).model_fields:
        yield before + to_json(name) + b": "
        value = getattr(record, name)
        if isinstance(value, tuple):
            yield b"[\n" + b",\n".join([one.json_text for one in value]) + b"\n]" if value else b"[]"
        else:
            yield to_json(value)
        before = b",\n"
    yield b"\n}"
