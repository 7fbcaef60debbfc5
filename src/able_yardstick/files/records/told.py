"""What a record proves, in one sentence."""

from pathlib import Path

from .keys import key_folder, trusted_keys
from .printed import read_held
from .signed import verified


def told(path: Path) -> tuple[bool, str]:
    """Whether a record, or a PDF of one, is whole, and what it proves or what was changed. Raises: BadTable."""
    held = read_held(path)
    found = verified(held.record, trusted_keys(key_folder()))
    changes = (*found.changes, *held.page_changes)
    if changes or not found.is_whole:
        more = f", and {len(changes) - 1} more" if len(changes) > 1 else ""
        return False, f"{path.name} is not as it was signed: {changes[0] if changes else 'nobody signed it'}{more}."
    record = found.record
    by = ", ".join(
        f"{one.signer.name} ({f'trusted as {one.trusted_as}' if one.trusted_as else 'a key not trusted here'})"
        for one in found.signatures
    )
    missing = f" It still asks for the {' and the '.join(found.missing_roles)}." if found.missing_roles else ""
    tag, number = record["channel"]["tag"], record["number"]
    return True, f"Record {number} of {tag} is whole: nothing was changed since it was signed by {by}.{missing}"
