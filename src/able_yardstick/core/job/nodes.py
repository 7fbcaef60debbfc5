"""The nodes of a signal path, from the quantity to the number shown, and what each takes at a place on the Rule."""

from typing import Any, NamedTuple

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..document.once import once_per_record
from ..path.node import Node as RawNode
from ..path.pin import met_at, true_pin
from ..stages import AnyStage
from ..stages.chain import slopes
from ..words.errors import NotApplicable, OutOfRange, YardstickError
from ..words.numerals import decimals_for, fixed
from .in_force import kept_packing, shown_of
from .job import Job

_NODES: dict[str, RawNode] = {"output": "output", "pin": "pin", "counts": "counts"}


class PathNode(NamedTuple):
    """A place where a signal can be met: `stage` is the stage it leaves, counted from 0; None elsewhere."""

    key: str
    title: str
    unit: str
    stage: int | None
    decimals: int

    def text(self, value: float | None) -> str:
        """A value there, as it is shown; a dash where there is none."""
        return "—" if value is None else fixed(value, self.decimals)


class NodeRow(NamedTuple):
    """Every node's value at one place, in the nodes' order; None where nothing is defined."""

    title: str
    pin: float
    values: tuple[float | None, ...]


def passes_unchanged(stage: AnyStage, load_ohm: float) -> bool:
    """Whether a steady value leaves a stage as it entered."""
    ends = np.array([1.0, 2.0])
    return stage.takes == stage.gives and bool(np.allclose(stage.forward(ends, load_ohm=load_ohm), ends, atol=1e-12))


def nodes_of(job: Job, channel: ContinuousChannel) -> tuple[PathNode, ...]:
    """All nodes of a channel, from the quantity to the number that the controller shows."""
    path = channel.path
    step_v = path.converter.resolution
    curve = nominal_curve(channel)
    found = []
    if curve is not None:
        middle = sum(curve.domain) / 2
        found.append(
            PathNode(
                "quantity", "as described", channel.unit, None, decimals_for(abs(float(curve.slope(middle))) * step_v)
            )
        )
    found += [
        PathNode(_key(n, len(path.stages)), _title(channel, n), unit, n - 1 if n else None, _decimals(channel, n))
        for n, unit in enumerate(path.node_units)
    ]
    if path.pin_unit != "counts":
        found.append(PathNode("counts", "converter", "counts", None, 0))
    if kept_packing(job, channel) is not None:
        found.append(PathNode("shown", "shown", channel.unit, None, found[0].decimals if curve is not None else 3))
    return tuple(found)


def _key(n: int, stages: int) -> str:
    if n == stages:
        return "pin"
    return "output" if n == 0 else f"node {n}"


def _title(channel: ContinuousChannel, n: int) -> str:
    stages = channel.path.stages
    if n == len(stages):
        return "at the pin"
    return "output" if n == 0 else f"after {stages[n - 1].title.lower()}"


def _decimals(channel: ContinuousChannel, n: int) -> int:
    """Decimals that show a tenth of the converter's step at the node, up to four."""
    path = channel.path
    try:
        middle = float(path.output((path.converter.start + path.converter.end) / 2, channel.around))
        total = abs(float(path.slope(middle, channel.around)))
        before = abs(float(slopes(path.supplied[:n], path.loads[:n], middle, channel.around)))
    except YardstickError:
        return 3
    step = path.converter.resolution * before / total if total else path.converter.resolution
    return min(decimals_for(step), 4)


def values_at(job: Job, channel: ContinuousChannel, pin: float) -> dict[str, float | None]:
    """The value of every node for a signal at the pin, by the node's key; None where nothing is defined."""
    path, around = channel.path, channel.around
    nominal = nominal_curve(channel)
    found: dict[str, float | None] = {}
    if nominal is not None:
        low, high = nominal.limits
        found["quantity"] = float(nominal.value(pin)) if low <= pin <= high else None
    output = float(path.output(pin, around))
    for n, value in enumerate(path.nodes(output, around) if np.isfinite(output) else ()):
        found[_key(n, len(path.stages))] = float(value) if np.isfinite(value) else None
    found["pin"] = pin
    if path.pin_unit != "counts":
        found["counts"] = float(path.converter.count_of(pin))
    record = kept_packing(job, channel)
    if record is not None:
        shown = float(shown_of(record.form, channel, np.array([pin]))[0])
        found["shown"] = channel.in_unit(shown, record.unit)[0]
    return found


def row_at(job: Job, channel: ContinuousChannel, title: str, pin: float) -> NodeRow:
    """The nodes' values for a signal at the pin, in the nodes' order."""
    values = values_at(job, channel, pin)
    return NodeRow(title, pin, tuple(values.get(node.key) for node in nodes_of(job, channel)))


@once_per_record
def range_pins(channel: ContinuousChannel) -> tuple[float, float] | None:
    """The signal at the pin at the lower and at the upper range value; None where nothing is rated."""
    nominal = nominal_curve(channel)
    if nominal is None:
        return None
    low, high = (float(pin) for pin in nominal.signal(np.array(channel.range)))
    return low, high


def end_rows(job: Job, channel: ContinuousChannel) -> tuple[NodeRow, ...]:
    """The nodes at both ends of the range; empty where nothing is rated."""
    pins = range_pins(channel)
    if pins is None:
        return ()
    return tuple(row_at(job, channel, title, pin) for title, pin in zip(("Low end", "High end"), pins, strict=True))


def used_share(channel: ContinuousChannel) -> float | None:
    """The share of the converter's span that the range uses; None where nothing is rated."""
    pins = range_pins(channel)
    if pins is None:
        return None
    converter = channel.path.converter
    low, high = sorted(pins)
    inside = min(high, converter.end) - max(low, converter.start)
    return max(inside, 0.0) / (converter.end - converter.start)


def pin_of_node(channel: ContinuousChannel, key: str, value: float) -> float:
    """The signal at the pin for a value at a node.

    Raises: NotApplicable for a node that the channel does not have, OutOfRange where nothing follows.
    """
    path, around = channel.path, channel.around
    if key == "quantity":
        nominal = nominal_curve(channel)
        if nominal is None:
            raise NotApplicable(f"{channel.tag} is not described yet: no signal follows from a quantity.")
        pin = float(nominal.signal(value))
    elif key in _NODES:
        pin = float(true_pin(path, value, met_at(path, _NODES[key]), around))
    else:
        pin = _from_node(channel, key, value)
    if not np.isfinite(pin):
        raise OutOfRange(f"No signal at the pin follows from {value:g} there.", found=value)
    return pin


def _from_node(channel: ContinuousChannel, key: str, value: float) -> float:
    path = channel.path
    keys = [_key(n, len(path.stages)) for n in range(len(path.stages) + 1)]
    if key not in keys:
        raise NotApplicable(f"{channel.tag} has no {key}. It has {', '.join(['quantity', *keys, 'counts'])}.")
    signal = value
    for stage, load_ohm in list(path.loaded_stages())[keys.index(key) :]:
        signal = float(stage.forward(signal, channel.around, load_ohm))
    return signal


def as_plain(job: Job, channel: ContinuousChannel, row: NodeRow) -> dict[str, Any]:
    """A row as plain data: value and unit by the node's key."""
    return {
        node.key: {"value": value, "unit": node.unit, "title": node.title}
        for node, value in zip(nodes_of(job, channel), row.values, strict=True)
    }
