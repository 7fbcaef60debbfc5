"""How far a channel has come at each step, and what no longer stands."""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, Literal, NamedTuple

import numpy as np

from ..document.channel import (
    AnyChannel,
    ConstantChannel,
    ContinuousChannel,
    SignableChannel,
    TwoStateChannel,
    WiredChannel,
)
from ..document.once import once_per_slice
from ..document.output import OutputChannel
from ..document.register_constant import reckon
from ..fit.inputs import fit_inputs, repeats_of
from ..gather.points import points_of
from ..job.job import Job
from ..outputs.proving import next_wanted, output_checks, output_proof
from ..prove.checks import checks_of, proof_of, was_shown
from ..results.basis import stale_fit, stale_look, stale_pack
from ..results.signed_basis import changed_since_signed, signatures_of
from ..words.errors import YardstickError
from ..words.numerals import counted

if TYPE_CHECKING:
    from ..wire.checks.base import Finding

StepName = Literal["describe", "wire", "wake", "gather", "fit", "pack", "prove", "sign"]
STEP_NAMES: tuple[StepName, ...] = ("describe", "wire", "wake", "gather", "fit", "pack", "prove", "sign")
Level = Literal["ok", "look", "fault", "open"]
StepState = Literal["empty", "begun", "proven", "stale", "failed", "none"]
GRADUATIONS = 8
ENOUGH_STOPS = 5
WIDE_ENOUGH = 0.8
ENOUGH_CHECKS = 3


class StepProgress(NamedTuple):
    """A step's state, how many of its graduations are filled, and what it says for itself."""

    step: StepName
    state: StepState
    filled: int
    says: str


class ChannelState(NamedTuple):
    """A channel's state for its card: drawn as a shape and a colour."""

    level: Level
    says: str


StepFunction = Callable[[Job, Any], StepProgress]


def progress_of(job: Job, channel: AnyChannel, *, checked: bool = True) -> tuple[StepProgress, ...]:
    """The steps of a channel, in order; what must be reckoned is not `checked` where there is no time for it yet."""
    if checked:
        return _checked(job, channel)
    later = steps_of(channel)[1:] or steps_of(channel)  # what is only described is reckoned with its units
    return tuple(
        StepProgress(name, "empty", 0, "not checked yet") if name in later else _progress(job, channel, name)
        for name in STEP_NAMES
    )


@once_per_slice
def _checked(job: Job, channel: AnyChannel) -> tuple[StepProgress, ...]:
    return tuple(_progress(job, channel, name) for name in STEP_NAMES)


def steps_of(channel: AnyChannel) -> tuple[StepName, ...]:
    """The steps that a channel has."""
    return tuple(_STEPS[channel.kind])


def _progress(job: Job, channel: AnyChannel, name: StepName) -> StepProgress:
    """How far a channel has come at one step."""
    step = _STEPS[channel.kind].get(name)
    if step is None:
        return StepProgress(name, "none", 0, f"a {channel.kind} channel has none")
    try:
        return step(job, channel)
    except YardstickError as error:
        return StepProgress(name, "failed", 0, str(error))


_DESCRIBED = StepProgress("describe", "proven", GRADUATIONS, "described")


def _constant(_job: Job, channel: ConstantChannel) -> StepProgress:
    """A constant is described once its formula comes to a number that fits, and every bit field agrees with it."""
    if channel.register_constant is None:
        return _DESCRIBED
    wrong = next((field for field in reckon(channel.register_constant).fields if not field.agrees), None)
    return StepProgress("describe", "failed", GRADUATIONS, wrong.says) if wrong else _DESCRIBED


def state_of(steps: tuple[StepProgress, ...]) -> ChannelState:
    """The worst thing to say about a channel by its progress, or that it is in order."""
    worst: tuple[tuple[StepState, Level], ...] = (("failed", "fault"), ("stale", "look"))
    for state, level in worst:
        for step in steps:
            if step.state == state:
                return ChannelState(level, f"{step.step.capitalize()}: {step.says}")
    # readings may be worked without their wiring, and without a live signal; what is proven may be used unsigned
    needed = [step for step in steps if step.step not in ("wire", "wake", "sign")]
    first = next((step for step in needed if step.state not in ("proven", "none")), None)
    if first is None:
        return ChannelState("ok", "in order")
    return ChannelState("open", f"{first.step.capitalize()}: {first.says}")


