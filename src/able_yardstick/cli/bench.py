"""The live bench without a window: the rig, the sources, Wake, Gather, and how often the verdict is right."""

import json
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any
from uuid import uuid4

import typer

from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..bench.hub import Hub, Live
    from ..core.document.channel import ContinuousChannel, WiredChannel
    from ..core.document.stop_plan import Stop
    from ..core.job.job import Job
    from ..core.wake.evidence import Evidence
    from ..core.wake.verdict import Verdict

JobFileArgument = Annotated[Path, typer.Argument(help="Job file.")]
TagArgument = Annotated[str, typer.Argument(help="Tag of the channel.")]
_CONNECT_S = 6.0
_STEP_S = 0.05


def register(app: typer.Typer) -> None:
    """Add these commands to the command line."""
    for name, command in (
        ("rig", rig), ("sources", sources), ("wake", wake), ("gather", gather), ("confusion", confusion),
    ):  # fmt: skip
        app.command(name)(command)


# -- the rig --------------------------------------------------------------------------------------------------------


def rig(
    seed: Annotated[int, typer.Option(help="The same seed gives the same plant.")] = 7,
    speed: Annotated[float, typer.Option(help="How much faster than the clock the plant moves.", min=0.01)] = 1.0,
    fault: Annotated[list[str] | None, typer.Option(help="A fault to begin with, such as PT-202=open.")] = None,
    job: Annotated[Path | None, typer.Option(help="Job whose channels it simulates; else the demo's.")] = None,
    serve_for: Annotated[
        Path | None, typer.Option("--for", help="Job whose sources are turned to where the rig serves.")
    ] = None,
    free_ports: Annotated[bool, typer.Option("--free-ports", help="Take any free ports.")] = False,
) -> None:
    """Simulate the plant behind real protocols; print where it serves as JSON, then run until stopped."""
    from ..bench.rig.layout import Places
    from ..bench.rig.plant import Plant, fault_named
    from ..bench.rig.server import serve
    from ..core.job.job import Job
    from ..core.words.errors import BadTable
    from ..demo import demo_text
    from ..files.jobfile import read_job

    path = job or serve_for
    known = Job.model_validate_json(demo_text()) if path is None else read_job(path)
    plant = Plant(known, seed, speed)
    for text in fault or []:
        tag, sign, name = text.partition("=")
        if not sign:
            raise BadTable(f"Expected a fault as TAG=FAULT, such as PT-202=open, found “{text}”.")
        plant.tagged(tag).break_by(fault_named(name))

    def told(places: dict[str, Any]) -> None:
        if serve_for is not None:
            _turn_sources(serve_for, places)
        print(json.dumps({**places, "seed": seed}), flush=True)

    wanted = Places(0, 0, 0, 0) if free_ports else Places()
    serve(plant, wanted, told, known.title)


def _turn_sources(path: Path, places: dict[str, Any]) -> None:
    from ..bench.rig.layout import Places, with_places
    from ..core.job.instruments import change_sources
    from ..files.jobfile import JobFile

    file, job = JobFile.open(path)
    try:
        where = Places(
            places["modbus"]["port"], places["gauge"]["port"], places["meter"]["port"], places["knobs"]["port"],
            places["logger"]["device"],
        )  # fmt: skip
        file.save(change_sources(job, with_places(job, where)))
    finally:
        file.close()


# -- sources --------------------------------------------------------------------------------------------------------


def sources(
    job: JobFileArgument,
    check: Annotated[bool, typer.Option("--check", help="Connect to each, and listen for a moment.")] = False,
    seconds: Annotated[float, typer.Option(help="How long to listen to each.", min=0.2, max=60)] = 2.5,
    as_json: AsJson = False,
) -> None:
    """The sources of a job: what each is, whether it answers, at what rate, and its last error."""
    from ..core.document.sources import KIND_WORDS, address_of
    from ..files.jobfile import read_job

    rows = []
    for source in read_job(job).sources:
        row: dict[str, Any] = {
            "id": source.id, "name": source.name, "kind": KIND_WORDS[source.kind], "address": address_of(source),
            "enabled": source.enabled, "values": [feed.name for feed in source.every_feed],
        }  # fmt: skip
        if check and source.enabled:
            from ..bench.link import probed

            status = probed(source, seconds)
            row |= {
                "answers": status.standing == "answering", "what": status.what, "rate_hz": round(status.rate_hz, 2),
                "error": status.error, "lost": status.lost,
            }  # fmt: skip
        rows.append(row)
    if as_json:
        print_json(rows)
    else:
        print("\n".join(_source_text(row) for row in rows) or "The job has no sources.")
    if any(row.get("answers") is False for row in rows):
        raise typer.Exit(1)


