"""Gather without a window: stop by stop over live links."""

from datetime import UTC, datetime
from typing import TYPE_CHECKING, Annotated, Any
from uuid import uuid4

import typer

from .arguments import JobFileArgument, TagArgument
from .links import hub_of, raw_of, wait_for
from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..core.document.channel import ContinuousChannel
    from ..core.document.stop_plan import Stop


def gather(
    job: JobFileArgument,
    tag: TagArgument,
    stops: Annotated[str | None, typer.Option(help="Values in their order, such as 0,50,100,50,0; else the plan's.")]
    = None,
    stimulated: Annotated[str, typer.Option(help="whole loop, at the terminal, or transducer alone.")] = "whole loop",
    patience: Annotated[float, typer.Option(help="Longest wait at a stop, in s.", min=1, max=3600)] = 60.0,
    as_json: AsJson = False,
) -> None:  # fmt: skip
    """Drive the stops through the reference's set point; leave steady readings of both in the job."""
    from ..bench.gatherer import Gatherer
    from ..core.document.stop_plan import StopPlan
    from ..files.jobfile import JobFile

    file, known = JobFile.open(job)
    try:
        channel = known.continuous(known.tagged(tag).id)
        plan = channel.stop_plan if stops is None else StopPlan(typed=tuple(_numbers(stops)))
        taken = []
        with hub_of(known, channel) as hub:
            wait_for(raw_of(hub, channel), 0.2)
            reference = hub.of_channel(channel.id, "reference")
            if reference is not None:
                wait_for(reference, 0.2)
            gatherer = Gatherer(hub, patience)
            for stop in plan.stops(*channel.range):
                _refuse_harm(channel, stop)
                reading = gatherer.at_stop(known, channel, stop, _about(stop, stimulated))
                from ..core.job.entries import capture

                known = capture(known, [reading])
                file.save(known)
                taken.append(reading)
                if not as_json:
                    assert reading.raw is not None  # a gathered one has it
                    print(f"{stop.value:g} {stop.direction}: {reading.reference:g} {channel.unit}, "
                          f"{reading.raw.mean:g} {reading.raw.unit}")  # fmt: skip
    finally:
        file.close()
    if as_json:
        print_json({"tag": tag, "readings": [reading.model_dump(mode="json") for reading in taken]})


def _numbers(text: str) -> list[float]:
    from ..core.words.numerals import parse_number

    return [parse_number(part, decimal=".") for part in text.split(",") if part.strip()]


def _about(stop: "Stop", stimulated: str) -> Any:
    from typing import get_args

    from ..core.gather.gathering import Circumstances
    from ..core.journal.reading import Stimulated
    from ..core.words.errors import BadTable

    if stimulated not in get_args(Stimulated):
        raise BadTable(f"Expected --stimulated {', '.join(get_args(Stimulated))}; found “{stimulated}”.")
    return Circumstances(
        id=uuid4().hex[:12], captured=datetime.now(UTC).replace(microsecond=0), direction=stop.direction,
        stimulated=stimulated, source="command line", set_value=stop.value,  # type: ignore[arg-type]  # checked above
    )  # fmt: skip


def _refuse_harm(channel: "ContinuousChannel", stop: "Stop") -> None:
    from ..core.gather.guard import refusals
    from ..core.words.errors import OutOfRange

    harm = next((one for one in refusals(channel, stop.value, None) if one.is_harm), None)
    if harm is not None:
        raise OutOfRange(f"{harm.says}: this stop is not gone to. Take it out of the list.", found=stop.value)
