"""Edits that choose a result: the curve to work with, the numbers for the controller."""

from datetime import datetime

import numpy as np

from ..document.chosen import FitRecord
from ..fit.assumed import assumed_of
from ..fit.budget import reach_in
from ..fit.inputs import fit_inputs
from ..fit.on_offer import candidate_of
from ..forms.any_form import AnyForm
from ..job.channels import change_channel
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..journal.records import PackRecord
from ..pack.inputs import pack_inputs
from ..pack.packed import packed
from ..prove.trimming import spec_with
from ..regression.kinds import ModelName
from ..words.errors import BadTable, NotApplicable
from .basis import fit_basis, pack_basis


def use_curve(job: Job, channel_id: str, model: ModelName, made: datetime) -> Job:
    """The job with a candidate chosen as the channel's curve.

    Raises: NotApplicable with the reason if it cannot be used.
    """
    channel = job.continuous(channel_id)
    inputs = fit_inputs(job, channel).of_model(model)
    row = candidate_of(inputs, model)
    if row is None or row.fitted is None or not row.usable:
        raise NotApplicable(row.refusal if row else "That curve is not on offer: there is nothing to fit it to.")
    reach = reach_in(inputs, row.fitted)
    record = FitRecord(
        channel=channel_id,
        fitted=row.fitted,
        unit=channel.unit,
        assumed="nothing was fitted" if model == "nominal" else assumed_of(inputs),
        expanded=None if reach is None else reach.largest,
        basis=fit_basis(job, channel, model, channel.unit),
        made=made,
        job_revision=job.revision,
    )
    return job.edited(fits=(*(old for old in job.document.fits if old.channel != channel_id), record))


def keep_packing(job: Job, channel_id: str, made: datetime, reason: str = "") -> Job:
    """The job with the numbers that the channel's settings make now kept as those for its controller.

    A curve only described becomes the chosen one by it. Raises: NotApplicable without a curve, or what packing refuses.
    """
    channel = job.continuous(channel_id)
    use = curve_in_use(job, channel)
    if use is not None and not use.chosen:
        job = use_curve(job, channel_id, "nominal", made)
    found = packed(pack_inputs(job, channel, channel.pack_spec))
    record = PackRecord(
        channel=channel_id,
        spec=channel.pack_spec,
        form=found.form,
        unit=channel.unit,
        cost=found.cost,
        basis=pack_basis(job, channel, channel.pack_spec),
        made=made,
        job_revision=job.revision,
        reason=reason,
    )
    return job.entered(packs=[record])


def keep_trim(job: Job, channel_id: str, form: AnyForm, reason: str, made: datetime) -> Job:
    """The job with trimmed numbers kept for a channel's controller, and the reason; never without one.

    Raises: BadTable without a reason, NotApplicable for a form whose numbers cannot be given.
    """
    if not reason.strip():
        raise BadTable("A trim is kept with its reason: say why the controller's numbers are changed.")
    channel = job.continuous(channel_id)
    record = job.pack_of(channel_id)
    spec = spec_with(form, channel.pack_spec if record is None else record.spec)
    changed = change_channel(job, channel.with_(pack_spec=spec))
    kept = keep_packing(changed, channel_id, made, reason.strip())
    made_form = kept.journal.packs[-1].form
    counts, nominal = channel.path.converter.every_count(), channel.path.converter.nominal
    if not np.array_equal(made_form.shown(counts, nominal), form.shown(counts, nominal)):
        raise NotApplicable(f"“{form.title}” cannot be kept with just these numbers: pack it anew at Pack.")
    return kept
