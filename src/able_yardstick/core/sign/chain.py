"""Where a unit's chain of records ends."""

from typing import NamedTuple


class LastRecord(NamedTuple):
    """A unit's last record: its hash and its number; empty and 0 where there is none."""

    sha256: str = ""
    number: int = 0
