"""Edits of the signal path and of where it lands."""

from typing import Any

from ..describe.edits import _USUAL_TOP
from ..document.channel import ConstantChannel, ContinuousChannel, TwoStateChannel, WiredChannel
from ..document.controller import Controller, InputKind
from ..job.channels import change_channel
from ..job.job import Job
from ..path.signal_path import Path
from ..stages import AnyStage, Divider, Excitation, Shunt, Stage
from ..standards.resistors import SERIES, SeriesName, solve_divider, solve_shunt
from ..words.errors import NotApplicable
from .landing import landing_on, offers


def place_for(path: Path, kind: type[Stage]) -> int | None:
    """The latest place of the path where a part of a kind can stand; None if its signal never arrives.

    A part that turns one kind of signal into another fits only where what it gives is what then arrives.
    """
    units = path.node_units
    fitting = [at for at, unit in enumerate(units) if unit == kind.takes and kind.gives == unit]
    if fitting:
        return fitting[-1]
    changing = [at for at, unit in enumerate(units) if unit == kind.takes]
    return changing[-1] if changing and _joined(path, changing[-1], kind) is not None else None


def _joined(path: Path, at: int, kind: type[Stage]) -> tuple[AnyStage, ...] | None:
    """The stages with a part of a kind put in, if what follows still takes what arrives."""
    rest = path.stages[at:]
    wanted = rest[0].takes if rest else None
    if wanted is not None and wanted != kind.gives:
        return None
    return (*path.stages[:at], kind(), *rest)  # type: ignore[arg-type]  # one of STAGE_KINDS


def with_stage(path: Path, kind: type[Stage]) -> dict[str, Any]:
    """The fields of a path with a part of a kind in its place; the converter follows what then arrives.

    Raises: NotApplicable if its kind of signal never arrives.
    """
    at = place_for(path, kind)
    if at is None:
        raise NotApplicable(f"A {kind.title.lower()} takes {kind.takes}, which never arrives on this path.")
    stages = (*path.stages[:at], kind(), *path.stages[at:])
    last = stages[-1].gives
    converter = path.converter
    if last != converter.unit:
        converter = converter.with_(unit=last, low=0.0, high=_USUAL_TOP.get(last, 5.0), window_s=None)
    return {"stages": stages, "converter": converter}


def without_stage(path: Path, at: int) -> dict[str, Any]:
    """The fields of a path without its n-th part; the converter follows what then arrives."""
    stages = (*path.stages[:at], *path.stages[at + 1 :])
    last = stages[-1].gives if stages else path.source
    converter = path.converter
    if last != converter.unit:
        converter = converter.with_(unit=last, low=0.0, high=_USUAL_TOP.get(last, 5.0), window_s=None)
    return {"stages": stages, "converter": converter}


def with_stage_changed(channel: WiredChannel, at: int, changes: dict[str, Any]) -> WiredChannel:
    """The channel whose n-th part has other figures. What was measured of other resistors is measured no more; a
    bridge's supply at the data sheet's place is its excitation's.
    """
    stages = list(channel.path.stages)
    before = stages[at]
    if isinstance(before, Divider) and {"top_ohm", "bottom_ohm"} & changes.keys():
        changes = {"measured_factor": None, "measured_within": 0.0, **changes}
    stages[at] = stage = before.with_(**changes)
    changed = channel.with_(path=channel.path.with_(stages=tuple(stages)))
    if isinstance(stage, Excitation) and "voltage_v" in changes and isinstance(changed, ContinuousChannel):
        return changed.with_(transducer=changed.transducer.with_(supply_v=stage.voltage_v))
    return changed


def solved_stage(path: Path, at: int, wanted: float, series: str, load_ohm: float) -> dict[str, Any]:
    """The changes that make a part what is wanted of it, from a series of preferred values.

    A divider brings `wanted` volts to the top of the pin; a shunt leaves `wanted` percent of headroom above the top of
    its loop. Raises: NotApplicable for another part or series, OutOfRange where nothing fits.
    """
    if series not in SERIES:
        raise NotApplicable(f"Expected a series of preferred values, {', '.join(SERIES)}; found {series}.")
    stage, top_v = path.stages[at], path.converter.end
    name: SeriesName = series
    if isinstance(stage, Divider):
        pair = solve_divider(wanted, top_v, impedance_ohm=load_ohm, series=name)
        return {"top_ohm": pair.top_ohm, "bottom_ohm": pair.bottom_ohm}
    if isinstance(stage, Shunt):
        choice = solve_shunt(0.0, _LOOP_TOP_MA, top_v, headroom=wanted / 100, series=name)
        return {"resistance_ohm": choice.resistance_ohm}
    raise NotApplicable(f"The {stage.title.lower()} has nothing to solve.")


_LOOP_TOP_MA = 20.0


def add_controller(job: Job, controller: Controller) -> Job:
    """The job with a controller's description; one of the same id is replaced by it."""
    others = tuple(known for known in job.controllers if known.id != controller.id)
    return job.edited(controllers=(*others, controller))


def describe_controller(job: Job, controller: Controller) -> Job:
    """The job with a controller described anew. Raises: NotApplicable if a terminal that is wired to is gone."""
    left = {terminal.id for terminal in controller.terminals}
    for channel in job.channels:
        landing = None if isinstance(channel, ConstantChannel) else channel.landing
        if landing is not None and landing.controller == controller.id and landing.terminal not in left:
            raise NotApplicable(
                f"{channel.tag} is on {landing.terminal}: take it off that terminal before it goes from the table."
            )
    return add_controller(job, controller)


def land(job: Job, channel_id: str, controller_id: str, terminal_id: str) -> Job:
    """The job with a channel on a terminal, which brings its converter and its limits.

    Raises: NotApplicable that says who holds the terminal, or what it takes.
    """
    channel = _wired(job, channel_id)
    _ = job.controller(controller_id).terminal(terminal_id)
    offer = next(
        (row for row in offers(job, channel) if (row.controller.id, row.terminal.id) == (controller_id, terminal_id)),
        None,
    )
    if offer is None:
        raise NotApplicable(f"{terminal_id} is no input: land the signal on one.")
    landing = landing_on(channel, offer)
    assert offer.kind is not None  # landing_on refuses an offer without one
    path = _with_input(channel, offer.kind)
    return change_channel(job, channel.with_(landing=landing, path=path))


def _wired(job: Job, channel_id: str) -> WiredChannel:
    channel = job.channel(channel_id)
    if isinstance(channel, ContinuousChannel | TwoStateChannel):
        return channel
    raise NotApplicable(f"{channel.tag} is a {channel.kind} channel: it has no input to land on.")


def _with_input(channel: WiredChannel, kind: InputKind) -> Path:
    """The path that ends in a terminal's own converter; its burden takes the place of a shunt."""
    before = channel.path
    kept = {"shares_supply": before.converter.shares_supply}
    if before.converter.reference_v == kind.converter.reference_v:
        kept["reference_measured_v"] = before.converter.reference_measured_v  # type: ignore[assignment]
    stages = before.stages
    if kind.burden_ohm is not None:
        shunt = next((stage for stage in stages if isinstance(stage, Shunt)), Shunt())
        own = shunt.with_(resistance_ohm=kind.burden_ohm)
        rest = tuple(stage for stage in stages if not isinstance(stage, Shunt))
        stages = (own, *rest)
    return before.with_(stages=stages, converter=kind.converter.with_(**kept))


def unland(job: Job, channel_id: str) -> Job:
    """The job with a channel taken off its terminal; its path stays as it was."""
    return change_channel(job, _wired(job, channel_id).with_(landing=None))
