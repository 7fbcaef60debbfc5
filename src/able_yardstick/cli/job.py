"""Make and fill a job without a window, so that a script does what a hand does."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any
from uuid import uuid4

import typer

from .arguments import JobFileArgument, TagArgument
from .output import AsJson, print_json

if TYPE_CHECKING:
    from collections.abc import Callable

    from ..core.job.job import Job
    from ..core.journal.reading import Reading


class Way(StrEnum):
    """Which way a stop was reached."""

    up = "up"
    down = "down"
    unstated = "not stated"


class From(StrEnum):
    """Where a reading's figures are from."""

    measured = "measured"
    rated = "rated"
    assumed = "assumed"


def new(
    job: Annotated[Path, typer.Argument(help="Job file to make; .yardstick.json is added.")],
    title: Annotated[str, typer.Option(help="Title of the job; else the file's name.")] = "",
) -> None:
    """Make an empty job; one that is there is left as it is."""
    from ..core.job.job import Job
    from ..core.words.errors import BadJob
    from ..files.jobfile import ENDING, JobFile, with_ending

    path = with_ending(job)
    if path.exists():
        raise BadJob(f"{path} is there already: it was left as it is. Choose another name.")
    JobFile.create(path, Job.new(uuid4().hex[:12], title=title or path.name.removesuffix(ENDING))).close()
    print(path)


def add(
    job: JobFileArgument,
    tag: TagArgument,
    kind: Annotated[str, typer.Option(help="A kind of transducer by its words, such as “Pt100”; else nothing known.")]
    = "",
    name: Annotated[str, typer.Option(help="What it measures.")] = "",
) -> None:  # fmt: skip
    """Add a channel, as from the menu of kinds: its figures are assumed until they are set."""
    from ..core.job.channels import add_channel, new_continuous

    made = (_kind(kind).channel if kind else new_continuous)(uuid4().hex[:12], uuid4().hex[:12], tag)
    with _edited(job) as edit:
        edit(lambda known: add_channel(known, made.with_(name=name)))


def put(
    job: JobFileArgument,
    tag: TagArgument,
    fields: Annotated[list[str], typer.Argument(metavar="NAME=VALUE", help="Such as transducer.range_high=250.")],
) -> None:
    """Set what a channel is described by, by the names of the job's schema; all of it or nothing."""
    from pydantic import ValidationError

    from ..core.job.channels import change_channel
    from ..core.words.record import InvalidRecord, first_complaint

    with _edited(job) as edit:

        def changed(known: "Job") -> "Job":
            channel = known.tagged(tag)
            tree = channel.model_dump(mode="json")
            for text in fields:
                _set(tree, text)
            try:
                return change_channel(known, type(channel).model_validate(tree))
            except ValidationError as error:
                raise InvalidRecord(f"{first_complaint(error)}. Nothing was set.") from error

        edit(changed)


def read(
    job: JobFileArgument,
    tag: TagArgument,
    reference: Annotated[str, typer.Option(help="What the reference said, with or without its unit.")],
    raw: Annotated[str, typer.Option(help="The raw signal, such as 2.51V, 956mV, 2048counts; several with ;.")] = "",
    shown: Annotated[str, typer.Option(help="What the controller showed, if seen.")] = "",
    way: Annotated[Way, typer.Option(help="Which way it was reached.")] = Way.unstated,
    origin: Annotated[From, typer.Option(help="Where the figures are from.")] = From.measured,
    check: Annotated[bool, typer.Option("--check", help="A check to prove with, not to fit to.")] = False,
    as_json: AsJson = False,
) -> None:
    """Take down a reading; the job keeps it as it was said."""
    from ..core.job.entries import capture

    with _edited(job) as edit:
        taken: list[Reading] = []

        def captured(known: "Job") -> "Job":
            taken[:] = [_reading(known, tag, (reference, raw, shown), (way.value, origin.value), check)]
            return capture(known, taken)

        edit(captured)
    if as_json:
        print_json(taken[0].model_dump(mode="json"))


@contextmanager
def _edited(path: Path) -> "Iterator[Callable[[Callable[[Job], Job]], None]]":
    """A job that is locked; gives what makes an edit and saves it."""
    from ..files.jobfile import JobFile

    file, known = JobFile.open(path)
    try:
        yield lambda edit: file.save(edit(known))
    finally:
        file.close()


def _kind(words: str) -> Any:
    from ..core.describe.catalogue import ENTRIES
    from ..core.words.errors import BadTable

    wanted = words.casefold().split()
    found = [one for one in ENTRIES if all(word in f"{one.group} {one.title}".casefold() for word in wanted)]
    exact = [one for one in found if one.title.casefold() == words.strip().casefold()]
    if len(exact or found) != 1:
        listed = "; ".join(f"{one.group}: {one.title}" for one in found or ENTRIES)
        raise BadTable(f"Expected words that name one kind, found “{words}”. There are {listed}.")
    return (exact or found)[0]


def _set(tree: dict[str, Any], text: str) -> None:
    """Put a value into plain data by the names that lead to it. Raises: BadTable."""
    from ..core.words.errors import BadTable

    name, equals, value = text.partition("=")
    *way, last = name.strip().split(".")
    place: Any = tree
    for part in way:
        place = place.get(part) if isinstance(place, dict) else None
    if not equals or not isinstance(place, dict) or last not in place:
        known = ", ".join(place) if isinstance(place, dict) else "none there"
        raise BadTable(f"Expected NAME=VALUE with a name of the schema, found “{text}”. Names there: {known}.")
    try:
        place[last] = json.loads(value)
    except ValueError:
        place[last] = value


def _reading(
    job: "Job", tag: str, said: tuple[str, str, str], about: tuple[str, str], is_check: bool
) -> "Reading":  # fmt: skip
    from pydantic import ValidationError

    from ..core.journal.reading import Reading
    from ..core.units.typed import number_and_unit
    from ..core.words.numerals import parse_number
    from ..core.words.record import InvalidRecord, first_complaint

    channel = job.continuous(job.tagged(tag).id)
    reference, raw, shown = said
    number, unit = number_and_unit(reference)
    shown_number, shown_unit = number_and_unit(shown) if shown else ("", "")
    try:
        return Reading(
            id=uuid4().hex[:12], channel=channel.id, captured=datetime.now(UTC).replace(microsecond=0),
            purpose="prove" if is_check else "gather", reference=parse_number(number),
            reference_unit=unit or channel.unit, raw=_raw(channel, raw) if raw else None,
            shown=parse_number(shown_number) if shown else None,
            shown_unit=(shown_unit or channel.unit) if shown else "", direction=about[0], origin=about[1],
            source="command line", conditions=channel.conditions,
        )  # fmt: skip
    except ValidationError as error:
        raise InvalidRecord(f"{first_complaint(error)}.") from error


def _raw(channel: Any, text: str) -> Any:
    """A raw signal where its unit can be read on the way; without one at the pin."""
    from ..core.gather.raw_nodes import choice_for_unit, node_choices
    from ..core.units.typed import number_and_unit
    from ..core.words.errors import UnitMismatch

    unit = number_and_unit(text.split(";")[0])[1]
    choices = node_choices(channel)
    if not unit:
        return next(one for one in choices if one.node == "pin").typed(text)
    fitting = [one for one in choices if one.unit.casefold() == unit.casefold()]
    if not fitting:
        offered = ", ".join(one.words for one in choices)
        raise UnitMismatch(f"“{unit}” is read nowhere on the way of {channel.tag}. There are {offered}.", found=unit)
    return choice_for_unit(choices, unit).typed(text)
