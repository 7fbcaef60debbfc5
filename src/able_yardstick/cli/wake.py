"""Wake without a window: a look at a raw signal, and how often the verdict is right."""

import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .arguments import JobFileArgument, TagArgument
from .links import _STEP_S, hub_of, raw_of, wait_for, wired
from .output import AsJson, print_json, put_page

if TYPE_CHECKING:
    from ..bench.hub import Hub, Live
    from ..core.document.channel import WiredChannel
    from ..core.wake.evidence import Evidence
    from ..core.wake.verdict import Verdict


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
    from ..core.wake.inputs import look_inputs
    from ..core.wake.verdict import diagnose
    from ..files.jobfile import read_job

    known = read_job(job)
    channel = wired(known, tag)
    plant_state = _state_of(channel, state, within)
    with hub_of(known, channel) as hub:
        live = raw_of(hub, channel)
        wait_for(live, seconds)
        look = live.window(seconds)
        plant_state = plant_state or state_by_reference(known, channel, hub.of_channel(channel.id, "reference"))
        expected = expected_at(channel, plant_state) if plant_state else None
        evidence = Evidence(figures_of(channel, look), expected, meter_v=meter, supply_v=supply, leads_ohm=ohms)
        evidence = _with_shown(hub, channel, evidence)
        if nudge is not None or drive:
            mover = _Mover(channel, hub) if drive else None
            evidence = evidence._replace(nudge=_nudged(channel, live, nudge or "up", mover))
    verdict = diagnose(look_inputs(known, channel), evidence)
    if as_json:
        print_json(_wake_data(channel, evidence, verdict))
    else:
        print("\n".join(_wake_text(channel, evidence, verdict)))
    if verdict.first != "healthy":
        raise typer.Exit(1)


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
    put_page(markdown(rows, seed), into)
