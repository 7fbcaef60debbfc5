"""The Rule without a window: every scale of a channel at one place."""

import re
from pathlib import Path
from typing import Annotated, Any

import typer

from .output import AsJson, print_json


def reckon(
    job: Annotated[Path, typer.Argument(help="Job file.")],
    tag: Annotated[str, typer.Argument(help="Tag of the channel.")],
    pin: Annotated[str | None, typer.Option(help="Signal at the pin, such as 2.5V.")] = None,
    counts: Annotated[str | None, typer.Option(help="Counts.")] = None,
    quantity: Annotated[str | None, typer.Option(help="Quantity, such as 80kPa.")] = None,
    output: Annotated[str | None, typer.Option(help="The transducer's output, such as 12mA.")] = None,
    shown: Annotated[str | None, typer.Option(help="The number the controller shows.")] = None,
    as_json: AsJson = False,
) -> None:
    """Read every scale of a channel at one place, as the Rule's hairline does."""
    from ..core.results.basis import stale_fit, stale_pack
    from ..core.state.scales import scales_of
    from ..core.words.errors import BadTable
    from ..files.jobfile import read_job

    tree = read_job(job)
    channel = tree.continuous(tree.tagged(tag).id)
    given = {"pin": pin, "counts": counts, "quantity": quantity, "output": output, "shown": shown}
    asked = [(key, text) for key, text in given.items() if text is not None]
    if len(asked) != 1:
        raise BadTable(f"Expected one of --pin, --counts, --quantity, --output, --shown, found {len(asked)}.")
    stale = [*stale_fit(tree, channel), *stale_pack(tree, channel)]
    scales = scales_of(tree, channel)
    at = _pin_asked(scales, channel, *asked[0])
    found = {scale.key: _reading(scale, at) for scale in scales}
    if channel.path.is_direct:
        found["output"] = found["pin"]
    if channel.path.pin_unit == "counts":
        found["counts"] = found["pin"]
    if as_json:
        print_json({"tag": channel.tag, "stale": stale, **found})
        return
    if stale:
        print(f"Out of date, as {', '.join(stale)}: fit and pack it again before it is relied on.")
    for scale in scales:
        value = scale.text(at) if scale.reads(at) else f"nothing here: {scale.note}"
        print(f"{scale.title:<18}{value:>12} {scale.unit:<7} {scale.caption}")


def _reading(scale: Any, at: float) -> dict[str, Any]:
    import numpy as np

    value = float(scale.of_pin(np.array([at]))[0])
    return {"value": value if scale.reads(at) or scale.key == "shown" else None, "unit": scale.unit, "note": scale.note}


def _pin_asked(scales: Any, channel: Any, key: Any, text: str) -> float:
    from ..core.state.scales import pin_for
    from ..core.units.electrical import signal_gain
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    match = re.fullmatch(r"\s*([+\-−]?[\d\s.,'’]*\d(?:[eE][+-]?\d+)?\.?)\s*(.*?)\s*", text)
    if not match:
        raise BadTable(f"Expected a number with its unit for --{key}, such as 2.5V, found “{text}”.")
    value, unit = parse_number(match[1]), match[2]
    if unit and key in ("quantity", "shown"):
        value = channel.in_unit(value, unit)[0]
    elif unit:
        value *= signal_gain(unit, {"pin": channel.path.pin_unit, "output": channel.path.source}.get(key, "counts"))
    if key == "output" and channel.path.is_direct:
        key = "pin"
    if key == "counts" and channel.path.pin_unit == "counts":
        key = "pin"
    low, high = next(scale.usable for scale in scales if scale.key == "pin")
    return pin_for(scales, key, value, near=(low + high) / 2)
