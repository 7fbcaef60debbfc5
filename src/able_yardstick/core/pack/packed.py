"""A channel's curve in the form that its settings ask for, with its exact cost."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.nominal import curve_in_unit
from ..document.once import once_per_slice
from ..forms.any_form import AnyForm
from ..forms.cost import PackingCost, packing_cost
from ..forms.spec import PackSpec
from ..job.in_force import believed, curve_in_use
from ..job.job import Job
from ..words.errors import NotApplicable, YardstickError
from ..words.record import digest
from .make import Around, Named, pack_in_full
from .search.knots import Shared, TableReport

Array = NDArray[np.float64]


class Packed(NamedTuple):
    """Numbers for the controller as the channel's settings make them now, with their exact cost.

    `bound` is what no numbers of that form and grid go below, where that is known; `table` what plainer tables cost.
    """

    form: AnyForm
    cost: PackingCost
    bound: float | None = None
    table: TableReport | None = None


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


_kept_packings: dict[str, Packed] = {}
_MOST_KEPT = 256


def packed_as(job: Job, channel: ContinuousChannel, spec: PackSpec) -> Packed:
    """The curve in use in any form.

    Raises: NotApplicable without a curve, or what packing refuses.
    """
    use = curve_in_use(job, channel)
    if use is None:
        raise NotApplicable("There is no curve to pack yet. Describe the transducer, or gather readings and fit one.")
    curve, converter = believed(channel, use.curve), channel.path.converter.nominal
    around = Around(channel.range, shared_curves(job, channel, spec), _named(channel))
    key = digest(curve, converter, spec, [*(around.limits or ()), *around.named], *(one.curve for one in around.shared))
    if key not in _kept_packings:
        if len(_kept_packings) >= _MOST_KEPT:
            _kept_packings.clear()
        made = pack_in_full(curve, converter, spec, around)
        cost = packing_cost(made.form, curve, converter, channel.span)
        _kept_packings[key] = Packed(made.form, cost, made.bound, made.table)
    return _kept_packings[key]


def _named(channel: ContinuousChannel) -> Named:
    about = f"{channel.tag}: {channel.name}" if channel.name else channel.tag
    return Named(channel.tag, about, channel.unit, channel.path.pin_unit)


def shared_curves(job: Job, channel: ContinuousChannel, spec: PackSpec) -> tuple[Shared, ...]:
    """The curves of other channels that use the same table, over the signals of their own reach.

    Raises: NotApplicable for a channel whose counts or unit mean something else.
    """
    found = []
    for other_id in spec.shared_with:
        other = job.continuous(other_id)
        use = curve_in_use(job, other)
        if use is None:
            raise NotApplicable(f"{other.tag} has no curve yet, so it cannot share a table. Choose its curve first.")
        if other.path.converter.nominal != channel.path.converter.nominal:
            raise NotApplicable(
                f"{other.tag} is read by another kind of input than {channel.tag}: the same count means another "
                "signal there. Only channels on equal inputs can share a table."
            )
        curve = believed(other, curve_in_unit(use.curve, other.unit, channel))
        found.append(Shared(curve, curve.domain))
    return tuple(found)
