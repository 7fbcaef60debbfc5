"""A channel's curve in the form that its settings ask for, with its exact cost."""

from typing import TYPE_CHECKING, NamedTuple

from ..curves import Curve
from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..forms.any_form import AnyForm
from ..forms.cost import PackingCost, WorstError, packing_cost
from ..forms.spec import PackSpec
from ..job.job import Job
from ..words.errors import YardstickError
from ..words.record import digest
from .around import Around
from .inputs import PackInputs, pack_inputs

if TYPE_CHECKING:
    from .search.knots import TableReport

_LAST_DIGITS_PERCENT = 1e-8  # of the span


class Packed(NamedTuple):
    """Numbers for the controller as the channel's settings make them now, with their exact cost.

    `bound` is what no numbers of that form and grid go below, where that is known; `table` what plainer tables cost.
    """

    form: AnyForm
    cost: PackingCost
    bound: float | None = None
    table: "TableReport | None" = None

    @property
    def worst(self) -> WorstError:
        """The worst error where the calibration holds, else anywhere."""
        return self.cost.in_reach or self.cost.overall

    @property
    def is_exact(self) -> bool:
        """Whether the numbers show the calibration at every count, but for the last digits of the reckoning."""
        return self.cost.overall.percent_of_span < _LAST_DIGITS_PERCENT


def packed_now(job: Job, channel: ContinuousChannel) -> Packed:
    """The curve in use in the form the channel's settings ask for.

    Raises: NotApplicable without a curve, or what packing refuses.
    """
    found = _packed_or_refused(job, channel)
    if isinstance(found, YardstickError):
        raise found
    return found


@once_per_slice
def _packed_or_refused(job: Job, channel: ContinuousChannel) -> Packed | YardstickError:
    try:
        return packed_as(job, channel, channel.pack_spec)
    except YardstickError as error:
        return error


def packed_as(job: Job, channel: ContinuousChannel, spec: PackSpec) -> Packed:
    """The curve in use in any form. Raises: NotApplicable without a curve, or what packing refuses."""
    return packed(pack_inputs(job, channel, spec))


_kept: dict[str, Packed | YardstickError] = {}
_MOST_KEPT = 256


def packed(inputs: PackInputs) -> Packed:
    """The numbers, made once for each inputs. Raises: what packing refuses."""
    key = digest(inputs)
    found = _kept.get(key)
    if found is None:
        if len(_kept) >= _MOST_KEPT:
            _kept.clear()
        found = _kept[key] = _made(inputs)
    if isinstance(found, YardstickError):
        raise found.with_traceback(None)
    return found


def is_packed(inputs: PackInputs) -> bool:
    """Whether the numbers are made, or refused, already."""
    return digest(inputs) in _kept


def cost_of(form: AnyForm, inputs: PackInputs) -> PackingCost:
    """What any numbers cost that are to follow the curve of the inputs. Raises: what packing refuses."""
    low, high = inputs.range
    return packing_cost(form, _taken(inputs), inputs.converter, abs(high - low))


def _taken(inputs: PackInputs) -> Curve:
    """The curve by the signals that the controller takes its counts for."""
    return inputs.curve if inputs.reference_factor == 1.0 else inputs.curve.stretched(1 / inputs.reference_factor)


def _made(inputs: PackInputs) -> Packed | YardstickError:
    from .make import pack_in_full  # here, for a start without the searches
    from .search.knots import Shared

    shared = tuple(Shared(curve, curve.domain) for curve in inputs.shared)
    factor = inputs.reference_factor
    sound = None if inputs.sound is None else (inputs.sound[0] / factor, inputs.sound[1] / factor)
    ends = inputs.ends
    if ends is not None:
        ends = ends._replace(pins=(ends.pins[0] / factor, ends.pins[1] / factor))
    around = Around(inputs.range, shared, inputs.named, sound, ends)
    try:
        made = pack_in_full(_taken(inputs), inputs.converter, inputs.spec, around)
        cost = cost_of(made.form, inputs)
    except YardstickError as error:
        return error
    return Packed(made.form, cost, made.bound, made.table)
