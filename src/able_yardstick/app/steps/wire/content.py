"""What the drawing of a signal path shows: blocks, the nodes between them, and their values. No drawing."""

from collections.abc import Callable
from typing import NamedTuple

from ....core.document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ....core.document.controller import CHASSIS, Landed
from ....core.job.job import Job
from ....core.job.nodes import end_rows, nodes_of, used_share, values_at
from ....core.stages import AnyStage
from ....core.wire.breaks import supply_of
from ....core.wire.checks import Finding, findings_of
from ....core.wire.landing import landed
from ....core.words.errors import YardstickError
from ....core.words.numerals import decimals_for, fixed


class PathBlock(NamedTuple):
    """Something drawn between two nodes: `kind` names its symbol."""

    kind: str
    title: str
    caption: str


class NodeColumn(NamedTuple):
    """A node: its words, its unit, and the worst that a check found there (empty if nothing)."""

    key: str
    title: str
    unit: str
    worst: str
    tip: str


class WireContent(NamedTuple):
    """A path from left to right: one block before every node but the first, and rows of values."""

    blocks: tuple[PathBlock, ...]
    nodes: tuple[NodeColumn, ...]
    rows: tuple[tuple[str, tuple[str, ...]], ...]
    at: Callable[[float], tuple[str, ...]]
    terminal: str
    back: str
    back_is_wrong: bool
    supply: str
    used: str
    loop_supply: str = ""


def wire_content(job: Job, channel: WiredChannel) -> WireContent:
    """The content for a channel. Raises: what its description refuses."""
    if isinstance(channel, TwoStateChannel):
        return _contact(job, channel)
    return _continuous(job, channel)


_WORST = {"fault": 2, "look": 1, "pass": 0}


def _columns(job: Job, channel: WiredChannel, nodes: list[tuple[str, str, str]]) -> tuple[NodeColumn, ...]:
    found: dict[str, list[Finding]] = {}
    last = f"node {len(channel.path.stages)}"
    for finding in findings_of(job, channel):
        key = "pin" if finding.node == last else finding.node
        found.setdefault(key, []).append(finding)
    columns = []
    for key, title, unit in nodes:
        here = [finding for finding in found.get(key, []) if finding.level != "pass"]
        worst = max((finding.level for finding in here), key=lambda level: _WORST[level], default="")
        columns.append(NodeColumn(key, title, unit, worst, "\n".join(finding.text for finding in here)))
    return tuple(columns)


def _continuous(job: Job, channel: ContinuousChannel) -> WireContent:
    nodes = nodes_of(job, channel)
    place = landed(job, channel)
    part = channel.transducer
    keys = [node.key for node in nodes]
    blocks: list[PathBlock] = []
    if "quantity" in keys:
        blocks.append(PathBlock("transducer", channel.tag, part.output))
    blocks += [_stage_block(stage) for stage in channel.path.stages]
    if "counts" in keys:
        bits = channel.path.converter.bits
        blocks.append(PathBlock("converter", place.terminal.title if place else "Converter", f"{bits} bit"))
    if "shown" in keys:
        blocks.append(PathBlock("controller", "Controller", "its numbers"))
    ends = end_rows(job, channel)
    rows = tuple((row.title, tuple(n.text(v) for n, v in zip(nodes, row.values, strict=True))) for row in ends)

    def at(pin: float) -> tuple[str, ...]:
        values = values_at(job, channel, pin)
        return tuple(node.text(values.get(node.key)) for node in nodes)

    used = used_share(channel)
    columns = _columns(job, channel, [(node.key, node.title, node.unit) for node in nodes])
    words = f"the range uses {used:.0%} of the converter's span" if used is not None else ""
    loop = f"{supply_of(job, channel)[0]:g} V" if part.output == "current loop" else ""
    return WireContent(tuple(blocks), columns, rows, at, *_landing_words(job, channel, place), words, loop)


def _stage_block(stage: AnyStage) -> PathBlock:
    return PathBlock(stage.kind, stage.title, stage.caption)


def _landing_words(job: Job, channel: WiredChannel, place: Landed | None) -> tuple[str, str, bool, str]:
    supply = ""
    if isinstance(channel, ContinuousChannel) and place is not None and place.supply is not None:
        volts, _ = supply_of(job, channel)
        supply = f"{volts:g} V from {place.supply.title}"
    elif isinstance(channel, ContinuousChannel) and channel.transducer.output == "current loop":
        supply = f"{channel.transducer.supply_v:g} V"
    if place is None:
        return "", "", False, supply
    if place.landing.return_to == CHASSIS:
        return place.terminal.full_title, "return on chassis", True, supply
    back = place.return_terminal
    return (
        place.terminal.full_title,
        f"return {back.title}, signal ground" if back else "return not landed",
        (back is None),
        supply,
    )


def _contact(job: Job, channel: TwoStateChannel) -> WireContent:
    place = landed(job, channel)
    path, unit = channel.path, channel.signal_unit
    before = ["output", *(f"node {n}" for n in range(1, len(path.stages)))]
    keys = [*before[: len(path.stages)], "pin"]
    titles = ["at the contact" if path.stages else "at the pin"]
    titles += [f"after {stage.title.lower()}" for stage in path.stages[:-1]]
    titles += ["at the pin"] if path.stages else []
    nodes = [("quantity", "state", ""), *zip(keys, titles, path.node_units, strict=True)]
    nodes.append(("counts", "converter", "counts"))
    blocks = [PathBlock("contact", channel.tag, "contact"), *(_stage_block(stage) for stage in path.stages)]
    blocks.append(PathBlock("converter", place.terminal.title if place else "Converter", f"{path.converter.bits} bit"))
    decimals = decimals_for(max(abs(level) for level in channel.pin_levels) / 200 or 0.01)

    def texts(state: str, level: float) -> tuple[str, ...]:
        values = path.nodes(level)
        count = fixed(float(path.converter.count_of(values[-1])), 0)
        return (state, *(fixed(float(value), decimals) for value in values), count)

    def at(pin: float) -> tuple[str, ...]:
        state = channel.state(pin, "open")
        between = abs(pin - channel.threshold) <= channel.dead_band / 2
        words = "as it was" if between else channel.closed_means if state == "closed" else channel.open_means
        return texts(words, float(path.output(pin)))

    rows = (
        ("Closed", texts(channel.closed_means, channel.closed_level)),
        ("Open", texts(channel.open_means, channel.open_level)),
    )
    columns = _columns(job, channel, nodes)
    words = f"the state changes at {channel.threshold:g} {unit} ±{channel.dead_band / 2:g}"
    return WireContent(tuple(blocks), columns, rows, at, *_landing_words(job, channel, place), words)


def content_or_refusal(job: Job, channel: WiredChannel) -> WireContent | str:
    """The content, or why there is none."""
    try:
        return wire_content(job, channel)
    except YardstickError as error:
        return str(error)