def _source_text(row: dict[str, Any]) -> str:
    head = f"{row['name']}  ({row['kind']}, {row['address']})"
    if not row["enabled"]:
        return f"{head}  switched off"
    if "answers" not in row:
        return f"{head}  {len(row['values'])} values"
    if row["answers"]:
        return f"{head}  answers: {row['what']}, {row['rate_hz']:g} values a second"
    return f"{head}  does not answer: {row['error']}"


# -- wake -----------------------------------------------------------------------------------------------------------


def wake(
    job: JobFileArgument,
    tag: TagArgument,
    seconds: Annotated[float, typer.Option(help="How long to listen.", min=1, max=3600)] = 5.0,
    state: Annotated[str | None, typer.Option(help="Name of the present plant state, or the value it makes.")] = None,
    within: Annotated[float, typer.Option(help="How far a typed value may be off.", min=0)] = 0.0,
    meter: Annotated[float | None, typer.Option(help="Volts a meter reads at the signal terminal.")] = None,
    supply: Annotated[float | None, typer.Option(help="Volts a meter reads at the supply terminal.")] = None,
    ohms: Annotated[float | None, typer.Option(help="Ohms across the leads, off the terminal; inf if open.")] = None,
    nudge: Annotated[str | None, typer.Option(help="Disturb the sensor after the look: its value goes up or down.")]
    = None,
    drive: Annotated[bool, typer.Option("--drive", help="Let the reference's set point make the nudge.")] = False,
    as_json: AsJson = False,
) -> None:  # fmt: skip
    """Whether a raw signal is alive and plausible; figures, and a verdict with its evidence."""
    from ..bench.gatherer import state_by_reference
    from ..core.wake.evidence import Evidence
    from ..core.wake.expected import expected_at
    from ..core.wake.figures import figures_of
    from ..core.wake.verdict import diagnose
    from ..files.jobfile import read_job

    known = read_job(job)
    channel = _wired(known, tag)
    plant_state = _state_of(channel, state, within)
    with _hub(known, channel) as hub:
        live = _raw(hub, channel)
        _wait_for(live, seconds)
        look = live.window(seconds)
        plant_state = plant_state or state_by_reference(known, channel, hub.of_channel(channel.id, "reference"))
        expected = expected_at(channel, plant_state) if plant_state else None
        evidence = Evidence(figures_of(channel, look), expected, meter_v=meter, supply_v=supply, leads_ohm=ohms)
        evidence = _with_shown(hub, channel, evidence)
        if nudge is not None or drive:
            mover = _Mover(channel, hub) if drive else None
            evidence = evidence._replace(nudge=_nudged(channel, live, nudge or "up", mover))
    verdict = diagnose(known, channel, evidence)
    if as_json:
        print_json(_wake_data(channel, evidence, verdict))
    else:
        print("\n".join(_wake_text(channel, evidence, verdict)))
    if verdict.first != "healthy":
        raise typer.Exit(1)


def _wired(job: "Job", tag: str) -> "WiredChannel":
    from ..core.document.channel import ContinuousChannel, TwoStateChannel
    from ..core.words.errors import NotApplicable

    channel = job.tagged(tag)
    if not isinstance(channel, ContinuousChannel | TwoStateChannel):
        raise NotApplicable(f"{channel.tag} is a constant: it has no signal to wake.")
    return channel


