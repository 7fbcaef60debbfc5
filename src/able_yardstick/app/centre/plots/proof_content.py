"""The error plot at Prove: what the controller shows less the reference, whether it passes, and what explains it."""

from collections.abc import Sequence

import numpy as np

from ....core.curves import Curve
from ....core.document.channel import ContinuousChannel
from ....core.document.nominal import curve_in_unit
from ....core.gather.points import pin_of
from ....core.job.in_force import kept_packing, packed_curve
from ....core.job.job import Job
from ....core.prove.checks import as_found, checks_of, found_rows, proof_of, taken_checks
from ....core.prove.missed import envelope
from ....core.prove.mistakes.evidence import expected_errors, naming_of
from ....core.prove.proof import Proof
from ....core.words.errors import YardstickError
from .picture import Array, Band, DrawnLine, MarkKind, PlotContent, even_range, grouped, samples, tolerance_band

_Mark = tuple[MarkKind, float, float]


def proof_content(
    job: Job, channel: ContinuousChannel, _plots: object, axis: tuple[float, float], _shown: object
) -> PlotContent:
    """The checks of now and of before with their errors, the mistake that explains them, and what they would miss."""
    record = kept_packing(job, channel)
    curve = curve_in_unit(packed_curve(record.form, channel), record.unit, channel) if record else None
    bands = tolerance_band(channel, axis, curve)
    rows = [*_found_marks(job, channel), *_check_marks(job, channel)]
    marks = grouped([row for row in rows if np.isfinite(row[1])])
    if not rows:
        words = "no checks yet: enter a reference value and what the controller shows"
        return PlotContent((), tuple(marks), tuple(bands), None, even_range(marks, bands), words, stems=True)
    words = "controller minus reference"
    lines, said = _explained(job, channel, axis)
    missed = _missed_band(job, channel, axis, curve)
    if missed is not None:
        bands.append(missed)
        said += "; grey: what these checks would miss"
    return PlotContent(
        tuple(lines), tuple(marks), tuple(bands), None, even_range(marks, bands), words + said, stems=True
    )


def _found_marks(job: Job, channel: ContinuousChannel) -> list[_Mark]:
    """What the controller showed while readings were gathered."""
    rows = found_rows(job, channel)
    passed = _passed(as_found(job, channel), len(rows))
    return [
        ("found" if ok else "found failed", pin_of(channel, row.row), row.shown - row.reference)
        for row, ok in zip(rows, passed, strict=True)
    ]


def _check_marks(job: Job, channel: ContinuousChannel) -> list[_Mark]:
    before = {row.row.reading.id for row in found_rows(job, channel)}
    checks = [check for check in checks_of(job, channel) if check.row.reading.id not in before]
    try:
        proof: Proof | None = proof_of(job, channel)
    except YardstickError:
        proof = None  # without a tolerance there is nothing to fail
    passed = iter(_passed(proof, sum(not check.stale for check in checks)))
    found: list[_Mark] = []
    for check in checks:
        kind: MarkKind = "stale" if check.stale else ("left" if next(passed) else "failed")
        found.append((kind, check.pin, check.shown - check.reference))
    return found


def _passed(proof: Proof | None, count: int) -> Sequence[bool]:
    """The one judgement of each check, by the channel's rule."""
    return [True] * count if proof is None else [check.passed for check in proof.checks]


def _explained(job: Job, channel: ContinuousChannel, axis: tuple[float, float]) -> tuple[list[DrawnLine], str]:
    """The error curve of the mistake that is named, else the shift that the errors share."""
    try:
        naming = naming_of(job, channel)
    except YardstickError:
        naming = None
    if naming is not None and naming.suspects:
        pin, errors = expected_errors(job, channel, naming.suspects[0])
        seen = np.isfinite(errors)
        return [DrawnLine(pin[seen], errors[seen], "mistake")], f"; dashed: {naming.suspects[0].name}"
    current = [check.shown - check.reference for check in checks_of(job, channel) if not check.stale]
    if len(current) < 2:
        return [], ""
    shift = float(np.mean(current))
    return [DrawnLine(np.array(axis), np.array([shift, shift]), "shift")], "; dotted: the common shift"


def _missed_band(job: Job, channel: ContinuousChannel, axis: tuple[float, float], curve: Curve | None) -> Band | None:
    """The largest error that would pass unseen, about zero, over the range."""
    try:
        planned = taken_checks(job, channel)
    except YardstickError:
        return None
    if not planned or curve is None:
        return None
    low, high = channel.range
    signal: Array = samples(axis, curve)  # type: ignore[arg-type]
    values = np.asarray(curve.value(signal))
    inside = (values >= low) & (values <= high)
    if not inside.any():
        return None
    most = envelope(planned, low, high, values[inside])
    known = np.isfinite(most)
    return Band(signal[inside][known], -most[known], most[known], "missed") if known.any() else None
