"""The record of a transducer with a curve: what was fitted, packed and checked along its range."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from ...curves import Curve
from ...document.channel import ContinuousChannel
from ...fit.budget import fit_budget
from ...fit.inputs import fit_inputs
from ...job.in_force import curve_in_use
from ...job.job import Job
from ...lookout.certain import certainty_of
from ...prove.checks import as_found, proof_of, weaknesses_of
from ...state.scales import Scale, scales_of
from ...words.errors import YardstickError
from ...words.numerals import significant
from ..blocks import Block, Facts, Tabled
from .allowed import STOPS, allowed_along
from .checked import checks_of_record, verdicts_of
from .of_path import path_facts
from .read_off import off_the_reference
from .signed_kind import FactRows, OpenPoint, RecordData, SignedKind

_BORROWED = {"similar part": "taken from a similar part", "assumed": "assumed"}


def _scales(job: Job, channel: ContinuousChannel) -> tuple[Scale, ...]:
    return scales_of(job, channel)


def _points(job: Job, channel: ContinuousChannel) -> Iterator[OpenPoint]:
    source = channel.transducer.source
    if source in _BORROWED:
        yield OpenPoint(f"Describe: the transducer's figures are {_BORROWED[source]}", "describe")
    record = job.fit_of(channel.id)
    if record is not None and record.assumed:
        yield OpenPoint(f"Fit: {record.assumed}", "fit")
    used = [row.reading for row in job.amended(channel.id, "gather") if row.is_used]
    assumed = sum(one.origin == "assumed" for one in used)
    if assumed:
        yield OpenPoint(f"Gather: {assumed} of {len(used)} readings are assumed", "gather")
    for words in weaknesses_of(job, channel):
        yield OpenPoint(f"Prove: {words.rstrip('.')}", "prove")


def _uncertainty(job: Job, channel: ContinuousChannel) -> Any:
    """U along the range, and where it is from."""
    known = certainty_of(job, channel)
    if known is None:
        return None
    low, high = sorted(channel.range)
    stops = np.linspace(low, high, STOPS, dtype=np.float64)
    rows = [{"value": float(x), "expanded": float(u)} for x, u in zip(stops, known.at(stops), strict=True)]
    return {"unit": channel.unit, "coverage": "k = 2", "origin": known.origin, "rows": rows}


def _budget(job: Job, channel: ContinuousChannel) -> Any:
    """What U is made of in the middle of the reach."""
    record = job.fit_of(channel.id)
    if record is None:
        return None
    low, high = record.fitted.curve.domain
    try:
        found = fit_budget(fit_inputs(job, channel), record.fitted, (low + high) / 2)
    except YardstickError:
        return None
    if found is None:
        return None
    rows = [{"name": row.name, "standard": float(row.standard)} for row in found.rows]
    return {
        "signal": (low + high) / 2,
        "rows": rows,
        "expanded": float(found.interval.expanded),
        "remarks": [*found.remarks],
    }


def _proof(job: Job, channel: ContinuousChannel) -> Any:
    try:
        return proof_of(job, channel).model_dump(mode="json")
    except YardstickError as error:
        return {"not proven": str(error)}


def _found(job: Job, channel: ContinuousChannel) -> Any:
    found = as_found(job, channel)
    return None if found is None else found.model_dump(mode="json")


def _allowed(job: Job, channel: ContinuousChannel) -> Any:
    use = curve_in_use(job, channel)
    return allowed_along(
        channel.tolerance, channel.range, lambda value: None if use is None else _pin_of(use.curve, value)
    )


def _pin_of(curve: Curve, value: float) -> float | None:
    """The signal at which a curve has a value; None where none or several have."""
    try:
        found = curve.branches(value)
    except YardstickError:
        return None
    return float(found[0]) if len(found) == 1 else None


def _decision(_job: Job, channel: ContinuousChannel) -> Any:
    return channel.decision.words


def _numbers(job: Job, channel: ContinuousChannel) -> Any:
    """The numbers of the packing in force, as they are typed or loaded."""
    pack = job.pack_of(channel.id)
    if pack is None:
        return None
    cells = pack.form.cells(channel.path.pin_unit, pack.unit)
    return {"form": pack.form.title, "headings": [*cells.headings], "rows": [[*row] for row in cells.rows]}


def _ends(record: RecordData) -> tuple[float, float]:
    transducer = record["channel"]["transducer"]
    return transducer["range_low"], transducer["range_high"]


def _described(record: RecordData) -> FactRows:
    channel, (low, high) = record["channel"], _ends(record)
    return (
        ("range", f"{significant(low, 6)} to {significant(high, 6)} {channel['unit']}"),
        ("output", channel["transducer"]["output"]),
        ("figures", f"from: {channel['transducer']['source']}"),
    )


def _derived(record: RecordData) -> Iterator[Block]:
    fit = record.get("fit")
    if fit is not None:
        fitted = fit["fitted"]
        solution = fitted.get("solution") or {}
        rows = [("kind", str(fitted["spec"]["model"])), ("unit", fit["unit"])]
        rows += [(f"coefficient {n}", significant(one, 9)) for n, one in enumerate(solution.get("coefficients", ()))]
        rows += [(name, significant(solution[name], 9)) for name in ("centre", "scale") if name in solution]
        if fitted.get("residual_sd") is not None:
            scatter = f"{significant(fitted['residual_sd'], 3)} {fit['unit']}"
            rows.append(("scatter", f"{scatter}, {fitted['dof']} degrees of freedom"))
        yield Facts("Curve", tuple(rows))
    yield path_facts(record)
    known = record.get("uncertainty")
    if known:
        along = tuple((significant(row["value"], 6), significant(row["expanded"], 3)) for row in known["rows"])
        yield Tabled(f"U along the range, {known['unit']}, {known['coverage']}, {known['origin']}", ("at", "U"), along)


OF_CURVE = SignedKind(
    "continuous",
    {
        "uncertainty": _uncertainty,
        "budget": _budget,
        "proof": _proof,
        "as found": _found,
        "allowed": _allowed,
        "decision": _decision,
        "numbers": _numbers,
        "writers": lambda _job, _channel: [],
    },
    _scales,
    _points,
    verdicts_of,
    lambda record: checks_of_record(record, _ends(record)),
    _described,
    _derived,
    "shown minus reference",
    _ends,
    lambda channel: channel["transducer"]["quantity"] or "",
    off_the_reference,
)
