"""Trim without a window: mismatches from a file, taken off in the controller's own form."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NamedTuple

import typer

from .output import AsJson, print_json
from .pack import Form, converter_over, ends_of_curve
from .points import checked, curve_from, signal_unit_of
from .prove import check_columns

if TYPE_CHECKING:
    from ..core.forms.any_form import AnyForm
    from ..core.pack.inputs import PackInputs
    from ..core.prove.trim import Trim
    from ..core.prove.trimming import WiringLimit


class InForce(NamedTuple):
    """The numbers in force, what new ones are made from, and the units of both."""

    form: "AnyForm"
    inputs: "PackInputs"
    signal_unit: str
    unit: str
    limit: "WiringLimit | None" = None


def trim(
    checks: Annotated[Path, typer.Argument(help="Mismatches: CSV with the columns reference and shown; u.")],
    source: Annotated[Path, typer.Argument(help="The curve in force, as for pack; or a job, then with a tag.")],
    tag: Annotated[str | None, typer.Argument(help="Channel of the job, whose kept numbers are trimmed.")] = None,
    form: Annotated[Form | None, typer.Option(help="The controller's numeric form; of a job, the one kept.")] = None,
    decimals: Annotated[int | None, typer.Option(help="Decimals of the numbers; else all.", min=0, max=15)] = None,
    u: Annotated[float | None, typer.Option("--u", help="Expanded uncertainty of every check, k = 2.", min=0)] = None,
    offset_only: Annotated[bool, typer.Option("--offset-only", help="Leave the gain alone.")] = False,
    limit: Annotated[str | None, typer.Option(help="What the wiring may put on the signal, such as 50mV.")] = None,
    bits: Annotated[int, typer.Option(help="Bits of the converter over the curve.", min=1, max=24)] = 12,
    full_count: Annotated[
        int | None, typer.Option(help="Its full count, such as 27648; else 2^bits - 1.", min=1, max=2**24 - 1)
    ] = None,
    as_json: AsJson = False,
) -> None:
    """The best new numbers in the controller's form and digits, and what they leave at each mismatch.

    A gain is changed only where the mismatches tell it from chance; for that their uncertainty, or three of them, is
    needed.
    """
    from ..core.prove.trim import mismatch_of, trimmed
    from ..core.prove.trimming import trim_advice

    reference, shown, expanded, _ = check_columns(checks, u)
    in_force = (
        _of_curve(source, form, decimals, bits, full_count) if tag is None else _of_job(source, tag, form, decimals)
    )
    known = [one / 2 for one in expanded if one]
    standards = known if len(known) == len(reference) else None
    mismatch = mismatch_of(reference, shown, standards, offset_only)
    found = trimmed(in_force.inputs, in_force.form, reference, shown, mismatch)
    advice = list(trim_advice(found, len(reference), _limit(in_force, limit), in_force.signal_unit, offset_only))
    if as_json:
        print_json(_data(found, in_force, advice))
    else:
        _print(found, in_force, reference, shown, advice)


def _of_curve(source: Path, form: Form | None, decimals: int | None, bits: int, full_count: int | None) -> InForce:
    """A curve packed as the controller has it."""
    from ..core.forms.spec import PackSpec
    from ..core.pack.inputs import PackInputs
    from ..core.pack.packed import packed

    curve = curve_from(source)
    converter = converter_over(source, curve, bits, full_count)
    name = "slope" if form is None else form.value
    step = None if decimals is None or name not in ("knots", "ratio") else 10.0**-decimals
    spec = checked(PackSpec, form=name, decimals=decimals, value_step=step)
    inputs = PackInputs(curve=curve, unit="value", converter=converter, spec=spec, range=ends_of_curve(curve))
    return InForce(packed(inputs).form, inputs, signal_unit_of(source) or "V", "value")


def _of_job(source: Path, tag: str, form: Form | None, decimals: int | None) -> InForce:
    """The numbers kept for a channel. Raises: NotApplicable without any, or for another form or unit."""
    from ..core.prove.trimming import numbers_in_force, wiring_limit
    from ..core.words.errors import NotApplicable
    from ..files.jobfile import read_job

    job = read_job(source)
    channel = job.continuous(job.tagged(tag).id)
    kept, inputs = numbers_in_force(job, channel)
    if form is not None and form.value != inputs.spec.form:
        raise NotApplicable(f"{tag} is packed as {inputs.spec.form}: expected that form or none, found {form.value}.")
    if decimals is not None:
        inputs = inputs.with_(spec=inputs.spec.with_(decimals=decimals))
    return InForce(kept, inputs, channel.path.pin_unit, channel.unit, wiring_limit(channel))


def _limit(in_force: InForce, limit: str | None) -> "WiringLimit | None":
    """What the wiring may explain: as stated, else what a shared return may put on a voltage."""
    from ..core.prove.trimming import SHARED_RETURN, WiringLimit
    from .quantities import in_unit

    if limit is not None:
        return WiringLimit(in_unit(limit, "--limit", in_force.signal_unit), "as stated")
    return in_force.limit or (SHARED_RETURN if in_force.signal_unit == "V" else None)


def _data(found: "Trim", in_force: InForce, advice: list[str]) -> dict[str, Any]:
    from ..files.exports import as_plain

    mismatch, certainty = found.mismatch, found.mismatch.certainty
    return {
        **as_plain(found.packed.form, found.packed.cost, in_force.signal_unit, in_force.unit),
        "offset": mismatch.offset, "about": mismatch.about, "gain": mismatch.gain,
        "certainty": None if certainty in (None, float("inf")) else certainty,
        "in_signal": list(found.in_signal), "left": list(found.left), "advice": advice,
    }  # fmt: skip


def _print(found: "Trim", in_force: InForce, reference: list[float], shown: list[float], advice: list[str]) -> None:
    from ..files.exports import as_text

    rows = zip(reference, shown, found.left, found.in_signal, strict=True)
    lines = [
        f"{true:>12g} {one:>12g} {one - true:>+12.4g} {rest:>+12.4g} "
        f"{'' if signal is None else f'{signal:+.4g} {in_force.signal_unit}':>14}"
        for true, one, rest, signal in rows
    ]
    heads = ("reference", "shown", "error", "left")
    remark = "\n".join([" ".join(f"{head:>12}" for head in heads) + f" {'in the signal':>14}", *lines, *advice])
    form = found.packed.form
    print(as_text(form.title, form.cells(in_force.signal_unit, in_force.unit), remark), end="")