def _state_of(channel: "WiredChannel", text: str | None, within: float) -> Any:
    from ..core.document.channel import PlantState
    from ..core.words.errors import NoSuchThing, YardstickError
    from ..core.words.numerals import parse_number

    if text is None:
        return None
    for state in channel.plant_states:
        if state.name.casefold() == text.strip().casefold():
            return state
    try:
        return PlantState(name="typed", value=parse_number(text), within=within)
    except YardstickError as error:
        names = ", ".join(f"“{state.name}”" for state in channel.plant_states) or "none"
        raise NoSuchThing(f"{channel.tag} has no state “{text}”. It has {names}; or type a value.") from error


@contextmanager
def _hub(job: "Job", channel: "WiredChannel") -> Iterator["Hub"]:
    """Links to the sources that have something of a channel."""
    from ..bench.hub import Hub
    from ..core.words.errors import NoSuchThing

    wanted = [
        source for source in job.sources
        if source.enabled and any(feed.channel == channel.id for feed in source.every_feed)
    ]  # fmt: skip
    if not wanted:
        raise NoSuchThing(f"No source of the job gives {channel.tag}. Add one in the Sources view.")
    hub = Hub()
    hub.run(wanted)
    try:
        yield hub
    finally:
        hub.stop()


def _raw(hub: "Hub", channel: "WiredChannel") -> "Live":
    from ..core.words.errors import NoSuchThing

    live = hub.of_channel(channel.id, "raw")
    if live is None:
        raise NoSuchThing(f"No source of the job gives the raw signal of {channel.tag}.")
    return live


def _wait_for(live: "Live", seconds: float) -> None:
    """Until so many seconds of samples are there. Raises: NoLink with the link's own words."""
    from ..bench.errors import NoLink

    began = time.monotonic()
    while live.stream.total == 0:
        if time.monotonic() - began > _CONNECT_S:
            status = live.link.status
            raise NoLink(status.error or f"{live.link.spec.name} gave nothing in {_CONNECT_S:g} s.")
        time.sleep(_STEP_S)
    time.sleep(seconds)


def _with_shown(hub: "Hub", channel: "WiredChannel", evidence: "Evidence") -> "Evidence":
    """The evidence with what the controller shows beside what its count comes to by its own packing."""
    from ..core.document.channel import ContinuousChannel
    from ..core.wake.reckoned import reckoned_value

    shown = hub.of_channel(channel.id, "shown")
    if shown is None or not isinstance(channel, ContinuousChannel):
        return evidence
    value = shown.latest()
    return evidence._replace(shown=value, reckoned=reckoned_value(channel, evidence.signal.level))


_NUDGE_SHARE = 0.08  # of the span


class _Mover:
    """Moves the stimulus by the reference's set point, and back."""

    def __init__(self, channel: "WiredChannel", hub: "Hub") -> None:
        from ..core.document.channel import ContinuousChannel
        from ..core.words.errors import NotApplicable

        self._reference = hub.of_channel(channel.id, "reference")
        start = self._reference.latest() if self._reference is not None else None
        if start is None or not isinstance(channel, ContinuousChannel) or self._reference is None:
            raise NotApplicable(f"No reference beside {channel.tag} can be set: nudge it by hand, without --drive.")
        self._start, self._span = start, channel.span
        self._room = channel.range

    def go(self, up: bool) -> None:
        """Away from where it is; the other way round at an end of the range is refused by the instrument."""
        self._set(self._start + (1 if up else -1) * _NUDGE_SHARE * self._span)

    def back(self) -> None:
        """To where it was."""
        self._set(self._start)
        time.sleep(_STEP_S * 4)

    def _set(self, value: float) -> None:
        assert self._reference is not None  # checked when it was made
        low, high = self._room
        self._reference.link.command(self._reference.feed.name, min(max(value, low), high))


def _nudged(channel: "WiredChannel", live: "Live", way: str, mover: "_Mover | None") -> Any:
    from ..core.wake.nudge import nudge_of, nudge_seconds, signal_rises
    from ..core.words.errors import BadTable

    if way not in ("up", "down"):
        raise BadTable(f"Expected --nudge up or --nudge down, found “{way}”.")
    seconds = nudge_seconds(channel)
    start = time.monotonic()
    if mover is None:
        print(f"Now make its value go {way}, and hold it for {seconds:g} s.", file=sys.stderr, flush=True)
    else:
        mover.go(way == "up")
    time.sleep(seconds)
    if mover is not None:
        mover.back()
    window = live.window(seconds + 4)
    rises = signal_rises(channel) == (way == "up")
    return nudge_of(channel, window.since(start - 3, start), window.since(start), rises)


