"""Describe and Wire without a window: paths, standard curves, dividers, shunts, register constants, wiring lists."""

import json
import math
import re
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .output import AsJson, print_json
from .quantities import in_unit, measured

if TYPE_CHECKING:
    from ..core.document.channel import ContinuousChannel
    from ..core.job.job import Job


def path(
    file: Annotated[Path, typer.Argument(help="A channel as JSON, or a job file followed by a tag.")],
    tag: Annotated[str | None, typer.Argument(help="Tag of the channel, for a job.")] = None,
    at: Annotated[
        str | None, typer.Option(help="A place, such as quantity=80kPa, output=2.5V, pin=1V, counts=2048.")
    ] = None,
    ends: Annotated[bool, typer.Option("--ends", help="The nodes at both ends of the range.")] = False,
    budget: Annotated[bool, typer.Option("--budget", help="The error budget there, or at mid-range.")] = False,
    as_json: AsJson = False,
) -> None:
    """Read every node of a channel's path at one place, at the ends of its range, or its error budget."""
    from ..core.describe.derivation import derivation
    from ..core.job.nodes import as_plain, end_rows, row_at
    from ..core.words.numerals import significant

    job, channel = _channel_in(file, tag)
    pin = _pin_at(channel, at) if at else None
    found: dict[str, Any] = {"tag": channel.tag}
    rows = [row_at(job, channel, "At", pin)] if pin is not None else []
    rows += list(end_rows(job, channel)) if ends else []
    if pin is not None:
        found["nodes"] = as_plain(job, channel, rows[0])
    if ends:
        found["ends"] = [as_plain(job, channel, row) for row in end_rows(job, channel)]
    if budget:
        found["budget"] = _budget(channel, pin)
    if not (at or ends or budget):
        found["derivation"] = derivation(job, channel)
    if as_json:
        print_json(found)
        return
    for row in rows:
        nodes = as_plain(job, channel, row)
        values = (f"{key} {_text(node['value'])} {node['unit']}".rstrip() for key, node in nodes.items())
        print(f"{row.title:<9} " + "  →  ".join(values))
    if budget:
        shown = found["budget"]
        for line in shown["contributions"]:
            print(f"{line['name']:<28} ±{line['half_width']:.4g} {line['unit']:<5} u {line['standard']:.4g}")
        factor = f"95 %, k = {significant(shown['coverage_factor'], 3)}"
        print(f"combined {significant(shown['combined'], 4)} {shown['unit']}, expanded ({factor}) "
              f"±{significant(shown['expanded'], 4)} at {significant(shown['value'], 6)}")  # fmt: skip
    for line in found.get("derivation", ()):
        print(line)


def _text(value: float | None) -> str:
    return "nothing" if value is None else f"{value:.6g}"


def _channel_in(file: Path, tag: str | None) -> "tuple[Job, ContinuousChannel]":
    from pydantic import ValidationError

    from ..core.document.channel import ContinuousChannel
    from ..core.job.job import Job
    from ..core.words.errors import BadTable
    from ..core.words.record import first_complaint
    from ..files.jobfile import read_job
    from ..files.tables import read_text

    if tag is not None:
        job = read_job(file)
        return job, job.continuous(job.tagged(tag).id)
    try:
        tree = json.loads(read_text(file))
    except ValueError as error:
        raise BadTable(f"{file}: this is no whole JSON text.") from error
    if isinstance(tree, dict) and tree.get("format") == "able-yardstick-job":
        raise BadTable(f"{file} is a job: say which channel, by its tag.")
    try:
        channel = ContinuousChannel.model_validate({"id": "channel", "device": "device", "tag": "channel", **tree})
    except (ValidationError, TypeError) as error:
        why = first_complaint(error) if isinstance(error, ValidationError) else "expected an object"
        raise BadTable(f"{file}: expected a channel as a job file holds it. {why}.") from error
    return Job.new("channel", channels=(channel,)), channel


def _pin_at(channel: "ContinuousChannel", text: str) -> float:
    from ..core.job.nodes import pin_of_node
    from ..core.units.electrical import signal_gain
    from ..core.words.errors import BadTable

    key, sign, rest = text.partition("=")
    key = key.strip()
    if not sign:
        raise BadTable(f"Expected a place such as quantity=80kPa or pin=2.5V, found “{text}”.")
    value, written = measured(rest, f"--at {key}")
    if key == "quantity":
        value = channel.in_unit(value, written)[0]
    elif written and key != "counts":
        units = {"pin": channel.path.pin_unit, "output": channel.path.source}
        numbered = channel.path.node_units
        unit = units.get(key) or numbered[int(key.split()[-1])] if key.split()[-1].isdigit() else units.get(key, "V")
        value *= signal_gain(written, unit)
    return pin_of_node(channel, key, value)


def _budget(channel: "ContinuousChannel", pin: float | None) -> dict[str, Any]:
    from ..core.document.nominal import nominal_curve
    from ..core.wire.error_budget import budget_at

    curve = nominal_curve(channel)
    middle = sum(channel.range) / 2
    value = float(curve.value(pin)) if pin is not None and curve is not None else middle
    found = budget_at(channel, value)
    rows = [
        {"name": row.name, "half_width": row.size, "unit": row.unit, "sensitivity": row.sensitivity,
         "standard": row.standard, "distribution": "rectangular"}
        for row in found.rows
    ]  # fmt: skip
    return {"value": value, "unit": channel.unit, "contributions": rows, "combined": found.combined,
            "expanded": found.expanded, "coverage_factor": found.interval.factor, "worst": found.worst,
            "remark": found.remark}  # fmt: skip


