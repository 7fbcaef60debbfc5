"""What stands at Fit, in a sentence: the curve in use and what it is worth, or that none is."""

from ....core.document.channel import ContinuousChannel
from ....core.fit.inputs import fit_inputs
from ....core.gather.points import points_of
from ....core.job.job import Job
from ....core.regression.kinds import KINDS
from ....core.results.basis import stale_fit
from ...panel.lead_box import Headline


def lead_of_curve(job: Job, channel: ContinuousChannel, advice: str, worth: str) -> Headline:
    """`advice` says which curve would do, `worth` how far an indication of the one looked at may be off."""
    record = job.fit_of(channel.id)
    if record is None:
        if not points_of(job, channel).rows:
            return Headline("open", "Nothing to fit yet.", advice)
        return Headline("open", "No curve is in use yet.", advice)
    title = KINDS[record.fitted.spec.model].title
    stale = stale_fit(job, channel)
    if stale:
        return Headline("look", f"{title}: out of date.", f"Since it was chosen: {', '.join(stale)}. Choose it anew.")
    if record.fitted.spec.model != "nominal" and fit_inputs(job, channel).assumed_rows:
        return Headline("look", f"{title} is in use, on an assumed reading.", f"{worth}. {advice}")
    return Headline("ok", f"{title} is in use.", f"{worth}. {advice}")