def _wake_data(channel: "WiredChannel", evidence: "Evidence", verdict: "Verdict") -> dict[str, Any]:
    figures, expected = evidence.signal, evidence.expected
    line = figures.line if figures.texture == "line" else None
    return {
        "tag": channel.tag, "unit": channel.path.pin_unit, "level": figures.level, "level_count": figures.level_count,
        "noise": figures.noise, "peak_to_peak": figures.peak_to_peak, "noise_value": figures.noise_value,
        "value_unit": channel.unit, "allowed_noise": figures.allowed_noise, "samples": figures.samples,
        "seconds": figures.seconds, "rate_hz": figures.rate_hz, "distinct_counts": figures.distinct,
        "drift_per_minute": figures.drift_per_minute, "texture": figures.texture,
        "line_hz": None if line is None else line.frequency_hz,
        "line_amplitude": None if line is None else line.amplitude,
        "smoothed_over_samples": figures.smoothed_over, "stated_smoothing_s": figures.stated_smoothing_s,
        "expected": None if expected is None else {"state": expected.name, "pin": expected.pin,
                                                   "allowed": expected.allowed},
        "shown": evidence.shown, "reckoned": evidence.reckoned,
        "nudge": None if evidence.nudge is None else evidence.nudge._asdict(),
        "verdict": verdict.first, "causes": [{"cause": one.cause, "why": one.why} for one in verdict.causes],
        "next_test": verdict.next_test, "says": verdict.says,
    }  # fmt: skip


def _wake_text(channel: "WiredChannel", evidence: "Evidence", verdict: "Verdict") -> list[str]:
    from ..core.words.numerals import significant

    figures, unit = evidence.signal, channel.path.pin_unit
    lines = [
        f"{channel.tag}: {significant(figures.level_count, 5)} counts, "
        f"{significant(figures.level, 5)} {unit}, unscaled",
        f"noise {significant(figures.noise, 3)} {unit} (allowed {significant(figures.allowed_noise, 3)}), "
        f"{significant(figures.peak_to_peak, 3)} {unit} peak to peak, {figures.distinct} different counts",
    ]
    return [*lines, verdict.says, *(f"  {one.cause}: {one.why}" for one in verdict.causes)]


# -- gather ---------------------------------------------------------------------------------------------------------


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
        with _hub(known, channel) as hub:
            _wait_for(_raw(hub, channel), 0.2)
            reference = hub.of_channel(channel.id, "reference")
            if reference is not None:
                _wait_for(reference, 0.2)
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
        stimulated=stimulated, source="command line",  # type: ignore[arg-type]  # checked above
    )  # fmt: skip


def _refuse_harm(channel: "ContinuousChannel", stop: "Stop") -> None:
    from ..core.gather.guard import refusals
    from ..core.words.errors import OutOfRange

    harm = next((one for one in refusals(channel, stop.value, None) if one.is_harm), None)
    if harm is not None:
        raise OutOfRange(f"{harm.says}: this stop is not gone to. Take it out of the list.", found=stop.value)


# -- how often the verdict is right ---------------------------------------------------------------------------------


def confusion(
    runs: Annotated[int, typer.Option(help="Seeded runs of each fault; healthy gets three times as many.", min=1)]
    = 100,
    seed: Annotated[int, typer.Option(help="First seed.")] = 3_000_000,
    into: Annotated[Path | None, typer.Option(help="Write the table to this file.")] = None,
    as_json: AsJson = False,
) -> None:  # fmt: skip
    """Run every fault of the rig many times, and count how often Wake names it."""
    from ..bench.rig.confusion import markdown, table
    from ..core.job.job import Job
    from ..demo import demo_text

    rows = table(Job.model_validate_json(demo_text()), runs, seed)
    if as_json:
        print_json([row._asdict() for row in rows])
        return
    text = markdown(rows, seed)
    if into is None:
        print(text)
    else:
        into.write_text(text + "\n", encoding="utf-8")
