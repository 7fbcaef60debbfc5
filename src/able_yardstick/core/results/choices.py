"""Edits that choose a result: the curve to work with, the numbers for the controller."""

from datetime import datetime

from ..document.chosen import FitRecord
from ..fit.assumed import standing_of
from ..fit.budget import reach_of
from ..fit.on_offer import candidates_of
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..journal.records import PackRecord
from ..pack.packed import packed_now
from ..regression.fitted import ModelName
from ..words.errors import NotApplicable
from .basis import fit_basis, pack_basis


def use_curve(job: Job, channel_id: str, model: ModelName, made: datetime) -> Job:
    """The job with a candidate chosen as the channel's curve.

    Raises: NotApplicable with the reason if it cannot be used.
    """
    channel = job.continuous(channel_id)
    row = next((row for row in candidates_of(job, channel) if row.model == model), None)
    if row is None or row.fitted is None or not row.usable:
        raise NotApplicable(row.refusal if row else "That curve is not on offer: there is nothing to fit it to.")
    reach = reach_of(job, channel, model)
    record = FitRecord(
        channel=channel_id,
        fitted=row.fitted,
        unit=channel.unit,
        assumed="nothing was fitted" if model == "nominal" else standing_of(job, channel).assumed,
        expanded=None if reach is None else reach.largest,
        basis=fit_basis(job, channel, model),
        made=made,
        job_revision=job.revision,
    )
    return job.edited(fits=(*(old for old in job.document.fits if old.channel != channel_id), record))


def keep_packing(job: Job, channel_id: str, made: datetime) -> Job:
    """The job with the numbers that the channel's settings make now kept as those for its controller.

    A curve only described becomes the chosen one by it. Raises: NotApplicable without a curve, or what packing refuses.
    """
    channel = job.continuous(channel_id)
    use = curve_in_use(job, channel)
    if use is not None and not use.chosen:
        job = use_curve(job, channel_id, "nominal", made)
    packed = packed_now(job, channel)
    record = PackRecord(
        channel=channel_id,
        spec=channel.pack_spec,
        form=packed.form,
        unit=channel.unit,
        cost=packed.cost,
        basis=pack_basis(job, channel),
        made=made,
        job_revision=job.revision,
    )
    return job.entered(packs=[record])