def _describe(_job: Job, channel: ContinuousChannel) -> StepProgress:
    rated = channel.transducer.rating.kind != "unrated"
    known = (channel.unit != "", channel.name != "", rated, channel.tolerance.is_stated)
    says = ("no unit yet", "no name yet", "nothing rated: only readings will tell", "no tolerance stated yet")
    done = sum(known)
    missing = next((text for text, is_known in zip(says, known, strict=True) if not is_known), "")
    state: StepState = "proven" if done == len(known) else "begun"
    return StepProgress("describe", state, GRADUATIONS * done // len(known), missing or "described")


def wire_progress(job: Job, channel: WiredChannel) -> StepProgress:
    """How far the signal path has come: landed, and without a fault in any check."""
    from ..wire.checks import findings_of  # not needed for the first picture

    return _wired(channel, findings_of(job, channel))


def _wired(channel: WiredChannel | OutputChannel, findings: "Sequence[Finding]") -> StepProgress:
    faults = sum(finding.level == "fault" for finding in findings)
    looks = sum(finding.level == "look" for finding in findings)
    if channel.landing is None and not faults:
        return StepProgress("wire", "begun", GRADUATIONS // 2, "not landed on a terminal yet")
    if faults:
        return StepProgress("wire", "failed", GRADUATIONS, f"{faults} fault{'s' if faults > 1 else ''} in the wiring")
    passed = len(findings) - looks
    more = f", {looks} to look at" if looks else ""
    return StepProgress("wire", "proven", GRADUATIONS, f"{counted(passed, 'check')} passed{more}")


def _wake(job: Job, channel: WiredChannel) -> StepProgress:
    record = job.wake_of(channel.id)
    if record is None:
        return StepProgress("wake", "empty", 0, "the raw signal was not looked at yet")
    reasons = stale_look(job, channel)
    if reasons:
        return StepProgress("wake", "stale", GRADUATIONS, ", ".join(reasons))
    if not record.causes:
        return StepProgress("wake", "failed", GRADUATIONS, "nothing known explains the signal")
    if record.causes[0] != "healthy":
        rest = f", or {', '.join(record.causes[1:])}" if len(record.causes) > 1 else ""
        return StepProgress("wake", "failed", GRADUATIONS, f"{record.causes[0]}{rest}")
    if not record.nudged:
        return StepProgress("wake", "begun", GRADUATIONS // 2, "nothing wrong was seen: nudge it to be sure")
    return StepProgress("wake", "proven", GRADUATIONS, "healthy, and moves when nudged")


def _gather(job: Job, channel: ContinuousChannel) -> StepProgress:
    points = points_of(job, channel)
    if not len(points.rows):
        return StepProgress("gather", "empty", 0, "no readings yet")
    stops = len(set(repeats_of(channel, points).tolist()))  # numpy's own `unique` loads its masked arrays first
    covered = float(np.ptp(points.reference)) / channel.span
    filled = min(stops, ENOUGH_STOPS) + (2 if covered >= WIDE_ENOUGH else 0) + (1 if _both_ways(job, channel) else 0)
    says = f"{counted(len(points.rows), 'reading')} at {counted(stops, 'stop')} over {min(covered, 1):.0%} of the range"
    enough = stops >= ENOUGH_STOPS and covered >= WIDE_ENOUGH
    return StepProgress("gather", "proven" if enough else "begun", GRADUATIONS if enough else min(filled, 7), says)


def _both_ways(job: Job, channel: ContinuousChannel) -> bool:
    return {"up", "down"} <= {row.reading.direction for row in job.amended(channel.id, "gather")}


def _fit(job: Job, channel: ContinuousChannel) -> StepProgress:
    record = job.fit_of(channel.id)
    if record is None:
        return StepProgress("fit", "empty", 0, "no curve chosen yet")
    reasons = stale_fit(job, channel)
    if reasons:
        return StepProgress("fit", "stale", GRADUATIONS, ", ".join(reasons))
    if record.fitted.spec.model != "nominal" and fit_inputs(job, channel).assumed_rows:
        return StepProgress("fit", "begun", GRADUATIONS // 2, "curve chosen, but it rests on an assumed reading")
    return StepProgress("fit", "proven", GRADUATIONS, "curve chosen")


def _pack(job: Job, channel: ContinuousChannel) -> StepProgress:
    if job.pack_of(channel.id) is None:
        return StepProgress("pack", "empty", 0, "nothing packed yet")
    reasons = stale_pack(job, channel)
    if reasons:
        return StepProgress("pack", "stale", GRADUATIONS, ", ".join(reasons))
    return StepProgress("pack", "proven", GRADUATIONS, "numbers kept")


def _prove(job: Job, channel: ContinuousChannel) -> StepProgress:
    checks = checks_of(job, channel)
    current = [check for check in checks if not check.stale]
    if not current:
        if checks:
            return StepProgress("prove", "stale", GRADUATIONS, "the checks are of another packing")
        found = channel.tolerance.is_stated and was_shown(job, channel)
        return StepProgress("prove", "begun" if found else "empty", 1 if found else 0, "no checks yet")
    if not channel.tolerance.is_stated:
        return StepProgress("prove", "begun", 1, f"{counted(len(current), 'check')}, no error allowed is stated yet")
    proof = proof_of(job, channel)
    passed = sum(check.passed for check in proof.checks)
    says = f"{passed} of {len(proof.checks)} checks pass"
    if not proof.passed:
        return StepProgress("prove", "failed", GRADUATIONS, says)
    if stale_pack(job, channel):
        return StepProgress("prove", "stale", GRADUATIONS, "the packing is out of date")
    if len(current) < ENOUGH_CHECKS:
        return StepProgress("prove", "begun", 2 * len(current), f"{says}, {ENOUGH_CHECKS} are wanted")
    return StepProgress("prove", "proven", GRADUATIONS, says)


def _sign(job: Job, channel: SignableChannel) -> StepProgress:
    signed = signatures_of(job, channel)
    if not signed:
        return StepProgress("sign", "empty", 0, "not signed yet")
    changed = changed_since_signed(job, channel)
    if changed:
        return StepProgress("sign", "stale", GRADUATIONS, f"changed since it was signed: {', '.join(changed)}")
    last = signed[-1]
    if not last.is_complete:
        return StepProgress("sign", "begun", GRADUATIONS // 2, f"signed by {last.name}, not approved yet")
    return StepProgress("sign", "proven", GRADUATIONS, f"signed by {last.name} on {last.made.date()}")


def _describe_output(_job: Job, channel: OutputChannel) -> StepProgress:
    settled = not channel.follows or channel.dead_input is not None
    known = (channel.unit != "", channel.name != "", settled, channel.tolerance.is_stated)
    says = ("no unit yet", "no name yet", "nothing chosen for a dead input", "no tolerance stated yet")
    done = sum(known)
    missing = next((text for text, is_known in zip(says, known, strict=True) if not is_known), "")
    state: StepState = "proven" if done == len(known) else "begun"
    return StepProgress("describe", state, GRADUATIONS * done // len(known), missing or "described")


def _wire_output(job: Job, channel: OutputChannel) -> StepProgress:
    from ..outputs.findings import output_findings  # not needed for the first picture

    return _wired(channel, output_findings(job, channel))


def _prove_output(job: Job, channel: OutputChannel) -> StepProgress:
    checks = output_checks(job, channel)
    current = [check for check in checks if not check.stale]
    if not current:
        state: StepState = "stale" if checks else "empty"
        return StepProgress("prove", state, GRADUATIONS if checks else 0, "no checks of these counts yet")
    proof = output_proof(job, channel)
    if proof is None:
        return StepProgress("prove", "begun", 1, f"{counted(len(current), 'check')}, no error allowed is stated yet")
    says = f"{sum(check.passed for check in proof.checks)} of {len(proof.checks)} checks pass"
    if not proof.passed:
        return StepProgress("prove", "failed", GRADUATIONS, says)
    if next_wanted(job, channel) is not None:
        return StepProgress("prove", "begun", min(len(current), GRADUATIONS - 1), f"{says}, more are planned")
    return StepProgress("prove", "proven", GRADUATIONS, says)


def _prove_contact(job: Job, channel: TwoStateChannel) -> StepProgress:
    from ..alarms.rehearsal import rehearsal_of  # not needed for the first picture

    rows = rehearsal_of(job, channel)
    seen = [row.record for row in rows if row.record is not None]
    failed = sum(not record.as_expected for record in seen)
    if failed:
        return StepProgress("prove", "failed", GRADUATIONS, f"{failed} not as expected")
    says = f"{len(seen)} of {len(rows)} rehearsed"
    state: StepState = "proven" if len(seen) == len(rows) else "begun" if seen else "empty"
    return StepProgress("prove", state, GRADUATIONS * len(seen) // len(rows), says)


# What a channel of each kind is taken through. A missing kind is an error, a missing step is one it does not have.
_STEPS: dict[str, dict[StepName, StepFunction]] = {
    "continuous": {
        "describe": _describe,
        "wire": wire_progress,
        "wake": _wake,
        "gather": _gather,
        "fit": _fit,
        "pack": _pack,
        "prove": _prove,
        "sign": _sign,
    },
    "two-state": {
        "describe": lambda _job, _channel: _DESCRIBED,
        "wire": wire_progress,
        "wake": _wake,
        "prove": _prove_contact,
        "sign": _sign,
    },
    "constant": {"describe": _constant},
    "output": {"describe": _describe_output, "wire": _wire_output, "prove": _prove_output, "sign": _sign},
}
