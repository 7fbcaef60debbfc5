"""All that the numbers for a controller are made from, as one frozen record."""

from ..curves import AnyCurve
from ..document.channel import ContinuousChannel
from ..document.nominal import curve_in_unit
from ..document.saturation import saturation_words
from ..document.sound_band import range_band, sound_band
from ..forms.spec import FormName, PackSpec
from ..job.in_force import believed, curve_in_use
from ..job.job import Job
from ..job.nodes import pin_of_node, range_pins
from ..path.converter import Converter
from ..words.errors import NotApplicable, OutOfRange, UnitMismatch
from ..words.record import Frozen, Reckoned
from .around import Named, OutputEnds

_TELLS_FAULTS: tuple[FormName, ...] = ("st", "c")
_BY_SIGNALS: tuple[FormName, ...] = ("ends", "integers")
_NAMED: tuple[FormName, ...] = ("formula", "st", "c")


class PackInputs(Frozen):
    """The curve by true signals, in `unit`, and how the controller reckons.

    Its counts stand for signals `reference_factor` times those it takes them for. `shared` are the curves of other
    channels that use the same table, by the signals it takes; `named` is what stands in formulas and code. `sound` are
    the true signals beyond which something is broken, for a form that says so. `ends` are where a straight line is
    given at the transducer, with true signals at the pin.
    """

    curve: AnyCurve
    reference_factor: Reckoned = 1.0
    unit: str
    converter: Converter
    spec: PackSpec
    range: tuple[Reckoned, Reckoned]
    shared: tuple[AnyCurve, ...] = ()
    named: Named = Named()
    sound: tuple[Reckoned, Reckoned] | None = None
    ends: OutputEnds | None = None


def pack_inputs(job: Job, channel: ContinuousChannel, spec: PackSpec) -> PackInputs:
    """What a channel's numbers in a form are made from now. Raises: NotApplicable without a curve."""
    use = curve_in_use(job, channel)
    if use is None:
        raise NotApplicable("There is no curve to pack yet. Describe the transducer, or gather readings and fit one.")
    return PackInputs(
        curve=use.curve,
        reference_factor=channel.path.converter.reference_factor,
        unit=channel.unit,
        converter=channel.path.converter.reckoning,
        spec=spec.with_(shared_with=()),  # whose curves are `shared`
        range=channel.range,
        shared=tuple(shared_curve(job, channel, other) for other in spec.shared_with),
        named=_named(channel) if spec.form in _NAMED else Named(),
        sound=_sound(channel, spec) if spec.form in _TELLS_FAULTS else None,
        ends=_output_ends(channel, spec) if spec.form in _BY_SIGNALS and spec.ends_at == "output" else None,
    )


def _sound(channel: ContinuousChannel, spec: PackSpec) -> tuple[float, float] | None:
    """The true signals between which a function reports no fault, as the person wants it tested."""
    if spec.fault_test == "none":
        return channel.path.converter.start, channel.path.converter.end
    return sound_band(channel) if spec.fault_test == "limits" else range_band(channel, spec.fault_margin)


def _output_ends(channel: ContinuousChannel, spec: PackSpec) -> OutputEnds:
    """The ends asked for, else what the transducer puts out at both ends of the range.

    Raises: NotApplicable where no range is described, OutOfRange where both come to the same at the pin.
    """
    pins = range_pins(channel)
    if pins is None and None in (spec.signal_low, spec.signal_high):
        raise NotApplicable(
            "What the transducer puts out at the ends of its range is not described yet. Type both signal ends, or "
            "describe the transducer."
        )
    natural = [float(channel.path.output(pin, channel.around)) for pin in pins or ()]
    asked = (spec.signal_low, spec.signal_high)
    low, high = (natural[n] if one is None else one for n, one in enumerate(asked))
    at_pin = pin_of_node(channel, "output", low), pin_of_node(channel, "output", high)
    if at_pin[0] == at_pin[1]:
        raise OutOfRange(
            f"{low:g} and {high:g} {channel.path.node_units[0]} come to the same signal at the pin. Move them apart.",
            found=low,
        )
    return OutputEnds(channel.path.node_units[0], (low, high), at_pin)


def shared_curve(job: Job, channel: ContinuousChannel, other_id: str) -> AnyCurve:
    """The curve of another channel that uses the same table, in the unit of the first.

    Raises: NotApplicable for a channel whose counts or unit mean something else.
    """
    other = job.continuous(other_id)
    use = curve_in_use(job, other)
    if use is None:
        raise NotApplicable(f"{other.tag} has no curve yet, so it cannot share a table. Choose its curve first.")
    if other.path.converter.reckoning != channel.path.converter.reckoning:
        raise NotApplicable(
            f"{other.tag} is read by another kind of input than {channel.tag}: the same count means another "
            "signal there. Only channels on equal inputs can share a table."
        )
    try:
        return believed(other, curve_in_unit(use.curve, other.unit, channel))
    except UnitMismatch as error:
        raise NotApplicable(
            f"{other.tag} is worked in {other.unit}, {channel.tag} in {channel.unit}: one table cannot give both. Only "
            "channels of one quantity can share a table."
        ) from error


def _named(channel: ContinuousChannel) -> Named:
    about = f"{channel.tag}: {channel.name}" if channel.name else channel.tag
    lost = saturation_words(channel)
    about = f"{about}. {lost}" if lost else about
    return Named(channel.tag, about, channel.unit, channel.path.pin_unit)
