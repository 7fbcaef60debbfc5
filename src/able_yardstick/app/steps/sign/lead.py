"""What stands at Sign, in a sentence, and what can be done next."""

from ....core.document.channel import SignableChannel
from ....core.job.job import Job
from ....core.journal.records import SignedRecord
from ....core.results.signed_basis import changed_since_signed, signatures_of
from ....core.sign.kinds.signed_kind import OpenPoint
from ....core.words.numerals import counted
from ...panel.lead_box import Headline


def lead_of_signing(job: Job, channel: SignableChannel, points: tuple[OpenPoint, ...]) -> Headline:
    """Whether it is signed, whether that still holds, and what is open."""
    signed, changed = signatures_of(job, channel), changed_since_signed(job, channel)
    if signed and not changed:
        return _stands(signed[-1])
    must = next((point for point in points if point.must), None)
    if must is not None:
        return Headline("fault", "It cannot be signed yet.", f"{must.says}.")
    open_words = (
        f"{counted(len(points), 'point')} open: mend, or say why accepted." if points else "Nothing is missing."
    )
    if signed:
        return Headline(
            "look", f"Record {signed[-1].number} no longer holds.", f"Changed since: {', '.join(changed)}. {open_words}"
        )
    return Headline("look" if points else "open", "Not signed yet.", open_words)


def _stands(last: SignedRecord) -> Headline:
    by = f"Signed by {last.name} on {last.made.date()} as record {last.number}."
    if not last.is_complete:
        return Headline("look", by, "It asks for a second signature.")
    approved = f" Approved by {last.approver}." if last.approver else ""
    return Headline("ok", by, f"Nothing has changed since.{approved} SHA-256 begins {last.sha256[:8]}.")
