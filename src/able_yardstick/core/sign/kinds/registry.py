"""Every kind of channel that can be signed, by the name it has in the job."""

from .of_contact import OF_CONTACT
from .of_curve import OF_CURVE
from .of_output import OF_OUTPUT
from .signed_kind import RecordData, SignedKind

SIGNED_KINDS: dict[str, SignedKind] = {one.kind: one for one in (OF_CURVE, OF_CONTACT, OF_OUTPUT)}


def kind_of_record(record: RecordData) -> SignedKind:
    """The kind of channel that a record is of. Raises: KeyError for one that this program does not know."""
    return SIGNED_KINDS[record["channel"]["kind"]]
