"""What a packing could be spared, and what it shows at its ends, in words."""

import numpy as np

from ..document.channel import ContinuousChannel
from ..forms.any_form import AnyForm
from ..forms.function import CodeFunction
from ..forms.implied import LowHighIntegers
from ..forms.integer import largest
from ..forms.single import SinglePolynomial
from ..forms.spec import FormName, PackSpec
from ..job.in_force import believed, curve_in_use
from ..job.job import Job
from ..regression.worst_error import deciding
from ..words.numerals import fixed, significant
from .packed import Packed
from .search.digits import decimals_enough
from .search.knots import TableOrder, fewest_within

_DIGITED: tuple[FormName, ...] = ("slope", "formula")  # forms whose numbers have decimals
SHARE = 0.1  # of the error allowed: what rounding may take without anyone noticing


def fewer_knots(job: Job, channel: ContinuousChannel, packed: Packed) -> str:
    """How many well-placed knots keep within the error allowed, and whether evenly spaced ones do."""
    use = curve_in_use(job, channel)
    if packed.table is None or use is None or not channel.tolerance.is_stated:
        return ""
    allowed = min(channel.allowed_error(value) for value in channel.range)
    order = TableOrder(
        believed(channel, use.curve), channel.path.converter.nominal, channel.pack_spec, use.curve.domain
    )
    fewest = fewest_within(order, allowed)
    said = "" if fewest is None else f"{fewest} well-placed knots would be the fewest within the error allowed."
    if packed.table.even_error > allowed:
        said = f"Evenly spaced knots miss the error allowed. {said}"
    return said.strip()


def enough_digits(job: Job, channel: ContinuousChannel, spec: PackSpec) -> str:
    """How many decimals of slope and offset keep rounding within a share of the error allowed."""
    use = curve_in_use(job, channel)
    if spec.given or spec.form not in _DIGITED or use is None or not channel.tolerance.is_stated:
        return ""
    if spec.form == "formula" and use.curve.kind != "line" and spec.degree > 1:
        return ""
    converter = channel.path.converter.nominal
    curve = believed(channel, use.curve)
    signal = converter.inverse(converter.every_count())
    signal = signal[curve.within(signal)]
    if len(signal) < 2:
        return ""
    allowed = SHARE * min(channel.allowed_error(value) for value in channel.range)
    enough = decimals_enough(deciding(signal, np.asarray(curve.value(signal))), allowed)
    if enough is None:
        return ""
    return (
        f"{enough} decimal{'' if enough == 1 else 's'} would keep rounding below a tenth of the error allowed "
        f"({significant(allowed, 2)} {channel.unit})."
    )


_STEPPED: tuple[FormName, ...] = ("ends", "span", "normal", "knots", "ratio")  # forms whose numbers come in steps


def enough_step(channel: ContinuousChannel, spec: PackSpec) -> str:
    """Which step of the values keeps rounding within a share of the error allowed; empty where the step does already,
    or the form has no steps.
    """
    if spec.given or spec.form not in _STEPPED or not channel.tolerance.is_stated:
        return ""
    allowed = min(channel.allowed_error(value) for value in channel.range)
    enough = step_for(allowed)
    if spec.value_step is not None and spec.value_step <= enough:
        return ""
    return (
        f"Numbers in steps of {significant(enough)} {channel.unit} would keep rounding below a tenth of the error "
        f"allowed ({significant(SHARE * allowed, 2)})."
    )


def step_for(allowed: float) -> float:
    """The largest power of ten that rounds by no more than a share of an allowed error, in its unit."""
    return float(10.0 ** np.floor(np.log10(2 * SHARE * allowed)))


def implied_digit(channel: ContinuousChannel, form: AnyForm) -> str:
    """What the last digit of integers costs, and what one more would; empty for another form."""
    if not isinstance(form, LowHighIntegers):
        return ""
    share, unit = (0.5 if form.rounding == "nearest" else 1.0), channel.unit
    step = 10.0**-form.implied_decimals
    said = f"The last digit is {step:g} {unit}: coming to it costs up to {significant(share * step, 2)}."
    low, high = (10 * number for number in form.integers)
    wider = f"{fixed(low, 0)} to {fixed(high, 0)}"
    if max(abs(low), abs(high)) > largest(form.int_bits):
        return f"{said} One more ({wider}) does not fit {form.int_bits} bits."
    return f"{said} One more, with a range of {wider}, costs {significant(share * step / 10, 2)}."


def single_precision(channel: ContinuousChannel, form: AnyForm) -> str:
    """What single precision costs a polynomial; empty for another form."""
    made_of = form.of if isinstance(form, CodeFunction) else form
    if not isinstance(made_of, SinglePolynomial):
        return ""
    error = made_of.horner_error(channel.path.converter.nominal)
    return (
        f"Single precision, rounding at each step of Horner's rule, costs up to {significant(error, 2)} {channel.unit}."
    )


def faults_shown(channel: ContinuousChannel, form: AnyForm) -> str:
    """The counts that a function reports as a fault, with their signals; empty for another form."""
    if not isinstance(form, CodeFunction):
        return ""
    unit, inverse = channel.path.pin_unit, channel.path.converter.inverse
    words = [
        f"{where} count {count} ({significant(float(inverse(count)), 4)} {unit})"
        for where, count in zip(("below", "above"), form.tests, strict=True)
        if count is not None
    ]
    return f"A fault is reported {' and '.join(words)}." if words else "No count is reported as a fault."


def ends_shown(channel: ContinuousChannel, form: AnyForm) -> str:
    """What the controller shows at both ends of its input: a swapped pair is seen by it at once."""
    converter = channel.path.converter
    counts = np.array([0, converter.full_count])
    low, high = form.shown(counts, converter.nominal).tolist()
    start, end = converter.nominal.inverse(counts).tolist()
    pin, unit = channel.path.pin_unit, channel.unit
    beyond = ""
    range_low, range_high = sorted(channel.range)
    slack = 0.5 * channel.span
    if min(low, high) < range_low - slack or max(low, high) > range_high + slack:
        beyond = " These ends lie far outside the range: they only fix the line."
    way = "falls" if high < low else "rises"
    first, last = (significant(number) for number in (low, high))
    return (
        f"At {significant(start, 3)} {pin} it shows {first}, at {significant(end, 3)} {pin} {last} {unit}: "
        f"the value {way} with the signal.{beyond}"
    )
