"""What stands at Pack, in a sentence: what the numbers cost, and whether they are those that proving goes by."""

from ....core.document.channel import ContinuousChannel
from ....core.job.job import Job
from ....core.pack.packed import Packed
from ....core.results.basis import stale_fit, stale_pack
from ....core.words.numerals import significant
from ...panel.lead_box import Headline
from .cost import cost_of


def lead_of_packing(job: Job, channel: ContinuousChannel, packed: Packed) -> Headline:
    """The worst error against the one allowed, and how the numbers stand to those kept."""
    cost = cost_of(job, channel, packed)
    allowed = "" if cost.allowed is None else f", ±{significant(cost.allowed, 3)} allowed"
    says = "Packing costs nothing: exact." if cost.is_exact else f"Worst error {cost.words} {channel.unit}{allowed}."
    record = job.pack_of(channel.id)
    if record is None:
        return Headline("open", says, "Not kept yet: keeping makes these the numbers that proving goes by.")
    stale = stale_pack(job, channel)
    if stale:
        cure = "Choose the curve anew at Fit first" if stale_fit(job, channel) else "Keep these instead"
        return Headline("look", says, f"The numbers kept are out of date: {', '.join(stale)}. {cure}.")
    if record.form != packed.form or record.unit != channel.unit:
        kept = f"{record.form.title.lower()}, kept {record.made:%d %b, %H:%M}"
        return Headline("look", says, f"The controller has other numbers: {kept}.")
    return Headline("ok", says, f"Kept {record.made:%d %b %Y, %H:%M} UTC.")