def divider(
    top: Annotated[str, typer.Option(help="The highest voltage to divide, such as 60V.")],
    pin: Annotated[str, typer.Option(help="The most that the pin may get, such as 3.3V.")],
    impedance: Annotated[str | None, typer.Option(help="Resistance of the input, such as 100kohm.")] = None,
    series: Annotated[str, typer.Option(help="Preferred values: E12, E24 or E96.")] = "E24",
    as_json: AsJson = False,
) -> None:
    """The preferred pair of resistors that brings a voltage nearest to what the pin may get, without going over."""
    from ..core.standards.resistors import solve_divider

    load = math.inf if impedance is None else in_unit(impedance, "--impedance", "Ω")
    choice = solve_divider(
        in_unit(top, "--top", "V"), in_unit(pin, "--pin", "V"), impedance_ohm=load, series=_series(series)
    )
    found = {"top_ohm": choice.top_ohm, "bottom_ohm": choice.bottom_ohm, "share": choice.share,
             "factor": 1 / choice.share, "pin_v": choice.pin_v, "used": choice.used}  # fmt: skip
    if as_json:
        print_json(found)
    else:
        print(
            f"{choice.top_ohm:g} Ω over {choice.bottom_ohm:g} Ω: V pin = V × {choice.share:.6g}, at most "
            f"{choice.pin_v:.5g} V, {choice.used:.1%} of what the pin may get; V = V pin × {1 / choice.share:.6g}"
        )


def _series(text: str) -> Any:
    from ..core.standards.resistors import SERIES
    from ..core.words.errors import BadTable

    if text.upper() not in SERIES:
        raise BadTable(f"Expected a series of preferred values, {', '.join(SERIES)}; found “{text}”.")
    return text.upper()


def shunt(
    loop: Annotated[str, typer.Option(help="The loop's currents, such as 4-20mA.")],
    pin: Annotated[str, typer.Option(help="The top of the pin, such as 5V.")],
    headroom: Annotated[str, typer.Option(help="Current above the top that is still to be seen.")] = "0%",
    series: Annotated[str, typer.Option(help="Preferred values: E12, E24 or E96.")] = "E96",
    as_json: AsJson = False,
) -> None:
    """The largest preferred shunt with which the loop, and its headroom, stay within the pin."""
    from ..core.standards.resistors import solve_shunt
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    match = re.fullmatch(r"\s*([\d.,]+)\s*(?:-|–|−|to|\.\.)\s*([\d.,]+)\s*m?A\s*", loop)
    if not match:
        raise BadTable(f"Expected a loop such as 4-20mA, found “{loop}”.")
    share = parse_number(headroom.strip().removesuffix("%")) / 100
    choice = solve_shunt(
        parse_number(match[1]), parse_number(match[2]), in_unit(pin, "--pin", "V"), headroom=share,
        series=_series(series),
    )  # fmt: skip
    if as_json:
        print_json({**choice._asdict(), "seen_up_to_ma": parse_number(match[2]) * (1 + choice.headroom)})
    else:
        print(
            f"{choice.resistance_ohm:g} Ω (exactly {choice.exact_ohm:.5g}): {choice.pin_low_v:.4g} to "
            f"{choice.pin_high_v:.4g} V, {choice.headroom:.1%} of headroom, {choice.watts:.3g} W at the top"
        )


def wiring(
    job: Annotated[Path, typer.Argument(help="Job file.")],
    csv: Annotated[Path | None, typer.Option("--csv", help="Write the list as CSV here.")] = None,
    pdf: Annotated[Path | None, typer.Option("--pdf", help="Write the list as a drawn page here.")] = None,
) -> None:
    """The wiring list of a job: every lead with its colour and its terminal in all its names."""
    import os

    from ..files.jobfile import read_job
    from ..files.output import refuse_over
    from ..files.wiring import save_wiring_csv, wiring_text

    tree = read_job(job)
    if csv is not None:
        save_wiring_csv(csv, tree, job)
        print(csv)
    if pdf is not None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        from ..app.main import application
        from ..app.steps.wire.page import save_wiring_pdf

        _kept = application()
        refuse_over(pdf, job)
        save_wiring_pdf(pdf, tree)
        print(pdf)
    if csv is None and pdf is None:
        sys.stdout.write(wiring_text(tree))


def check(
    job: Annotated[Path, typer.Argument(help="Job file.")],
    tag: Annotated[str, typer.Argument(help="Tag of the channel.")],
    as_json: AsJson = False,
) -> None:
    """What the checks say of a channel's wiring, and what each break would read like. Exit status 1 on a fault."""
    from ..core.document.channel import ConstantChannel, TwoStateChannel
    from ..core.document.output import OutputChannel
    from ..core.outputs.findings import output_findings
    from ..core.wire.breaks import Break, breaks_of, contact_breaks
    from ..core.wire.checks import findings_of
    from ..core.words.errors import NotApplicable
    from ..files.jobfile import read_job

    tree = read_job(job)
    channel = tree.tagged(tag)
    if isinstance(channel, ConstantChannel):
        raise NotApplicable(f"{channel.tag} is a constant: it has no wiring to check.")
    breaks: tuple[Break, ...] = ()
    if isinstance(channel, OutputChannel):
        findings = output_findings(tree, channel)
    else:
        findings = findings_of(tree, channel)
        breaks = contact_breaks(channel) if isinstance(channel, TwoStateChannel) else breaks_of(tree, channel)
    if as_json:
        print_json({"checks": [one._asdict() for one in findings], "breaks": [one._asdict() for one in breaks]})
    else:
        for one in findings:
            print(f"{one.level:<6}{one.check:<18}{one.text}")
        for broken in breaks:
            print(f"{'if':<6}{broken.name:<18}{broken.says}: {broken.told}")
    raise typer.Exit(1 if any(one.level == "fault" for one in findings) else 0)
